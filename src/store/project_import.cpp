#include <sqlite3.h>

#include <unordered_map>
#include <vector>

#include "store/project_database.h"

namespace bq {
namespace {

std::string quoted(const std::string& text) { return "\"" + text + "\""; }

/// Kind of the readings already in the project; empty when there are none.
std::optional<UnitKind> kind_in(SQLite::Database& db) {
  SQLite::Statement first(db, "SELECT unit FROM reading LIMIT 1");
  if (!first.executeStep()) return std::nullopt;
  const auto unit = parse_unit(first.getColumn(0).getString());
  return unit ? std::optional(kind_of(*unit)) : std::nullopt;
}

/// A prepared insert driven through SQLite's own calls: this loop runs a million times.
class ReadingInsert {
 public:
  explicit ReadingInsert(SQLite::Database& db) {
    if (sqlite3_prepare_v2(db.getHandle(),
                           "INSERT INTO reading(run_id, cuts, value, unit, station, operator, excluded, "
                           "reason) VALUES(?, ?, ?, ?, ?, ?, ?, ?)",
                           -1, &statement_, nullptr) != SQLITE_OK)
      throw SQLite::Exception(db.getHandle());
    handle_ = db.getHandle();
  }
  ~ReadingInsert() { sqlite3_finalize(statement_); }
  ReadingInsert(const ReadingInsert&) = delete;
  ReadingInsert& operator=(const ReadingInsert&) = delete;

  void add(std::int64_t run_id, const Reading& r, const std::vector<std::int64_t>& labels) {
    const auto label = [&](int index, LabelId id) {
      if (labels[id]) sqlite3_bind_int64(statement_, index, labels[id]);
      else sqlite3_bind_null(statement_, index);
    };
    sqlite3_bind_int64(statement_, 1, run_id);
    sqlite3_bind_int64(statement_, 2, r.cuts);
    sqlite3_bind_double(statement_, 3, r.value);
    const auto sign = sign_of(r.unit);
    sqlite3_bind_text(statement_, 4, sign.data(), int(sign.size()), SQLITE_STATIC);
    label(5, r.station);
    label(6, r.by_operator);
    sqlite3_bind_int(statement_, 7, r.excluded);
    label(8, r.reason);
    const int result = sqlite3_step(statement_);
    sqlite3_reset(statement_);
    if (result != SQLITE_DONE) throw SQLite::Exception(handle_, result);
  }

 private:
  sqlite3_stmt* statement_ = nullptr;
  sqlite3* handle_ = nullptr;
};

}  // namespace

ImportCounts ProjectFile::import(const Trial& trial, bool append) {
  ImportCounts counts;
  SQLite::Database& db = *database_->sqlite;
  database_->write([&] {
    if (const auto kind = kind_in(db); kind && trial.reading_count() && *kind != kind_of(trial.unit()))
      throw StoreError(StoreProblem::refused,
                       std::string("The project holds ") +
                           (*kind == UnitKind::force ? "forces, the table lengths" : "lengths, the table forces") +
                           ". Nothing was imported.");
    for (const auto& blade : trial.blades) {
      SQLite::Statement find(db, "SELECT steel FROM blade WHERE name = ?");
      find.bind(1, blade.name);
      if (find.executeStep()) {
        const std::string steel = find.getColumn(0).getString();
        if (!steel.empty() && !blade.steel.empty() && steel != blade.steel)
          throw StoreError(StoreProblem::refused, "The blade " + quoted(blade.name) + " is " + steel +
                                                      " in the project and " + blade.steel +
                                                      " in the table. Nothing was imported.");
        continue;
      }
      SQLite::Statement add(db, "INSERT INTO blade(name, steel, note, retired) VALUES(?, ?, ?, ?)");
      add.bind(1, blade.name);
      add.bind(2, blade.steel);
      add.bind(3, blade.note);
      add.bind(4, int(blade.retired));
      add.exec();
    }
    std::vector<std::int64_t> labels{0};
    for (LabelId id = 1; id < trial.labels.size(); ++id)
      labels.push_back(database_->label_id(trial.labels.text(id)));
    ReadingInsert insert(db);
    for (const auto& run : trial.runs) {
      SQLite::Statement find(db, "SELECT id FROM run WHERE name = ?");
      find.bind(1, run.facts.name);
      std::int64_t run_id = 0;
      if (find.executeStep()) {
        if (!append)
          throw StoreError(StoreProblem::refused,
                           "The project already has a run " + quoted(run.facts.name) +
                               ". Nothing was imported. If the table holds further readings of it, "
                               "import with --append.");
        run_id = find.getColumn(0).getInt64();
        SQLite::Statement cuts(db, "UPDATE run SET cuts_done = max(cuts_done, ?) WHERE id = ?");
        cuts.bind(1, run.cuts_done);
        cuts.bind(2, run_id);
        cuts.exec();
      } else {
        Run fresh = run;
        fresh.id = 0;
        fresh.readings.clear();
        run_id = insert_run(db, fresh, blade_id_of(db, run.facts.blade));
        ++counts.runs;
      }
      for (const auto& reading : run.readings) insert.add(run_id, reading, labels);
      counts.readings += std::int64_t(run.readings.size());
    }
  });
  return counts;
}

}  // namespace bq
