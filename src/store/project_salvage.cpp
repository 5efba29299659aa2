#include "store/project_salvage.h"

#include <sqlite3.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <fstream>
#include <optional>

#include "quantity/said.h"
#include "store/leaf_search.h"
#include "store/project_database.h"
#include "store/project_schema.h"
#include "store/salvage_rows.h"

namespace bq::inline store {
namespace fs = std::filesystem;
namespace {

/// How far beyond a damaged place the next row is looked for, in row numbers.
constexpr std::int64_t kFurthestLeap = std::int64_t(1) << 40;

/// One table of the damaged file into the same one of the new.
class TableSalvage {
 public:
  /// `made`: the new project, for what its disk says.
  TableSalvage(SQLite::Database& from, SQLite::Database& to, const fs::path& made,
               const SchemaEntry& table, std::vector<SalvageLoss>& lost)
      : made_(made), from_(from), to_(to), table_(table), lost_(lost), add_(to, insertion()) {}

  /// Returns whether something of it could not be reached.
  bool run() {
    const std::size_t before = lost_.size();
    try {
      if (is_numbered(table_))
        by_number();
      else
        from_both_ends();
    } catch (const SQLite::Exception& error) {
      lose(said("{name}, what is left of it", {{"name", table_.name}}), error.what());
    }
    if (refused_ > 0)
      lose(std::to_string(refused_) + (refused_ == 1 ? said(" row of ") : said(" rows of ")) +
               table_.name,
           said("not what a project holds: {refusal}", {{"refusal", refusal_}}));
    return !why_.empty() || lost_.size() > before + (refused_ > 0);
  }

  /// Rows in pages that nothing leads to any more; how many there were besides those that were
  /// read.
  std::int64_t search(LeafSearch& pages, const RowShape& shape) {
    SQLite::Statement add(to_, insertion("INSERT OR IGNORE"));
    std::int64_t found = 0;
    pages.rows(shape.columns, shape.numbered,
               [&](std::int64_t number, const std::vector<LeafValue>& cells) {
                 add.reset();
                 for (std::size_t i = 0; i < cells.size(); ++i)
                   if (shape.columns[i].kind == LeafColumn::Kind::number_of_row)
                     add.bind(int(i) + 1, number);
                   else
                     bind_leaf(add, int(i) + 1, cells[i]);
                 try {
                   found += add.exec();
                 } catch (const SQLite::Exception& error) {
                   throw_store_error(error, made_);
                 }
               });
    return found;
  }

 private:
  [[nodiscard]] std::string names() const {
    std::string out;
    for (const auto& column : table_.columns)
      out += (out.empty() ? "" : ", ") + quoted_name(column);
    return out;
  }
  /// The rows, each with its number first.
  [[nodiscard]] SQLite::Statement rows_beyond(std::int64_t number, const char* more = "") const {
    SQLite::Statement rows(from_, "SELECT rowid, " + names() + " FROM " + quoted_name(table_.name) +
                                      " WHERE rowid > ? ORDER BY rowid" + more);
    rows.bind(1, number);
    return rows;
  }
  [[nodiscard]] std::string insertion(const std::string& insert = "INSERT") const {
    std::string marks = "?";
    for (std::size_t i = 1; i < table_.columns.size(); ++i) marks += ", ?";
    return insert + " INTO " + quoted_name(table_.name) + "(" + names() + ") VALUES(" + marks + ")";
  }

  /// A row that the new project takes; a doubled or impossible one is counted.
  void keep(SQLite::Statement& row, int first) {
    add_.reset();
    add_.clearBindings();
    for (int i = 0; i < int(table_.columns.size()); ++i)
      bind_column(add_, i + 1, row.getColumn(first + i));
    try {
      add_.exec();
    } catch (const SQLite::Exception& error) {
      // Only what a project cannot hold is a loss; a disk that is full is the end of the attempt.
      if (error.getErrorCode() != SQLITE_CONSTRAINT && error.getErrorCode() != SQLITE_MISMATCH)
        throw_store_error(error, made_);
      ++refused_;
      refusal_ = error.what();
    }
  }

  void lose(const std::string& what, const std::string& why) { lost_.push_back({what, why}); }

  /// Rows above `after` in order, until something cannot be read. Returns whether it came to the
  /// end; `after` is the last row that was read.
  bool read_on(std::int64_t& after) {
    try {
      SQLite::Statement rows = rows_beyond(after);
      while (rows.executeStep()) {
        keep(rows, 1);
        after = rows.getColumn(0).getInt64();
      }
      return true;
    } catch (const SQLite::Exception& error) {
      why_ = error.what();
      return false;
    }
  }

  /// The first row above `after`, if a look there meets nothing damaged.
  enum class Look { row, end, damaged };
  Look look_beyond(std::int64_t after, std::int64_t& found) {
    try {
      SQLite::Statement row = rows_beyond(after, " LIMIT 1");
      if (!row.executeStep()) return Look::end;
      found = row.getColumn(0).getInt64();
      return Look::row;
    } catch (const SQLite::Exception&) {
      return Look::damaged;
    }
  }

  /// Run of a reading, as far as it can be read.
  [[nodiscard]] static std::string run_of(SQLite::Database& db, std::int64_t reading) {
    try {
      SQLite::Statement run(
          db, "SELECT name FROM run WHERE id = (SELECT run_id FROM reading WHERE id = ?)");
      run.bind(1, reading);
      return run.executeStep() ? run.getColumn(0).getString() : std::string();
    } catch (const SQLite::Exception&) {
      return {};
    }
  }
  /// " of run C01": whose the readings between two that were read can have been.
  [[nodiscard]] std::string whose(std::int64_t before, std::int64_t behind) const {
    if (table_.name != "reading") return {};
    const std::string first = run_of(to_, before), last = run_of(from_, behind);
    if (first.empty() || last.empty() || first == last)
      return first.empty() && last.empty()
                 ? ""
                 : said(" of run {last}", {{"last", first.empty() ? last : first}});
    return said(" of runs {first} to {last}", {{"first", first}, {"last", last}});
  }

  void by_number() {
    std::int64_t at = -1;
    while (!read_on(at)) {
      // The nearest number from which reading goes on: leaps that grow, then halves.
      const std::int64_t last = at;
      std::int64_t bad = last, leap = 1, found = 0;
      Look look = Look::damaged;
      for (; leap <= kFurthestLeap; leap *= 2) {
        look = look_beyond(last + leap, found);
        if (look != Look::damaged) break;
        bad = last + leap;
      }
      if (look == Look::damaged)
        return lose(said("{name}, all beyond number {last}",
                         {{"name", table_.name},
                          {"last", std::to_string(std::max<std::int64_t>(last, 0))}}),
                    why_);
      std::int64_t good = last + leap;
      while (good - bad > 1) {
        const std::int64_t middle = bad + (good - bad) / 2;
        std::int64_t here = 0;
        const Look between = look_beyond(middle, here);
        if (between == Look::damaged) {
          bad = middle;
        } else {
          good = middle;
          look = between;
          found = here;
        }
      }
      const std::string from = std::to_string(last + 1);
      if (look == Look::end)
        return lose(said("{name}, from number {from} on, if there were more",
                         {{"name", table_.name}, {"from", from}}),
                    why_);
      lose(said("{name}, numbers {from} to {found} as far as there were such{whose}",
                {{"name", table_.name},
                 {"from", from},
                 {"found", std::to_string(found - 1)},
                 {"whose", whose(last, found)}}),
           why_);
      at = found - 1;
    }
  }

  void from_both_ends() {
    for (const char* way : {"", " DESC"}) {
      try {
        std::string order;
        SQLite::Statement key(from_,
                              "SELECT name FROM pragma_table_info(?) WHERE pk > 0 ORDER BY pk");
        key.bind(1, table_.name);
        while (key.executeStep())
          order += (order.empty() ? "" : ", ") + quoted_name(key.getColumn(0).getString()) + way;
        SQLite::Statement rows(from_, "SELECT " + names() + " FROM " + quoted_name(table_.name) +
                                          " ORDER BY " + order);
        while (rows.executeStep()) {
          const int before = refused_;
          keep(rows, 0);
          if (*way) refused_ = before;  // met from the other end already
        }
        return;
      } catch (const SQLite::Exception& error) {
        why_ = error.what();
      }
    }
    lose(said("{name}, what lay in the middle of it", {{"name", table_.name}}), why_);
  }

  const fs::path& made_;
  SQLite::Database &from_, &to_;
  const SchemaEntry& table_;
  std::vector<SalvageLoss>& lost_;
  SQLite::Statement add_;
  std::string why_, refusal_;
  int refused_ = 0;
};

/// Rows that point at lost ones: readings get their run back under a name of its own, a pointer
/// that may be empty is emptied, what hangs on nothing goes.
void mend_pointers(SQLite::Database& db, std::vector<SalvageLoss>& lost) {
  db.exec(
      "INSERT OR IGNORE INTO run(id, name, cuts_done) SELECT run_id, 'salvaged run ' || run_id, "
      "max(cuts) FROM reading WHERE run_id NOT IN (SELECT id FROM run) GROUP BY run_id");
  if (const int made = db.getChanges(); made > 0)
    lost.push_back(
        {said("the facts of {made}{run}",
              {{"made", std::to_string(made)}, {"run", made == 1 ? said(" run") : said(" runs")}}),
         "their readings are under “salvaged run …”"});
  struct Pointer {
    std::string table, column, to;
    bool may_be_empty;
  };
  std::vector<Pointer> pointers;
  SQLite::Statement all(
      db,
      "SELECT m.name, f.\"from\", f.\"table\", c.\"notnull\" OR c.pk FROM sqlite_master m JOIN "
      "pragma_foreign_key_list(m.name) f JOIN pragma_table_info(m.name) c ON c.name = f.\"from\" "
      "WHERE m.type = 'table'");
  while (all.executeStep())
    pointers.push_back({all.getColumn(0).getString(), all.getColumn(1).getString(),
                        all.getColumn(2).getString(), all.getColumn(3).getInt() == 0});
  for (const bool empties : {false, true})
    for (const Pointer& p : pointers) {
      if (p.may_be_empty != empties) continue;
      const std::string lose = " WHERE " + quoted_name(p.column) + " IS NOT NULL AND " +
                               quoted_name(p.column) + " NOT IN (SELECT id FROM " +
                               quoted_name(p.to) + ")";
      db.exec(empties ? "UPDATE " + quoted_name(p.table) + " SET " + quoted_name(p.column) +
                            " = NULL" + lose
                      : "DELETE FROM " + quoted_name(p.table) + lose);
      if (const int changed = db.getChanges(); changed > 0)
        lost.push_back({(empties ? said("{column} of ", {{"column", p.column}}) : std::string()) +
                            std::to_string(changed) +
                            (changed == 1 ? said(" row of ") : said(" rows of ")) + p.table,
                        said("the {to} it belongs to is lost", {{"to", p.to}})});
    }
}

int version_of(SQLite::Database& db) {
  return std::clamp(db.execAndGet("PRAGMA user_version").getInt(), 1, ProjectFile::kVersion);
}

/// A cut file gets its length back, with nothing in it: SQLite reads none that is too short.
void lengthen(const fs::path& work) {
  std::array<unsigned char, 32> head{};
  std::ifstream(work, std::ios::binary)
      .read(reinterpret_cast<char*>(head.data()), std::streamsize(head.size()));
  const std::uintmax_t size = head[16] * 256U + head[17], page = size == 1 ? 65536 : size,
                       pages = std::uintmax_t(head[28]) << 24 | head[29] << 16 | head[30] << 8 |
                               head[31];
  // A head that is damaged itself may say anything: no more than a few times what is there.
  const std::uintmax_t is = fs::file_size(work), wanted = page * pages;
  if (wanted > is && wanted < 64 * is) fs::resize_file(work, wanted);
}

/// Opens the working copy; false where nothing in it leads to its tables (its head or its own list
/// of them cannot be read), with why.
bool open_tables(SQLite::Database& from, int& version, std::vector<SalvageLoss>& lost) {
  try {
    harden(from);
    version = version_of(from);
    if (const std::string stranger = stranger_in(from, version); !stranger.empty())
      lost.push_back({stranger, "it is no part of a project"});
  } catch (const SQLite::Exception& error) {
    lost.push_back({"the head of the file, which says where everything lies", error.what()});
    version = ProjectFile::kVersion;
    return false;
  }
  // All of it into the one file whose pages may have to be searched; where that cannot be, what is
  // in the log is still read in place.
  from.tryExec("PRAGMA wal_checkpoint(TRUNCATE)");
  return true;
}

void fill(const fs::path& work, const fs::path& draft, const fs::path& made,
          std::vector<SalvageLoss>& lost) {
  SQLite::Database from(work.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_NOMUTEX);
  int version = 0;
  const bool led = open_tables(from, version, lost);
  SQLite::Database to(draft.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
  to.exec("PRAGMA application_id = " + std::to_string(ProjectFile::kApplicationId));
  to.exec("PRAGMA user_version = " + std::to_string(version));
  to.exec("PRAGMA foreign_keys = OFF");
  SQLite::Transaction transaction(to);
  make_schema(to, version);
  std::vector<const SchemaEntry*> tables;
  std::vector<RowShape> shapes;
  for (const SchemaEntry& entry : schema_of_version(version))
    if (entry.type == "table" && entry.name != "checksum") {
      tables.push_back(&entry);
      shapes.push_back(shape_of(to, entry));
    }
  std::optional<LeafSearch> pages;
  std::int64_t anything = 0;
  for (std::size_t i = 0; i < tables.size(); ++i) {
    TableSalvage table(from, to, made, *tables[i], lost);
    if (led && !table.run()) continue;
    // Two tables whose rows look alike cannot be told apart without what leads to them.
    if (std::count(shapes.begin(), shapes.end(), shapes[i]) > 1) {
      if (!led) lost.push_back({tables[i]->name, "nothing tells its rows from another table's"});
      continue;
    }
    if (!pages) pages.emplace(work);
    const std::int64_t found = table.search(*pages, shapes[i]);
    anything += found;
    if (found > 0 && led)
      lost.back().why +=
          said("; {found}{row_of_it} found again by looking through every page",
               {{"found", std::to_string(found)},
                {"row_of_it", found == 1 ? said(" row of it was") : said(" rows of it were")}});
  }
  if (!led && anything == 0)
    throw StoreError(StoreProblem::not_a_project,
                     said("Neither the head of that file nor any row of a project can be read in "
                          "it. Nothing was made."));
  try {
    mend_pointers(to, lost);
    if (version == ProjectFile::kVersion) Checksums::make_anew(to);
    transaction.commit();
  } catch (const SQLite::Exception& error) {
    throw_store_error(error, made);
  }
}

}  // namespace

Salvage salvage_project(const fs::path& from, const fs::path& made) {
  std::error_code failed;
  if (!fs::is_regular_file(from, failed))
    throw StoreError(StoreProblem::missing,
                     said("There is no file \"{from}\".", {{"from", from.string()}}));
  if (fs::exists(made, failed))
    throw StoreError(StoreProblem::exists, said("\"{made}\" is already there. Nothing was changed.",
                                                {{"made", made.string()}}));
  const fs::path work = made.string() + ".salvage-" + std::to_string(getpid()),
                 draft = work.string() + "-new";
  Salvage out;
  bool whole = false;
  const auto leave = [&](const void*) {
    remove_with_logs(work);
    remove_with_logs(draft);
    if (!whole) remove_with_logs(made);
  };
  const std::unique_ptr<const void, decltype(leave)> left(&out, leave);
  try {
    fs::copy_file(from, work);
    lengthen(work);
    // The log of a killed program holds its last readings; a foreign one is left where it is.
    const fs::path log = from.string() + "-wal";
    if (fs::exists(log) && look_at_log(from, false).belongs)
      fs::copy_file(log, work.string() + "-wal");
    fill(work, draft, made, out.lost);
    fs::rename(draft, made);
    give_new_identity(made);
    ProjectFile project = ProjectFile::open(made, ProjectFile::Access::write);
    if (!project.copy_of_older().empty()) fs::remove(project.copy_of_older(), failed);
    const Trial trial = project.load();
    out.runs = std::int64_t(trial.runs.size());
    for (const auto& run : trial.runs) out.readings += std::int64_t(run.readings.size());
    out.remarks = project.check();
    whole = true;
  } catch (const SQLite::Exception& error) {
    throw StoreError(
        StoreProblem::not_a_project,
        said("Of \"{from}\" not even the head can be read ({error}). Nothing was made.",
             {{"from", from.string()}, {"error", error.what()}}));
  } catch (const fs::filesystem_error& error) {
    throw StoreError(StoreProblem::disk,
                     said("The new project could not be written: {message}. Nothing was made.",
                          {{"message", error.code().message()}}));
  }
  return out;
}

}  // namespace bq::inline store
