#include <ctime>

#include "quantity/number.h"
#include "store/project_database.h"
#include "store/whole_file.h"
#include "trial/run_plan.h"

namespace bq::inline store {
namespace {

void bind_label(SQLite::Statement& statement, int index, std::int64_t label) {
  if (label)
    statement.bind(index, label);
  else
    statement.bind(index);
}

/// A factor's value as stored: numbers in their shortest exact form, always with a point.
std::string stored(const FactorValue& value) {
  if (const auto* number = std::get_if<double>(&value)) return print_number(*number, 17);
  return std::get<std::string>(value);
}

void put_setting(SQLite::Database& db, const std::string& key, const std::string& value) {
  SQLite::Statement change(db, "INSERT OR REPLACE INTO setting VALUES(?, ?)");
  change.bind(1, key);
  change.bind(2, value);
  change.exec();
}

}  // namespace

void remove_row(SQLite::Database& db, const char* statement, std::int64_t id) {
  SQLite::Statement remove(db, statement);
  remove.bind(1, id);
  remove.exec();
}

std::string now_utc() {
  const std::time_t now = std::time(nullptr);
  std::tm parts{};
  gmtime_r(&now, &parts);
  char text[32];
  std::strftime(text, sizeof text, "%Y-%m-%dT%H:%M:%SZ", &parts);
  return text;
}

void bind_facts(SQLite::Statement& statement, const RunFacts& facts, const RunPlan& plan,
                std::optional<std::int64_t> blade_id) {
  statement.bind(1, facts.name);
  if (blade_id)
    statement.bind(2, *blade_id);
  else
    statement.bind(2);
  statement.bind(3, facts.steel);
  const auto* geometry = facts.geometry ? &*facts.geometry : nullptr;
  const auto micro = geometry ? geometry->micro() : std::nullopt;
  bind_optional(statement, 4, geometry ? std::optional(geometry->edge().left_deg) : std::nullopt);
  bind_optional(statement, 5, geometry ? std::optional(geometry->edge().right_deg) : std::nullopt);
  bind_optional(statement, 6, micro ? std::optional(micro->left_deg) : std::nullopt);
  bind_optional(statement, 7, micro ? std::optional(micro->right_deg) : std::nullopt);
  bind_optional(statement, 8, facts.finish ? std::optional(facts.finish->left_um) : std::nullopt);
  bind_optional(statement, 9, facts.finish ? std::optional(facts.finish->right_um) : std::nullopt);
  statement.bind(10, facts.medium);
  if (facts.cut_mode)
    statement.bind(11, std::string(name_of(*facts.cut_mode)));
  else
    statement.bind(11);
  statement.bind(12, facts.block);
  statement.bind(13, print_checkpoints(plan.checkpoints));
  statement.bind(14, plan.readings_each);
}

std::optional<std::int64_t> blade_id_of(SQLite::Database& db, const std::string& name) {
  if (name.empty()) return std::nullopt;
  SQLite::Statement find(db, "SELECT id FROM blade WHERE name = ?");
  find.bind(1, name);
  if (!find.executeStep()) return std::nullopt;
  return find.getColumn(0).getInt64();
}

void write_factors(SQLite::Database& db, std::int64_t run_id, const RunFacts& facts) {
  for (const auto& [name, value] : facts.factors) {
    SQLite::Statement add(db, "INSERT INTO run_factor VALUES(?, ?, ?)");
    add.bind(1, run_id);
    add.bind(2, name);
    add.bind(3, stored(value));
    add.exec();
  }
}

std::int64_t insert_run(SQLite::Database& db, const Run& run,
                        std::optional<std::int64_t> blade_id) {
  std::string marks = "?";
  for (int i = 1; i < kRunColumnCount; ++i) marks += ", ?";
  SQLite::Statement add(db, std::string("INSERT INTO run(") + kRunColumns +
                                ", cuts_done, id) VALUES(" + marks + ", ?, ?)");
  bind_facts(add, run.facts, run.plan, blade_id);
  add.bind(kRunColumnCount + 1, run.cuts_done);
  if (run.id)
    add.bind(kRunColumnCount + 2, run.id);
  else
    add.bind(kRunColumnCount + 2);
  add.exec();
  const std::int64_t id = db.getLastInsertRowid();
  write_factors(db, id, run.facts);
  return id;
}

Blade ProjectFile::add_blade(Blade blade) {
  database_->write([&] {
    SQLite::Statement add(
        *database_->sqlite,
        "INSERT INTO blade(id, name, steel, note, retired) VALUES(?, ?, ?, ?, ?)");
    if (blade.id)
      add.bind(1, blade.id);
    else
      add.bind(1);
    add.bind(2, blade.name);
    add.bind(3, blade.steel);
    add.bind(4, blade.note);
    add.bind(5, int(blade.retired));
    add.exec();
    blade.id = database_->sqlite->getLastInsertRowid();
    for (auto& record : blade.records) insert_edge_record(*database_->sqlite, blade.id, record);
  });
  return blade;
}

void ProjectFile::update_blade(const Blade& blade) {
  database_->write([&] {
    SQLite::Statement change(
        *database_->sqlite,
        "UPDATE blade SET name = ?, steel = ?, note = ?, retired = ? WHERE id = ?");
    change.bind(1, blade.name);
    change.bind(2, blade.steel);
    change.bind(3, blade.note);
    change.bind(4, int(blade.retired));
    change.bind(5, blade.id);
    change.exec();
  });
}

void ProjectFile::set_run_steel(std::int64_t id, const std::string& steel) {
  database_->write([&] {
    SQLite::Statement change(*database_->sqlite, "UPDATE run SET steel = ? WHERE id = ?");
    change.bind(1, steel);
    change.bind(2, id);
    change.exec();
  });
}

void ProjectFile::set_cuts(std::int64_t run_id, std::int64_t cuts_done) {
  database_->write([&] {
    SQLite::Statement change(*database_->sqlite, "UPDATE run SET cuts_done = ? WHERE id = ?");
    change.bind(1, cuts_done);
    change.bind(2, run_id);
    change.exec();
  });
}

void ProjectFile::remove_blade(std::int64_t id) {
  database_->write([&] { remove_row(*database_->sqlite, "DELETE FROM blade WHERE id = ?", id); });
}

std::int64_t ProjectFile::add_run(const Run& run) {
  std::int64_t id = 0;
  database_->write([&] {
    id = insert_run(*database_->sqlite, run, blade_id_of(*database_->sqlite, run.facts.blade));
  });
  return id;
}

void change_run(SQLite::Database& db, std::int64_t id, const RunFacts& facts, const RunPlan& plan) {
  std::string marks = "?";
  for (int i = 1; i < kRunColumnCount; ++i) marks += ", ?";
  SQLite::Statement change(
      db, std::string("UPDATE run SET (") + kRunColumns + ") = (" + marks + ") WHERE id = ?");
  bind_facts(change, facts, plan, blade_id_of(db, facts.blade));
  change.bind(kRunColumnCount + 1, id);
  change.exec();
  SQLite::Statement clear(db, "DELETE FROM run_factor WHERE run_id = ?");
  clear.bind(1, id);
  clear.exec();
  write_factors(db, id, facts);
}

void ProjectFile::update_run(std::int64_t id, const RunFacts& facts, const RunPlan& plan) {
  database_->write([&] { change_run(*database_->sqlite, id, facts, plan); });
}

void ProjectFile::remove_run(std::int64_t id) {
  database_->write([&] { remove_row(*database_->sqlite, "DELETE FROM run WHERE id = ?", id); });
}

std::int64_t ProjectFile::Database::insert_reading(std::int64_t run_id, const Reading& reading,
                                                   const LabelTable& labels) const {
  if (!reading_statements) reading_statements = std::make_unique<ReadingStatements>(*sqlite);
  auto& [add, cuts] = *reading_statements;
  add.tryReset();  // also after one that failed
  cuts.tryReset();
  add.clearBindings();
  if (reading.id) add.bind(1, reading.id);
  add.bind(2, run_id);
  add.bind(3, reading.cuts);
  add.bind(4, reading.value);
  add.bind(5, std::string(sign_of(reading.unit)));
  bind_label(add, 6, label_id(labels.text(reading.station)));
  bind_label(add, 7, label_id(labels.text(reading.by_operator)));
  add.bind(8, int(reading.excluded));
  bind_label(add, 9, label_id(labels.text(reading.reason)));
  add.bind(10, now_utc());
  bind_label(add, 11, label_id(labels.text(reading.gauge)));
  add.exec();
  const std::int64_t id = sqlite->getLastInsertRowid();
  add.reset();
  cuts.bind(1, reading.cuts);
  cuts.bind(2, run_id);
  cuts.exec();
  cuts.reset();
  return id;
}

void ProjectFile::put_reading(std::int64_t run_id, Reading& reading, const LabelTable& labels) {
  database_->write([&] { reading.id = database_->insert_reading(run_id, reading, labels); });
}

void ProjectFile::mark_reading(std::int64_t id, bool excluded, const std::string& reason) {
  database_->write([&] {
    SQLite::Statement change(*database_->sqlite,
                             "UPDATE reading SET excluded = ?, reason = ? WHERE id = ?");
    change.bind(1, int(excluded));
    bind_label(change, 2, database_->label_id(reason));
    change.bind(3, id);
    change.exec();
  });
}

void ProjectFile::remove_reading(std::int64_t id) {
  database_->write([&] { remove_row(*database_->sqlite, "DELETE FROM reading WHERE id = ?", id); });
}

void ProjectFile::set_setting(const std::string& key, const std::string& value) {
  database_->write([&] { put_setting(*database_->sqlite, key, value); });
}

void ProjectFile::copy_to(const std::filesystem::path& target) const {
  const auto lock = database_->use();
  try {
    make_whole_file(target, Existing::refused, [this](const std::filesystem::path& draft) {
      SQLite::Statement copy(*database_->sqlite, "VACUUM INTO ?");
      copy.bind(1, draft.string());
      copy.exec();
      give_new_identity(draft);
    });
  } catch (const SQLite::Exception& error) {
    throw_store_error(error, target);
  }
}

std::map<std::string, std::string> ProjectFile::settings() const {
  const auto lock = database_->use();
  try {
    std::map<std::string, std::string> out;
    SQLite::Statement rows(*database_->sqlite, "SELECT key, value FROM setting");
    while (rows.executeStep()) out[rows.getColumn(0).getString()] = rows.getColumn(1).getString();
    return out;
  } catch (const SQLite::Exception& error) {
    throw_store_error(error, database_->path);
  }
}

std::optional<std::string> ProjectFile::setting(const std::string& key) const {
  const auto lock = database_->use();
  try {
    SQLite::Statement find(*database_->sqlite, "SELECT value FROM setting WHERE key = ?");
    find.bind(1, key);
    if (!find.executeStep()) return std::nullopt;
    return find.getColumn(0).getString();
  } catch (const SQLite::Exception& error) {
    throw_store_error(error, database_->path);
  }
}

}  // namespace bq::inline store
