#include <algorithm>
#include <limits>

#include "quantity/said.h"
#include "store/bench_json.h"
#include "store/content_check.h"
#include "store/edge_record_json.h"
#include "store/micrograph_json.h"
#include "store/picture_store.h"
#include "store/project_database.h"
#include "store/project_schema.h"
#include "store/shelf_json.h"
#include "trial/run_plan.h"

namespace bq::inline store {
namespace {

void check_schema(SQLite::Database& db, std::vector<std::string>& problems) {
  for (const SchemaEntry& wanted : schema_of_version(ProjectFile::kVersion)) {
    if (wanted.type != "table") continue;
    const auto found = columns_of(db, wanted.name);
    if (found.empty()) {
      problems.push_back(said("the table {name} is missing", {{"name", wanted.name}}));
      continue;
    }
    for (const auto& column : wanted.columns)
      if (std::find(found.begin(), found.end(), column) == found.end())
        problems.push_back(said("the table {name} has no column {column}",
                                {{"name", wanted.name}, {"column", column}}));
  }
}

void check_content(SQLite::Database& db, std::vector<std::string>& problems) {
  SQLite::Statement runs(db,
                         "SELECT name, edge_left_deg, edge_right_deg, checkpoints, cuts_done, "
                         "furthest FROM run LEFT JOIN (SELECT run_id, max(cuts) AS furthest FROM "
                         "reading GROUP BY run_id) ON run_id = run.id");
  while (runs.executeStep()) {
    const std::string name = runs.getColumn(0).getString();
    for (int side : {1, 2})
      if (!runs.getColumn(side).isNull() && !angle_in_range(runs.getColumn(side).getDouble()))
        problems.push_back(
            said("run {name} has an edge angle outside 0° to 80°", {{"name", name}}));
    if (!parse_checkpoints(runs.getColumn(3).getString()))
      problems.push_back(said("run {name} has checkpoints that cannot be read", {{"name", name}}));
    if (!runs.getColumn(5).isNull() && runs.getColumn(5).getInt64() > runs.getColumn(4).getInt64())
      problems.push_back(
          said("run {name} has readings beyond the cuts it has made", {{"name", name}}));
  }
  SQLite::Statement records(db, "SELECT id, kind, data FROM edge_record");
  while (records.executeStep())
    if (const auto record =
            parse_edge_record(records.getColumn(1).getString(), records.getColumn(2).getString());
        !record)
      problems.push_back(
          said("line {id} of a blade's history cannot be read: {reason}",
               {{"id", records.getColumn(0).getString()}, {"reason", record.refusal().reason}}));
  SQLite::Statement shelf(db, "SELECT name, data FROM abrasive");
  while (shelf.executeStep())
    if (const auto abrasive = parse_abrasive(shelf.getColumn(1).getString()); !abrasive)
      problems.push_back(said(
          "the abrasive {abrasive} cannot be read: {reason}",
          {{"abrasive", shelf.getColumn(0).getString()}, {"reason", abrasive.refusal().reason}}));
  SQLite::Statement comparisons(db, "SELECT id, data FROM comparison");
  while (comparisons.executeStep())
    if (const auto comparison = parse_comparison(comparisons.getColumn(1).getString()); !comparison)
      problems.push_back(said(
          "comparison {id} cannot be read: {reason}",
          {{"id", comparisons.getColumn(0).getString()}, {"reason", comparison.refusal().reason}}));
  const auto setting = [&](const char* key) {
    SQLite::Statement find(db, "SELECT value FROM setting WHERE key = ?");
    find.bind(1, key);
    return find.executeStep() ? find.getColumn(0).getString() : std::string();
  };
  if (const auto text = setting(kProtocolKey); !text.empty())
    if (const auto protocol = parse_protocol(text); !protocol)
      problems.push_back(said("the bench's protocol cannot be read: {reason}",
                              {{"reason", protocol.refusal().reason}}));
  if (const auto text = setting(kInstrumentsKey); !text.empty())
    if (const auto instruments = parse_instruments(text); !instruments)
      problems.push_back(said("the instruments cannot be read: {reason}",
                              {{"reason", instruments.refusal().reason}}));
  if (const auto text = setting(kScalesKey); !text.empty())
    if (const auto scales = parse_scales(text); !scales)
      problems.push_back(said("the scales of the magnifications cannot be read: {reason}",
                              {{"reason", scales.refusal().reason}}));
  SQLite::Statement events(db, "SELECT id, kind, data FROM bench_event");
  while (events.executeStep()) {
    const auto event =
        parse_bench_event(events.getColumn(1).getString(), events.getColumn(2).getString());
    const std::string name =
        said("line {id} of the bench", {{"id", events.getColumn(0).getString()}});
    if (!event) {
      problems.push_back(said("{name} cannot be read: {reason}",
                              {{"name", name}, {"reason", event.refusal().reason}}));
      continue;
    }
    const auto dangling = [&](const char* table, std::int64_t id) {
      SQLite::Statement find(db, std::string("SELECT 1 FROM ") + table + " WHERE id = ?");
      find.bind(1, id);
      if (id && !find.executeStep())
        problems.push_back(said("dangling evidence: {name} points at a missing {table}",
                                {{"name", name}, {"table", table}}));
    };
    if (const auto* stroke = std::get_if<StrokeEvent>(&*event)) dangling("stroke", stroke->stroke);
    if (const auto* look = std::get_if<LookEvent>(&*event)) dangling("picture", look->picture);
  }
  SQLite::Statement strokes(db, "SELECT id, resolution_N, count, samples FROM stroke");
  while (strokes.executeStep()) {
    const auto bytes = strokes.getColumn(3);
    if (const auto samples = unpack_samples(
            {static_cast<const char*>(bytes.getBlob()), std::size_t(bytes.getBytes())},
            strokes.getColumn(1).getDouble(), std::size_t(strokes.getColumn(2).getInt64()));
        !samples)
      problems.push_back(said("stroke {id}: {reason}", {{"id", strokes.getColumn(0).getString()},
                                                        {"reason", samples.refusal().reason}}));
  }
  SQLite::Statement sessions(db, "SELECT id, kind, data FROM bench_session");
  while (sessions.executeStep())
    if (const auto session = parse_bench_session(sessions.getColumn(1).getString(),
                                                 sessions.getColumn(2).getString());
        !session)
      problems.push_back(
          said("session {id} cannot be read: {reason}",
               {{"id", sessions.getColumn(0).getString()}, {"reason", session.refusal().reason}}));
  SQLite::Statement kinds(db, "SELECT count(DISTINCT unit IN ('mm', 'in')) FROM reading");
  if (kinds.executeStep() && kinds.getColumn(0).getInt() > 1)
    problems.emplace_back("forces and lengths are mixed among the readings");
  SQLite::Statement values(db,
                           "SELECT count(*) FROM reading WHERE NOT (value > 0 AND value < 1e300)");
  if (values.executeStep() && values.getColumn(0).getInt64() > 0)
    problems.push_back(said("{count} readings are not positive numbers",
                            {{"count", std::to_string(values.getColumn(0).getInt64())}}));
  SQLite::Statement kinds_of_cells(
      db,
      "SELECT count(*) FROM reading WHERE typeof(value) NOT IN ('real', 'integer') OR typeof(cuts) "
      "<> 'integer' OR typeof(unit) <> 'text'");
  if (kinds_of_cells.executeStep() && kinds_of_cells.getColumn(0).getInt64() > 0)
    problems.push_back(
        said("{count} readings hold something else than a number of cuts, a value and a unit",
             {{"count", std::to_string(kinds_of_cells.getColumn(0).getInt64())}}));
  SQLite::Statement silent(db,
                           "SELECT count(*) FROM reading WHERE excluded = 1 AND reason IS NULL");
  if (silent.executeStep() && silent.getColumn(0).getInt64() > 0)
    problems.push_back(said("{count} readings are excluded without a reason",
                            {{"count", std::to_string(silent.getColumn(0).getInt64())}}));
}

std::vector<std::string> names_of(SQLite::Database& db, const std::vector<CheckedPart>& parts) {
  std::vector<std::string> out;
  for (const CheckedPart& part : parts) out.push_back(name_of(db, part));
  return out;
}

void check_sums(SQLite::Database& db, std::vector<std::string>& problems) {
  ChecksumScan scan(db, nullptr);
  while (scan.go_on(std::numeric_limits<std::int64_t>::max())) {
  }
  for (const auto& name : names_of(db, scan.unlike()))
    problems.push_back(said("not as it was kept: {name} (checksum)", {{"name", name}}));
}

}  // namespace

bool ContentCheck::go_on() {
  constexpr std::int64_t kRowsAtOnce = 10'000;
  const auto database = database_.lock();
  if (!database) return false;
  database->in_use.let_others();
  const auto lock = database->use();
  SQLite::Database& db = *database->sqlite;
  try {
    if (!database->scan) {
      if (!db.tableExists("checksum") || database->newer) return false;
      database->scan = std::make_unique<ChecksumScan>(db, database->checksums.get());
    }
    if (database->scan->go_on(kRowsAtOnce)) return true;
    unlike_ = names_of(db, database->scan->unlike());
  } catch (const SQLite::Exception& error) {
    unlike_.push_back(said("what SQLite could not read ({error})", {{"error", error.what()}}));
  }
  database->scan.reset();
  return false;
}

std::shared_ptr<ContentCheck> ProjectFile::content_check() const {
  return std::make_shared<ContentCheck>(database_);
}

std::vector<std::string> ProjectFile::check() const {
  const auto lock = database_->use();
  std::vector<std::string> problems;
  try {
    SQLite::Database& db = *database_->sqlite;
    SQLite::Statement integrity(db, "PRAGMA integrity_check(20)");
    while (integrity.executeStep())
      if (const auto line = integrity.getColumn(0).getString(); line != "ok")
        problems.push_back(line);
    SQLite::Statement keys(db, "PRAGMA foreign_key_check");
    while (keys.executeStep())
      problems.push_back(
          said("dangling evidence: a row of {table} (row {row}) points at a missing "
               "{other}",
               {{"table", keys.getColumn(0).getString()},
                {"row", keys.getColumn(1).getString()},
                {"other", keys.getColumn(2).getString()}}));
    const int version = db.execAndGet("PRAGMA user_version").getInt();
    if (version == kVersion) {
      const auto before = problems.size();
      check_schema(db, problems);
      if (problems.size() == before) {
        check_sums(db, problems);
        check_content(db, problems);
        check_pictures(*database_, pictures(), problems);
      }
    }
  } catch (const SQLite::Exception& error) {
    problems.emplace_back(error.what());
  }
  return problems;
}

}  // namespace bq::inline store
