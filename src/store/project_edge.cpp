// Blades' histories and the cards of steels and media.
#include <unordered_map>

#include "store/edge_record_json.h"
#include "store/project_database.h"
#include "store/readable.h"
#include "trial/edge_record_fields.h"

namespace bq::inline store {
namespace {

std::optional<double> real(const SQLite::Column& column) {
  return column.isNull() ? std::nullopt : std::optional(column.getDouble());
}

}  // namespace

void insert_edge_record(SQLite::Database& db, std::int64_t blade_id, EdgeRecord& record) {
  SQLite::Statement add(
      db, "INSERT INTO edge_record(id, blade_id, made_at, kind, data) VALUES(?, ?, ?, ?, ?)");
  if (record.id)
    add.bind(1, record.id);
  else
    add.bind(1);
  if (record.made_at.empty()) record.made_at = now_utc();
  add.bind(2, blade_id);
  add.bind(3, record.made_at);
  add.bind(4, std::string(kind_of_record(record.data)));
  add.bind(5, edge_record_json(readable(record.data)));
  add.exec();
  record.id = db.getLastInsertRowid();
}

void put_steel_card(SQLite::Database& db, const SteelCard& card) {
  SQLite::Statement put(
      db,
      "INSERT OR REPLACE INTO steel(name, hardness_hrc, hard_phase_percent, behaviour, toughness, "
      "bend_strength_MPa, note) VALUES(?, ?, ?, ?, ?, ?, ?)");
  put.bind(1, card.name);
  bind_optional(put, 2, card.hardness_hrc);
  bind_optional(put, 3, card.hard_phase_percent);
  put.bind(4, card.behaviour);
  put.bind(5, card.toughness);
  bind_optional(put, 6, card.bend_strength_MPa);
  put.bind(7, card.note);
  put.exec();
}

void put_medium_card(SQLite::Database& db, const MediumCard& card) {
  SQLite::Statement put(db, "INSERT OR REPLACE INTO medium(name, form, note) VALUES(?, ?, ?)");
  put.bind(1, card.name);
  put.bind(2, card.form);
  put.bind(3, card.note);
  put.exec();
}

void load_edges(SQLite::Database& db, Trial& trial) {
  if (!db.tableExists("edge_record")) return;  // a version 1 file opened for reading
  std::unordered_map<std::int64_t, Blade*> blades;
  for (auto& blade : trial.blades) blades[blade.id] = &blade;
  SQLite::Statement records(
      db, "SELECT id, blade_id, made_at, kind, data FROM edge_record ORDER BY id");
  while (records.executeStep()) {
    const auto blade = blades.find(records.getColumn(1).getInt64());
    if (blade == blades.end()) continue;
    const std::string kind = records.getColumn(3).getString(),
                      text = records.getColumn(4).getString();
    const auto data = parse_edge_record(kind, text);
    // What this version cannot read stays in the file and is shown as it is.
    blade->second->records.push_back(
        {records.getColumn(0).getInt64(), records.getColumn(2).getString(),
         data ? *data : EdgeRecordData(NoteRecord{kind + ": " + text})});
  }
  SQLite::Statement steels(db,
                           "SELECT name, hardness_hrc, hard_phase_percent, behaviour, toughness, "
                           "bend_strength_MPa, note "
                           "FROM steel ORDER BY name");
  while (steels.executeStep())
    trial.steels.push_back({steels.getColumn(0).getString(), real(steels.getColumn(1)),
                            real(steels.getColumn(2)), steels.getColumn(3).getString(),
                            steels.getColumn(4).getString(), real(steels.getColumn(5)),
                            steels.getColumn(6).getString()});
  SQLite::Statement media(db, "SELECT name, form, note FROM medium ORDER BY name");
  while (media.executeStep())
    trial.media.push_back({media.getColumn(0).getString(), media.getColumn(1).getString(),
                           media.getColumn(2).getString()});
}

std::vector<EdgeRecord> ProjectFile::add_edge_records(std::int64_t blade_id,
                                                      std::vector<EdgeRecord> records) {
  database_->write([&] {
    for (auto& record : records) insert_edge_record(*database_->sqlite, blade_id, record);
  });
  return records;
}

void ProjectFile::remove_edge_records(const std::vector<EdgeRecord>& records) {
  database_->write([&] {
    SQLite::Statement remove(*database_->sqlite, "DELETE FROM edge_record WHERE id = ?");
    for (const auto& record : records) {
      remove.bind(1, record.id);
      remove.exec();
      remove.reset();
    }
  });
}

void ProjectFile::change_edge_record(const EdgeRecord& record) {
  database_->write([&] {
    SQLite::Statement change(*database_->sqlite, "UPDATE edge_record SET data = ? WHERE id = ?");
    change.bind(1, edge_record_json(readable(record.data)));
    change.bind(2, record.id);
    change.exec();
  });
}

void ProjectFile::set_steel_card(const SteelCard& card) {
  database_->write([&] { put_steel_card(*database_->sqlite, card); });
}

void ProjectFile::remove_steel_card(const std::string& name) {
  database_->write([&] {
    SQLite::Statement remove(*database_->sqlite, "DELETE FROM steel WHERE name = ?");
    remove.bind(1, name);
    remove.exec();
  });
}

void ProjectFile::set_medium_card(const MediumCard& card) {
  database_->write([&] { put_medium_card(*database_->sqlite, card); });
}

void ProjectFile::remove_medium_card(const std::string& name) {
  database_->write([&] {
    SQLite::Statement remove(*database_->sqlite, "DELETE FROM medium WHERE name = ?");
    remove.bind(1, name);
    remove.exec();
  });
}

}  // namespace bq::inline store
