// The shelf of abrasives and the comparisons of treatments.
#include "store/project_database.h"
#include "store/readable.h"
#include "store/shelf_json.h"
#include "trial/shelf_fields.h"

namespace bq::inline store {

void put_abrasive(SQLite::Database& db, const Abrasive& abrasive) {
  SQLite::Statement put(db, "INSERT OR REPLACE INTO abrasive(name, data) VALUES(?, ?)");
  put.bind(1, abrasive.name);
  put.bind(2, abrasive_json(readable(abrasive)));
  put.exec();
}

void insert_comparison(SQLite::Database& db, Comparison& comparison) {
  SQLite::Statement put(db, "INSERT OR REPLACE INTO comparison(id, made_at, data) VALUES(?, ?, ?)");
  if (comparison.made_at.empty()) comparison.made_at = now_utc();
  if (comparison.id)
    put.bind(1, comparison.id);
  else
    put.bind(1);
  put.bind(2, comparison.made_at);
  put.bind(3, comparison_json(readable(comparison)));
  put.exec();
  comparison.id = db.getLastInsertRowid();
}

void load_shelf(SQLite::Database& db, Trial& trial) {
  if (!db.tableExists("abrasive")) return;  // an older file opened for reading
  // What cannot be read stays in the file; `check` names it.
  SQLite::Statement shelf(db, "SELECT data FROM abrasive ORDER BY name");
  while (shelf.executeStep())
    if (auto abrasive = parse_abrasive(shelf.getColumn(0).getString()))
      trial.shelf.push_back(*abrasive);
  SQLite::Statement comparisons(db, "SELECT id, made_at, data FROM comparison ORDER BY id");
  while (comparisons.executeStep())
    if (auto read = parse_comparison(comparisons.getColumn(2).getString())) {
      Comparison comparison = *read;
      comparison.id = comparisons.getColumn(0).getInt64();
      comparison.made_at = comparisons.getColumn(1).getString();
      trial.comparisons.push_back(std::move(comparison));
    }
}

void ProjectFile::set_abrasive(const Abrasive& abrasive) {
  database_->write([&] { put_abrasive(*database_->sqlite, abrasive); });
}

void ProjectFile::remove_abrasive(const std::string& name) {
  database_->write([&] {
    SQLite::Statement remove(*database_->sqlite, "DELETE FROM abrasive WHERE name = ?");
    remove.bind(1, name);
    remove.exec();
  });
}

Comparison ProjectFile::set_comparison(Comparison comparison) {
  database_->write([&] { insert_comparison(*database_->sqlite, comparison); });
  return comparison;
}

void ProjectFile::remove_comparison(std::int64_t id) {
  database_->write(
      [&] { remove_row(*database_->sqlite, "DELETE FROM comparison WHERE id = ?", id); });
}

}  // namespace bq::inline store
