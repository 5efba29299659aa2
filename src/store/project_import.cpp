#include <sqlite3.h>

#include <algorithm>
#include <array>
#include <unordered_map>
#include <vector>

#include "quantity/said.h"
#include "store/known_runs.h"
#include "store/project_database.h"

namespace bq::inline store {
namespace {

std::string quoted(const std::string& text) { return "\"" + text + "\""; }

[[noreturn]] void refuse_repeats(const Run& run, const std::vector<bool>& repeated,
                                 const Reading& first) {
  throw StoreError(
      StoreProblem::refused,
      std::to_string(std::count(repeated.begin(), repeated.end(), true)) + " of the table's " +
          std::to_string(run.readings.size()) + " readings of run " + quoted(run.facts.name) +
          " are in the project already (the first: " + print_measure(first.value, first.unit, 6) +
          " at " + std::to_string(first.cuts) +
          " cuts). Nothing was imported. Leave them out with --repeats skip, or take them as "
          "further "
          "readings with --repeats keep.");
}

/// Kind of the readings already in the project; empty when there are none.
std::optional<UnitKind> kind_in(SQLite::Database& db) {
  SQLite::Statement first(db, "SELECT unit FROM reading LIMIT 1");
  if (!first.executeStep()) return std::nullopt;
  const auto unit = parse_unit(first.getColumn(0).getString());
  return unit ? std::optional(kind_of(*unit)) : std::nullopt;
}

std::unordered_map<std::string, std::int64_t> ids_by_name(SQLite::Database& db, const char* query) {
  std::unordered_map<std::string, std::int64_t> out;
  SQLite::Statement rows(db, query);
  while (rows.executeStep())
    out.emplace(rows.getColumn(0).getString(), rows.getColumn(1).getInt64());
  return out;
}

/// Inserts many rows with one statement, through SQLite's own calls: this loop sees a million rows.
class ReadingInsert {
 public:
  ReadingInsert(SQLite::Database& db, const std::vector<std::int64_t>& labels)
      : handle_(db.getHandle()), labels_(labels), whole_(prepare(kRows)) {}
  ~ReadingInsert() { sqlite3_finalize(whole_); }
  ReadingInsert(const ReadingInsert&) = delete;
  ReadingInsert& operator=(const ReadingInsert&) = delete;

  void add(std::int64_t run_id, const Reading& reading) {
    waiting_[count_++] = {run_id, &reading};
    if (count_ == kRows) run(whole_);
  }
  /// Writes what is waiting; the readings passed to add() must live until then.
  void finish() {
    if (count_ == 0) return;
    sqlite3_stmt* rest = prepare(count_);
    const std::unique_ptr<sqlite3_stmt, decltype(&sqlite3_finalize)> owner(rest, &sqlite3_finalize);
    run(rest);
  }

 private:
  static constexpr int kRows = 60, kCells = 8;

  sqlite3_stmt* prepare(int rows) const {
    std::string text =
        "INSERT INTO reading(run_id, cuts, value, unit, station, operator, excluded, reason) "
        "VALUES";
    for (int i = 0; i < rows; ++i) text += i ? ",(?,?,?,?,?,?,?,?)" : "(?,?,?,?,?,?,?,?)";
    sqlite3_stmt* statement = nullptr;
    if (sqlite3_prepare_v2(handle_, text.c_str(), -1, &statement, nullptr) != SQLITE_OK)
      throw SQLite::Exception(handle_);
    return statement;
  }

  void run(sqlite3_stmt* statement) {
    for (int row = 0; row < count_; ++row) {
      const auto& [run_id, reading] = waiting_[std::size_t(row)];
      const int first = row * kCells;
      const auto label = [&](int index, LabelId id) {
        if (labels_[id])
          sqlite3_bind_int64(statement, first + index, labels_[id]);
        else
          sqlite3_bind_null(statement, first + index);
      };
      sqlite3_bind_int64(statement, first + 1, run_id);
      sqlite3_bind_int64(statement, first + 2, reading->cuts);
      sqlite3_bind_double(statement, first + 3, reading->value);
      const auto sign = sign_of(reading->unit);
      sqlite3_bind_text(statement, first + 4, sign.data(), int(sign.size()), SQLITE_STATIC);
      label(5, reading->station);
      label(6, reading->by_operator);
      sqlite3_bind_int(statement, first + 7, reading->excluded);
      label(8, reading->reason);
    }
    const int result = sqlite3_step(statement);
    sqlite3_reset(statement);
    if (result != SQLITE_DONE) throw SQLite::Exception(handle_, result);
    count_ = 0;
  }

  sqlite3* handle_;
  const std::vector<std::int64_t>& labels_;
  std::array<std::pair<std::int64_t, const Reading*>, kRows> waiting_{};
  int count_ = 0;
  sqlite3_stmt* whole_;
};

/// Row by row foreign-key look-ups are the larger part of a bulk insert. Every id written here was
/// just made or found in the same transaction, so they are off meanwhile and on again after.
class WithoutForeignKeys {
 public:
  explicit WithoutForeignKeys(SQLite::Database& db) : db_(db) {
    db_.exec("PRAGMA foreign_keys = OFF");
  }
  ~WithoutForeignKeys() {
    sqlite3_exec(db_.getHandle(), "PRAGMA foreign_keys = ON", nullptr, nullptr, nullptr);
  }
  WithoutForeignKeys(const WithoutForeignKeys&) = delete;
  WithoutForeignKeys& operator=(const WithoutForeignKeys&) = delete;

 private:
  SQLite::Database& db_;
};

}  // namespace

ImportCounts ProjectFile::import(const Trial& trial, KnownRuns known_runs) {
  const auto lock = database_->use();
  ImportCounts counts;
  SQLite::Database& db = *database_->sqlite;
  Trial before;  // for runs that both have
  if (known_runs != KnownRuns::refuse) before = load();
  std::unordered_map<std::string_view, const Run*> known_by_name;
  for (const auto& run : before.runs) known_by_name.emplace(run.facts.name, &run);
  const WithoutForeignKeys meanwhile(db);
  database_->write([&] {
    if (const auto kind = kind_in(db);
        kind && trial.reading_count() && *kind != kind_of(trial.unit()))
      throw StoreError(StoreProblem::refused,
                       said("The project holds {forces_the_table}. Nothing was imported.",
                            {{"forces_the_table", *kind == UnitKind::force
                                                      ? said("forces, the table lengths")
                                                      : said("lengths, the table forces")}}));
    for (const auto& blade : trial.blades) {
      SQLite::Statement find(db, "SELECT steel FROM blade WHERE name = ?");
      find.bind(1, blade.name);
      if (find.executeStep()) {
        const std::string steel = find.getColumn(0).getString();
        if (!steel.empty() && !blade.steel.empty() && steel != blade.steel)
          throw StoreError(
              StoreProblem::refused,
              said("The steel of the blade {name} is {steel} in the project and {steel_2} in the "
                   "table. Nothing was imported.",
                   {{"name", quoted(blade.name)}, {"steel", steel}, {"steel_2", blade.steel}}));
        if (steel.empty() && !blade.steel.empty()) {
          SQLite::Statement learn(db, "UPDATE blade SET steel = ? WHERE name = ?");
          learn.bind(1, blade.steel);
          learn.bind(2, blade.name);
          learn.exec();
        }
        continue;
      }
      SQLite::Statement add(db, "INSERT INTO blade(name, steel, note, retired) VALUES(?, ?, ?, ?)");
      add.bind(1, blade.name);
      add.bind(2, blade.steel);
      add.bind(3, blade.note);
      add.bind(4, int(blade.retired));
      add.exec();
      const std::int64_t blade_id = db.getLastInsertRowid();
      for (EdgeRecord record : blade.records) insert_edge_record(db, blade_id, record);
    }
    for (const auto& card : trial.steels) put_steel_card(db, card);
    for (const auto& card : trial.media) put_medium_card(db, card);
    for (const auto& abrasive : trial.shelf) put_abrasive(db, abrasive);
    for (Comparison comparison : trial.comparisons) {
      comparison.id = 0;
      insert_comparison(db, comparison);
    }
    std::vector<std::int64_t> labels{0};
    for (LabelId id = 1; id < trial.labels.size(); ++id)
      labels.push_back(database_->label_id(trial.labels.text(id)));
    ReadingInsert insert(db, labels);
    const auto run_ids = ids_by_name(db, "SELECT name, id FROM run");
    const auto blade_ids = ids_by_name(db, "SELECT name, id FROM blade");
    for (const auto& run : trial.runs) {
      const auto known = run_ids.find(run.facts.name);
      std::int64_t run_id = 0;
      std::vector<bool> left_out(run.readings.size());
      if (known != run_ids.end()) {
        if (known_runs == KnownRuns::refuse)
          throw StoreError(StoreProblem::refused,
                           "The project already has a run " + quoted(run.facts.name) +
                               ". Nothing was imported. If the table holds further readings of it, "
                               "import with --append.");
        run_id = known->second;
        const Run& there = *known_by_name.at(run.facts.name);
        change_run(db, run_id, agreed_facts(there, run), there.plan);
        SQLite::Statement cuts(db, "UPDATE run SET cuts_done = max(cuts_done, ?) WHERE id = ?");
        cuts.bind(1, run.cuts_done);
        cuts.bind(2, run_id);
        cuts.exec();
        if (known_runs != KnownRuns::repeats_too)
          left_out = repeats_of(there, before.labels, run, trial.labels);
        const auto first = std::find(left_out.begin(), left_out.end(), true);
        if (first != left_out.end() && known_runs == KnownRuns::further)
          refuse_repeats(run, left_out, run.readings[std::size_t(first - left_out.begin())]);
      } else {
        Run fresh = run;
        fresh.id = 0;
        fresh.readings.clear();
        const auto blade = blade_ids.find(run.facts.blade);
        run_id = insert_run(db, fresh,
                            blade == blade_ids.end() ? std::nullopt : std::optional(blade->second));
        ++counts.runs;
      }
      for (std::size_t i = 0; i < run.readings.size(); ++i) {
        if (!left_out[i]) insert.add(run_id, run.readings[i]);
        ++(left_out[i] ? counts.repeats_left_out : counts.readings);
      }
    }
    insert.finish();
  });
  return counts;
}

ProjectFile::ImportMark ProjectFile::import_mark() const {
  const auto lock = database_->use();
  SQLite::Database& db = *database_->sqlite;
  const auto last = [&](const char* table) {
    return db.execAndGet(std::string("SELECT coalesce(max(id), 0) FROM ") + table).getInt64();
  };
  ImportMark mark{last("run"), last("blade"), last("reading"), {}};
  SQLite::Statement blades(db, "SELECT id, steel FROM blade");
  while (blades.executeStep())
    mark.steels.emplace_back(blades.getColumn(0).getInt64(), blades.getColumn(1).getString());
  return mark;
}

void ProjectFile::take_back_import(const ImportMark& mark) {
  database_->write([&] {
    SQLite::Database& db = *database_->sqlite;
    const auto remove = [&](const char* what, std::int64_t after) {
      SQLite::Statement gone(db, what);
      gone.bind(1, after);
      gone.exec();
    };
    remove("DELETE FROM reading WHERE id > ?", mark.reading);
    remove("DELETE FROM run WHERE id > ?", mark.run);
    remove("DELETE FROM blade WHERE id > ?", mark.blade);
    SQLite::Statement steel(db, "UPDATE blade SET steel = ? WHERE id = ? AND steel <> ?");
    for (const auto& [id, name] : mark.steels) {
      steel.bind(1, name);
      steel.bind(2, id);
      steel.bind(3, name);
      steel.exec();
      steel.reset();
    }
  });
}

}  // namespace bq::inline store
