// One function for each schema step; a backup beside the file comes first.
#include "store/project_database.h"
#include "store/whole_file.h"

namespace bq::inline store {
namespace fs = std::filesystem;

const char* const kEdgeSchema = R"sql(
CREATE TABLE edge_record(
  id INTEGER PRIMARY KEY, blade_id INTEGER NOT NULL REFERENCES blade(id) ON DELETE CASCADE,
  made_at TEXT NOT NULL, kind TEXT NOT NULL, data TEXT NOT NULL);
CREATE INDEX edge_record_of_blade ON edge_record(blade_id);
CREATE TABLE steel(
  name TEXT PRIMARY KEY, hardness_hrc REAL, hard_phase_percent REAL, behaviour TEXT NOT NULL DEFAULT '',
  toughness TEXT NOT NULL DEFAULT '', bend_strength_MPa REAL, note TEXT NOT NULL DEFAULT '') WITHOUT ROWID;
CREATE TABLE medium(name TEXT PRIMARY KEY, form TEXT NOT NULL DEFAULT '', note TEXT NOT NULL DEFAULT '') WITHOUT ROWID;
)sql";

const char* const kShelfSchema = R"sql(
CREATE TABLE abrasive(name TEXT PRIMARY KEY, data TEXT NOT NULL) WITHOUT ROWID;
CREATE TABLE comparison(id INTEGER PRIMARY KEY, made_at TEXT NOT NULL, data TEXT NOT NULL);
)sql";

namespace {

void to_version_2(SQLite::Database& db) { db.exec(kEdgeSchema); }
void to_version_3(SQLite::Database& db) { db.exec(kShelfSchema); }
void to_version_4(SQLite::Database& db) { db.exec(kBenchSchema); }
void to_version_5(SQLite::Database& db) {
  db.exec(kPictureSchema);
  take_over_looks(db);
}
void to_version_6(SQLite::Database& db) {
  db.exec(kChecksumSchema);
  Checksums::make_anew(db);
}

}  // namespace

void migrate(ProjectFile::Database& database, std::uint32_t from) {
  SQLite::Database& db = *database.sqlite;
  const fs::path copy_path =
      free_name((database.path.parent_path() / database.path.stem()).string() + ".version-" +
                    std::to_string(from),
                database.path.extension().string());
  // On the disk before anything is changed.
  make_whole_file(copy_path, Existing::refused, [&](const fs::path& draft) {
    SQLite::Statement copy(db, "VACUUM INTO ?");
    copy.bind(1, draft.string());
    copy.exec();
  });
  SQLite::Transaction transaction(db);
  if (from < 2) to_version_2(db);
  if (from < 3) to_version_3(db);
  if (from < 4) to_version_4(db);
  if (from < 5) to_version_5(db);
  if (from < 6) to_version_6(db);
  db.exec("PRAGMA user_version = " + std::to_string(ProjectFile::kVersion));
  transaction.commit();
  database.copy_of_older = copy_path;
}

}  // namespace bq::inline store
