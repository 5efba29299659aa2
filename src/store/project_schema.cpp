#include "store/project_schema.h"

#include <sqlite3.h>

#include <algorithm>
#include <array>
#include <mutex>

#include "quantity/said.h"
#include "quantity/wording.h"
#include "store/checksums.h"
#include "store/project_database.h"

namespace bq::inline store {
namespace {

/// Schema of version 1; docs/file-format.md explains every column.
constexpr const char* kFirstSchema = R"sql(
CREATE TABLE setting(key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
CREATE TABLE label(id INTEGER PRIMARY KEY, text TEXT NOT NULL UNIQUE);
CREATE TABLE blade(
  id INTEGER PRIMARY KEY, name TEXT NOT NULL UNIQUE, steel TEXT NOT NULL DEFAULT '',
  note TEXT NOT NULL DEFAULT '', retired INTEGER NOT NULL DEFAULT 0 CHECK(retired IN (0, 1)));
CREATE TABLE run(
  id INTEGER PRIMARY KEY, name TEXT NOT NULL UNIQUE, blade_id INTEGER REFERENCES blade(id),
  steel TEXT NOT NULL DEFAULT '',
  edge_left_deg REAL, edge_right_deg REAL, micro_left_deg REAL, micro_right_deg REAL,
  finish_left_um REAL, finish_right_um REAL,
  medium TEXT NOT NULL DEFAULT '', cut_mode TEXT CHECK(cut_mode IN ('slice', 'push', 'chop')),
  block TEXT NOT NULL DEFAULT '', checkpoints TEXT NOT NULL DEFAULT '',
  readings_each INTEGER NOT NULL DEFAULT 3 CHECK(readings_each > 0),
  cuts_done INTEGER NOT NULL DEFAULT 0 CHECK(cuts_done >= 0));
CREATE TABLE run_factor(
  run_id INTEGER NOT NULL REFERENCES run(id) ON DELETE CASCADE,
  name TEXT NOT NULL, value TEXT NOT NULL, PRIMARY KEY(run_id, name)) WITHOUT ROWID;
CREATE TABLE reading(
  id INTEGER PRIMARY KEY, run_id INTEGER NOT NULL REFERENCES run(id),
  cuts INTEGER NOT NULL CHECK(cuts >= 0), value REAL NOT NULL CHECK(value > 0),
  unit TEXT NOT NULL CHECK(unit = 'gf' OR unit = 'N' OR unit = 'lbf' OR unit = 'ozf' OR unit = 'mm' OR unit = 'in'),
  station INTEGER REFERENCES label(id), operator INTEGER REFERENCES label(id),
  excluded INTEGER NOT NULL DEFAULT 0 CHECK(excluded IN (0, 1)),
  reason INTEGER REFERENCES label(id), entered_at TEXT);
)sql";

/// What makes version i + 1 of version i.
std::array<const char*, ProjectFile::kVersion> scripts() {
  return {kFirstSchema, kEdgeSchema, kShelfSchema, kBenchSchema, kPictureSchema, kChecksumSchema};
}

}  // namespace

std::vector<SchemaEntry> schema_of(SQLite::Database& db) {
  std::vector<SchemaEntry> out;
  SQLite::Statement all(db,
                        "SELECT type, name, ifnull(sql, '') FROM sqlite_master WHERE name NOT LIKE "
                        "'sqlite\\_%' ESCAPE '\\' ORDER BY rowid");
  while (all.executeStep()) {
    SchemaEntry& entry = out.emplace_back();
    entry.type = all.getColumn(0).getString();
    entry.name = all.getColumn(1).getString();
    entry.sql = all.getColumn(2).getString();
  }
  return out;
}

void make_schema(SQLite::Database& db, int version) {
  for (int made = 0; made < version; ++made) db.exec(scripts()[std::size_t(made)]);
}

const std::vector<SchemaEntry>& schema_of_version(int version) {
  static std::array<std::vector<SchemaEntry>, ProjectFile::kVersion> known;
  static std::mutex busy;
  const std::lock_guard lock(busy);
  auto& entries = known.at(std::size_t(version - 1));
  if (entries.empty()) {
    SQLite::Database db(":memory:", SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
    make_schema(db, version);
    entries = schema_of(db);
    for (auto& entry : entries)
      if (entry.type == "table") entry.columns = columns_of(db, entry.name);
  }
  return entries;
}

std::vector<std::string> columns_of(SQLite::Database& db, const std::string& table) {
  std::vector<std::string> out;
  SQLite::Statement info(db, "SELECT name FROM pragma_table_info(?) ORDER BY cid");
  info.bind(1, table);
  while (info.executeStep()) out.push_back(info.getColumn(0).getString());
  return out;
}

std::string quoted_name(const std::string& name) { return "\"" + name + "\""; }

void harden(SQLite::Database& db) {
  sqlite3* handle = db.getHandle();
  sqlite3_db_config(handle, SQLITE_DBCONFIG_DEFENSIVE, 1, nullptr);
  sqlite3_db_config(handle, SQLITE_DBCONFIG_TRUSTED_SCHEMA, 0, nullptr);
  sqlite3_db_config(handle, SQLITE_DBCONFIG_ENABLE_TRIGGER, 0, nullptr);
  sqlite3_db_config(handle, SQLITE_DBCONFIG_ENABLE_VIEW, 0, nullptr);
  sqlite3_limit(handle, SQLITE_LIMIT_EXPR_DEPTH, 100);
  sqlite3_limit(handle, SQLITE_LIMIT_COMPOUND_SELECT, 10);
  sqlite3_limit(handle, SQLITE_LIMIT_LIKE_PATTERN_LENGTH, 1000);
  db.exec("PRAGMA cell_size_check = ON");
}

std::string stranger_in(SQLite::Database& db, int version) {
  const auto& known = schema_of_version(version);
  constexpr std::size_t kNamed = 5;
  std::vector<std::string> strangers;
  for (const SchemaEntry& found : schema_of(db)) {
    const auto same = std::find_if(known.begin(), known.end(), [&](const SchemaEntry& entry) {
      return entry.type == found.type && entry.name == found.name;
    });
    const std::string name =
        said("the {type} {name}", {{"type", found.type}, {"name", found.name}});
    if (same == known.end())
      strangers.push_back(name);
    else if (same->sql != found.sql)
      strangers.push_back(said("{name} (made otherwise than a project's)", {{"name", name}}));
  }
  return first_few(strangers, kNamed);
}

}  // namespace bq::inline store
