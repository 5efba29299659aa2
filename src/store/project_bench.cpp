// What happens on the bench: events, force strokes, pictures, sessions; one step is one
// transaction.
#include <unordered_map>

#include "store/bench_json.h"
#include "store/picture_store.h"
#include "store/project_database.h"
#include "store/readable.h"
#include "trial/bench_fields.h"
#include "trial/run_plan.h"

namespace bq::inline store {
namespace {

void insert_event(SQLite::Database& db, std::int64_t run_id, BenchEvent& event) {
  if (event.made_at.empty()) event.made_at = now_utc();
  SQLite::Statement add(db,
                        "INSERT INTO bench_event(id, run_id, made_at, cuts, operator, kind, data) "
                        "VALUES(?, ?, ?, ?, ?, ?, ?)");
  if (event.id)
    add.bind(1, event.id);
  else
    add.bind(1);
  if (run_id)
    add.bind(2, run_id);
  else
    add.bind(2);
  add.bind(3, event.made_at);
  add.bind(4, event.cuts);
  add.bind(5, event.by_operator);
  add.bind(6, std::string(kind_of(event.data)));
  add.bind(7, bench_event_json(readable(event.data)));
  add.exec();
  event.id = db.getLastInsertRowid();
}

void insert_stroke(SQLite::Database& db, std::int64_t run_id, ForceStroke& stroke) {
  SQLite::Statement add(db,
                        "INSERT INTO stroke(id, run_id, rate_hz, resolution_N, capacity_N, lost, "
                        "cut_off, count, samples) VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?)");
  if (stroke.id)
    add.bind(1, stroke.id);
  else
    add.bind(1);
  add.bind(2, run_id);
  add.bind(3, stroke.rate_hz);
  add.bind(4, stroke.resolution_N);
  add.bind(5, stroke.capacity_N);
  add.bind(6, stroke.lost);
  add.bind(7, int(stroke.cut_off));
  add.bind(8, std::int64_t(stroke.force_N.size()));
  const std::string bytes = pack_samples(stroke.force_N, stroke.resolution_N);
  add.bind(9, bytes.data(), int(bytes.size()));
  add.exec();
  stroke.id = db.getLastInsertRowid();
}

void insert_picture(SQLite::Database& db, PictureFile& picture) {
  SQLite::Statement add(
      db, "INSERT INTO picture(id, made_at, name, kind, bytes) VALUES(?, ?, ?, ?, ?)");
  if (picture.id)
    add.bind(1, picture.id);
  else
    add.bind(1);
  add.bind(2, now_utc());
  add.bind(3, picture.name);
  add.bind(4, picture.kind);
  add.bind(5, picture.bytes.data(), int(picture.bytes.size()));
  add.exec();
  picture.id = db.getLastInsertRowid();
}

}  // namespace

const char* const kBenchSchema = R"sql(
CREATE TABLE bench_event(
  id INTEGER PRIMARY KEY, run_id INTEGER REFERENCES run(id), made_at TEXT NOT NULL, cuts INTEGER NOT NULL DEFAULT 0,
  operator TEXT NOT NULL DEFAULT '', kind TEXT NOT NULL, data TEXT NOT NULL);
CREATE INDEX bench_event_of_run ON bench_event(run_id);
CREATE TABLE stroke(
  id INTEGER PRIMARY KEY, run_id INTEGER NOT NULL REFERENCES run(id), rate_hz REAL NOT NULL CHECK(rate_hz > 0),
  resolution_N REAL NOT NULL CHECK(resolution_N > 0), capacity_N REAL NOT NULL DEFAULT 0, lost INTEGER NOT NULL DEFAULT 0,
  cut_off INTEGER NOT NULL DEFAULT 0, count INTEGER NOT NULL CHECK(count >= 0), samples BLOB NOT NULL);
CREATE TABLE picture(id INTEGER PRIMARY KEY, made_at TEXT NOT NULL, name TEXT NOT NULL, kind TEXT NOT NULL, bytes BLOB NOT NULL);
CREATE TABLE bench_session(id INTEGER PRIMARY KEY, made_at TEXT NOT NULL, kind TEXT NOT NULL, data TEXT NOT NULL);
ALTER TABLE reading ADD COLUMN gauge INTEGER REFERENCES label(id);
)sql";

void load_bench(SQLite::Database& db, Trial& trial) {
  if (!db.tableExists("bench_event")) return;  // an older file opened for reading
  std::unordered_map<std::int64_t, std::size_t> runs;
  for (std::size_t i = 0; i < trial.runs.size(); ++i) runs[trial.runs[i].id] = i;
  // What cannot be read stays in the file; `check` names it.
  SQLite::Statement rows(db,
                         "SELECT id, ifnull(run_id, 0), made_at, cuts, operator, kind, data FROM "
                         "bench_event ORDER BY id");
  while (rows.executeStep()) {
    const auto data =
        parse_bench_event(rows.getColumn(5).getString(), rows.getColumn(6).getString());
    if (!data) continue;
    BenchEvent event{rows.getColumn(0).getInt64(), rows.getColumn(2).getString(),
                     rows.getColumn(3).getInt64(), rows.getColumn(4).getString(), *data};
    const std::int64_t run_id = rows.getColumn(1).getInt64();
    if (!run_id)
      trial.gauge_checks.push_back(std::move(event));
    else if (const auto run = runs.find(run_id); run != runs.end())
      trial.runs[run->second].events.push_back(std::move(event));
  }
}

void ProjectFile::put_event(std::int64_t run_id, BenchEvent& event) {
  database_->write([&] { insert_event(*database_->sqlite, run_id, event); });
}
void ProjectFile::remove_event(std::int64_t id) {
  database_->write(
      [&] { remove_row(*database_->sqlite, "DELETE FROM bench_event WHERE id = ?", id); });
}
void ProjectFile::put_stroke(std::int64_t run_id, ForceStroke& stroke) {
  database_->write([&] { insert_stroke(*database_->sqlite, run_id, stroke); });
}
void ProjectFile::remove_stroke(std::int64_t id) {
  database_->write([&] { remove_row(*database_->sqlite, "DELETE FROM stroke WHERE id = ?", id); });
}
void ProjectFile::put_picture(PictureFile& picture) {
  database_->write([&] { insert_picture(*database_->sqlite, picture); });
}
void ProjectFile::remove_picture(std::int64_t id) {
  database_->write([&] { remove_row(*database_->sqlite, "DELETE FROM picture WHERE id = ?", id); });
}

std::optional<ForceStroke> ProjectFile::stroke(std::int64_t id) const {
  const auto lock = database_->use();
  try {
    SQLite::Statement find(*database_->sqlite,
                           "SELECT rate_hz, resolution_N, capacity_N, lost, cut_off, count, "
                           "samples FROM stroke WHERE id = ?");
    find.bind(1, id);
    if (!find.executeStep()) return std::nullopt;
    ForceStroke out;
    out.id = id;
    out.rate_hz = find.getColumn(0).getDouble();
    out.resolution_N = find.getColumn(1).getDouble();
    out.capacity_N = find.getColumn(2).getDouble();
    out.lost = find.getColumn(3).getInt();
    out.cut_off = find.getColumn(4).getInt() != 0;
    const auto count = find.getColumn(5).getInt64();
    const auto bytes = find.getColumn(6);
    const auto samples =
        unpack_samples({static_cast<const char*>(bytes.getBlob()), std::size_t(bytes.getBytes())},
                       out.resolution_N, std::size_t(count));
    if (!samples) return std::nullopt;
    out.force_N = *samples;
    return out;
  } catch (const SQLite::Exception& error) {
    throw_store_error(error, database_->path);
  }
}

std::optional<PictureFile> ProjectFile::picture(std::int64_t id) const {
  const auto bytes = pictures()->bytes(id);
  if (!bytes) return std::nullopt;
  const auto lock = database_->use();
  try {
    SQLite::Statement find(*database_->sqlite, "SELECT name, kind FROM picture WHERE id = ?");
    find.bind(1, id);
    if (!find.executeStep()) return std::nullopt;
    return PictureFile{id, find.getColumn(0).getString(), find.getColumn(1).getString(), *bytes};
  } catch (const SQLite::Exception& error) {
    throw_store_error(error, database_->path);
  }
}

std::vector<BenchSession> ProjectFile::bench_sessions() const {
  const auto lock = database_->use();
  try {
    std::vector<BenchSession> out;
    SQLite::Database& db = *database_->sqlite;
    if (!db.tableExists("bench_session")) return out;
    SQLite::Statement rows(db, "SELECT id, made_at, kind, data FROM bench_session ORDER BY id");
    while (rows.executeStep())
      if (auto read =
              parse_bench_session(rows.getColumn(2).getString(), rows.getColumn(3).getString())) {
        BenchSession session = *read;
        session.id = rows.getColumn(0).getInt64();
        session.made_at = rows.getColumn(1).getString();
        out.push_back(std::move(session));
      }
    return out;
  } catch (const SQLite::Exception& error) {
    throw_store_error(error, database_->path);
  }
}

BenchSession ProjectFile::set_bench_session(BenchSession session) {
  database_->write([&] {
    if (session.made_at.empty()) session.made_at = now_utc();
    SQLite::Statement put(
        *database_->sqlite,
        "INSERT OR REPLACE INTO bench_session(id, made_at, kind, data) VALUES(?, ?, ?, ?)");
    if (session.id)
      put.bind(1, session.id);
    else
      put.bind(1);
    put.bind(2, session.made_at);
    put.bind(3, std::string(kind_of(session)));
    readable(session.data);
    put.bind(4, bench_session_json(session));
    put.exec();
    session.id = database_->sqlite->getLastInsertRowid();
  });
  return session;
}

void ProjectFile::remove_bench_session(std::int64_t id) {
  database_->write(
      [&] { remove_row(*database_->sqlite, "DELETE FROM bench_session WHERE id = ?", id); });
}

}  // namespace bq::inline store
