#include <sqlite3.h>

#include <map>
#include <unordered_map>

#include "quantity/number.h"
#include "store/project_database.h"
#include "trial/run_plan.h"

namespace bq::inline store {
namespace {

std::optional<double> real(const SQLite::Column& column) {
  return column.isNull() ? std::nullopt : std::optional(column.getDouble());
}

/// Factor values as stored; a factor is continuous when every run's value is a number.
using RawFactors = std::map<std::string, std::vector<std::pair<std::size_t, std::string>>>;

void take_factors(const RawFactors& raw, Trial& trial) {
  for (const auto& [name, values] : raw) {
    bool numbers = true;
    for (const auto& [run, text] : values)
      numbers = numbers && level_number(text, CommaRule::never).has_value();
    for (const auto& [run, text] : values)
      trial.runs[run].facts.factors[name] =
          numbers ? FactorValue(*level_number(text, CommaRule::never)) : FactorValue(text);
  }
}

Run run_of(SQLite::Statement& row) {
  Run run;
  run.id = row.getColumn(0).getInt64();
  run.facts.name = row.getColumn(1).getString();
  run.facts.blade = row.getColumn(2).getString();
  run.facts.steel = row.getColumn(3).getString();
  const auto el = real(row.getColumn(4)), er = real(row.getColumn(5));
  const auto ml = real(row.getColumn(6)), mr = real(row.getColumn(7));
  if (el && er) {
    const auto made = EdgeGeometry::make(
        {*el, *er}, ml && mr ? std::optional(BevelAngles{*ml, *mr}) : std::nullopt);
    if (made) run.facts.geometry = *made;
  }
  const auto fl = real(row.getColumn(8)), fr = real(row.getColumn(9));
  if (fl && fr) run.facts.finish = Finish{*fl, *fr};
  run.facts.medium = row.getColumn(10).getString();
  run.facts.cut_mode = parse_cut_mode(row.getColumn(11).getString());
  run.facts.block = row.getColumn(12).getString();
  if (const auto checkpoints = parse_checkpoints(row.getColumn(13).getString()))
    run.plan.checkpoints = *checkpoints;
  run.plan.readings_each = row.getColumn(14).getInt();
  run.cuts_done = row.getColumn(15).getInt64();
  return run;
}

/// The hot loop of opening: through SQLite's own calls.
void load_readings(SQLite::Database& db, Trial& trial,
                   const std::unordered_map<std::int64_t, std::size_t>& runs,
                   const std::unordered_map<std::int64_t, LabelId>& labels) {
  const bool older = !db.tableExists("bench_event");  // opened for reading only
  sqlite3_stmt* statement = nullptr;
  if (sqlite3_prepare_v2(db.getHandle(),
                         older ? "SELECT id, run_id, cuts, value, unit, station, operator, "
                                 "excluded, reason, NULL FROM reading ORDER BY id"
                               : "SELECT id, run_id, cuts, value, unit, station, operator, "
                                 "excluded, reason, gauge FROM reading ORDER BY id",
                         -1, &statement, nullptr) != SQLITE_OK)
    throw SQLite::Exception(db.getHandle());
  const std::unique_ptr<sqlite3_stmt, decltype(&sqlite3_finalize)> owner(statement,
                                                                         &sqlite3_finalize);
  std::vector<LabelId> dense(4096, 0);  // ids are small numbers but for odd files
  for (const auto& [id, label] : labels)
    if (id > 0 && std::uint64_t(id) < dense.size()) dense[std::size_t(id)] = label;
  const auto label = [&](int column) -> LabelId {
    const auto id = sqlite3_column_int64(statement, column);
    if (id == 0) return 0;
    if (std::uint64_t(id) < dense.size()) return dense[std::size_t(id)];
    const auto found = labels.find(id);
    return found == labels.end() ? 0 : found->second;
  };
  std::int64_t last_run = -1;
  std::vector<Reading>* readings = nullptr;
  int result;
  while ((result = sqlite3_step(statement)) == SQLITE_ROW) {
    const auto run_id = sqlite3_column_int64(statement, 1);
    if (run_id != last_run) {
      const auto found = runs.find(run_id);
      readings = found == runs.end() ? nullptr : &trial.runs[found->second].readings;
      last_run = run_id;
    }
    if (!readings) continue;
    const auto unit = parse_unit(reinterpret_cast<const char*>(sqlite3_column_text(statement, 4)));
    if (!unit) continue;
    Reading reading;
    reading.id = sqlite3_column_int64(statement, 0);
    reading.cuts = sqlite3_column_int64(statement, 2);
    reading.value = sqlite3_column_double(statement, 3);
    reading.unit = *unit;
    reading.station = label(5);
    reading.by_operator = label(6);
    reading.excluded = sqlite3_column_int(statement, 7) != 0;
    reading.reason = label(8);
    reading.gauge = label(9);
    readings->push_back(reading);
  }
  if (result != SQLITE_DONE) throw SQLite::Exception(db.getHandle(), result);
}

}  // namespace

Trial ProjectFile::load() const {
  const auto lock = database_->use();
  try {
    SQLite::Database& db = *database_->sqlite;
    Trial trial;
    trial.title = setting("title").value_or("");
    SQLite::Statement blades(db, "SELECT id, name, steel, note, retired FROM blade ORDER BY id");
    while (blades.executeStep()) {
      Blade blade;
      blade.id = blades.getColumn(0).getInt64();
      blade.name = blades.getColumn(1).getString();
      blade.steel = blades.getColumn(2).getString();
      blade.note = blades.getColumn(3).getString();
      blade.retired = blades.getColumn(4).getInt() != 0;
      trial.blades.push_back(std::move(blade));
    }
    std::unordered_map<std::int64_t, LabelId> labels;
    SQLite::Statement texts(db, "SELECT id, text FROM label");
    while (texts.executeStep())
      labels[texts.getColumn(0).getInt64()] = trial.labels.id_of(texts.getColumn(1).getString());
    std::unordered_map<std::int64_t, std::size_t> runs;
    SQLite::Statement rows(db,
                           "SELECT run.id, run.name, ifnull(blade.name, ''), run.steel, "
                           "edge_left_deg, edge_right_deg, "
                           "micro_left_deg, micro_right_deg, finish_left_um, finish_right_um, "
                           "medium, ifnull(cut_mode, ''), "
                           "block, checkpoints, readings_each, cuts_done FROM run LEFT JOIN blade "
                           "ON blade.id = blade_id "
                           "ORDER BY run.id");
    while (rows.executeStep()) {
      trial.runs.push_back(run_of(rows));
      runs[trial.runs.back().id] = trial.runs.size() - 1;
    }
    RawFactors factors;
    SQLite::Statement values(db, "SELECT run_id, name, value FROM run_factor");
    while (values.executeStep())
      if (const auto run = runs.find(values.getColumn(0).getInt64()); run != runs.end())
        factors[values.getColumn(1).getString()].emplace_back(run->second,
                                                              values.getColumn(2).getString());
    take_factors(factors, trial);
    share_steels(trial);
    load_readings(db, trial, runs, labels);
    load_edges(db, trial);
    load_shelf(db, trial);
    load_bench(db, trial);
    load_micrographs(db, trial);
    return trial;
  } catch (const SQLite::Exception& error) {
    throw_store_error(error, database_->path);
  }
}

}  // namespace bq::inline store
