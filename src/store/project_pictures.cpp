// Micrographs: their facts and thumbnails in one row, their bytes in parts of a mebibyte that are
// written and read off the window's thread.
#include <openssl/evp.h>

#include <array>

#include "lens/picture_header.h"
#include "quantity/said.h"
#include "store/bench_json.h"
#include "store/micrograph_json.h"
#include "store/picture_store.h"
#include "store/project_database.h"
#include "store/readable.h"
#include "trial/micrograph_fields.h"

namespace bq::inline store {
namespace {
constexpr std::size_t kPart = 1u << 20;
}

const char* const kPictureSchema = R"sql(
CREATE TABLE picture_part(
  picture_id INTEGER NOT NULL REFERENCES picture(id) ON DELETE CASCADE, part INTEGER NOT NULL, bytes BLOB NOT NULL,
  PRIMARY KEY(picture_id, part)) WITHOUT ROWID;
CREATE TABLE micrograph(id INTEGER PRIMARY KEY REFERENCES picture(id), data TEXT NOT NULL, thumbnail BLOB NOT NULL DEFAULT x'');
)sql";

std::string sha256_of(std::string_view bytes) {
  std::array<unsigned char, 32> sum{};
  unsigned size = 0;
  if (EVP_Digest(bytes.data(), bytes.size(), sum.data(), &size, EVP_sha256(), nullptr) != 1)
    return "";
  std::string out;
  for (const unsigned char byte : sum) {
    out += "0123456789abcdef"[byte >> 4];
    out += "0123456789abcdef"[byte & 15];
  }
  return out;
}

void put_micrograph(SQLite::Database& db, const Micrograph& micrograph,
                    const std::string& thumbnail) {
  SQLite::Statement put(db,
                        "INSERT INTO micrograph(id, data, thumbnail) VALUES(?, ?, ?) ON "
                        "CONFLICT(id) DO UPDATE SET data = excluded.data");
  put.bind(1, micrograph.id);
  put.bind(2, micrograph_json(readable(micrograph)));
  put.bind(3, thumbnail.data(), int(thumbnail.size()));
  put.exec();
}

Micrograph micrograph_of(const PictureFile& picture) {
  Micrograph out;
  out.id = picture.id;
  out.name = picture.name;
  out.kind = picture.kind;
  out.size = std::int64_t(picture.bytes.size());
  out.sha256 = sha256_of(picture.bytes);
  out.made_at = now_utc();
  if (const auto header = read_picture_header(picture.bytes)) {
    out.width = header->width;
    out.height = header->height;
    out.taken_at = header->taken_at;
  }
  return out;
}

void take_over_looks(SQLite::Database& db) {
  SQLite::Statement looks(
      db,
      "SELECT bench_event.data, bench_event.cuts, run.name, ifnull(blade.name, ''), picture.id, "
      "picture.name, picture.kind, picture.bytes "
      "FROM bench_event JOIN run ON run.id = run_id LEFT JOIN blade ON blade.id = run.blade_id "
      "JOIN picture ON picture.id = CASE WHEN json_valid(bench_event.data) THEN "
      "json_extract(bench_event.data, '$.picture') END WHERE bench_event.kind = 'look'");
  while (looks.executeStep()) {
    const auto event = parse_bench_event("look", looks.getColumn(0).getString());
    const auto* look = event ? std::get_if<LookEvent>(&*event) : nullptr;
    if (!look) continue;
    const auto bytes = looks.getColumn(7);
    Micrograph m = micrograph_of(
        {looks.getColumn(4).getInt64(), looks.getColumn(5).getString(),
         looks.getColumn(6).getString(),
         std::string(static_cast<const char*>(bytes.getBlob()), std::size_t(bytes.getBytes()))});
    m.cuts = looks.getColumn(1).getInt64();
    m.run = looks.getColumn(2).getString();
    m.blade = looks.getColumn(3).getString();
    m.at_mm = look->at_mm;
    put_micrograph(db, m, "");
  }
}

void drop_left_over_pictures(SQLite::Database& db) {
  // Brought in and taken back, or cut off on the way in: nothing points at them. Those of looks
  // carry their bytes themselves.
  db.exec("DELETE FROM picture WHERE length(bytes) = 0 AND id NOT IN (SELECT id FROM micrograph)");
  db.exec("DELETE FROM picture_part WHERE picture_id NOT IN (SELECT id FROM picture)");
}

void load_micrographs(SQLite::Database& db, Trial& trial) {
  if (!db.tableExists("micrograph")) return;  // an older file opened for reading
  // What cannot be read stays in the file; `check` names it.
  SQLite::Statement rows(db, "SELECT id, data FROM micrograph ORDER BY id");
  while (rows.executeStep())
    if (const auto read = parse_micrograph(rows.getColumn(1).getString())) {
      Micrograph micrograph = *read;
      micrograph.id = rows.getColumn(0).getInt64();
      trial.micrographs.push_back(std::move(micrograph));
    }
  SQLite::Statement scales(db, "SELECT value FROM setting WHERE key = ?");
  scales.bind(1, kScalesKey);
  if (scales.executeStep())
    if (const auto read = parse_scales(scales.getColumn(0).getString())) {
      trial.scales = *read;
      give_sizes(trial.scales, trial.micrographs);
    }
}

void ProjectFile::add_micrograph(const Micrograph& micrograph, const std::string& thumbnail) {
  database_->write([&] { put_micrograph(*database_->sqlite, micrograph, thumbnail); });
}
void ProjectFile::set_micrograph(const Micrograph& micrograph) {
  database_->write([&] { put_micrograph(*database_->sqlite, micrograph, ""); });
}
void ProjectFile::set_scales(const std::vector<MagnificationScale>& scales) {
  for (const auto& scale : scales) readable(readable(scale).scale);
  set_setting(kScalesKey, scales_json(scales));
}
void ProjectFile::remove_micrograph(std::int64_t id) {
  database_->write(
      [&] { remove_row(*database_->sqlite, "DELETE FROM micrograph WHERE id = ?", id); });
}
void ProjectFile::set_thumbnail(std::int64_t id, const std::string& png) {
  database_->write([&] {
    SQLite::Statement put(*database_->sqlite, "UPDATE micrograph SET thumbnail = ? WHERE id = ?");
    put.bind(1, png.data(), int(png.size()));
    put.bind(2, id);
    put.exec();
  });
}

std::string ProjectFile::thumbnail(std::int64_t id) const {
  const auto lock = database_->use();
  try {
    if (!database_->sqlite->tableExists("micrograph")) return {};
    SQLite::Statement find(*database_->sqlite, "SELECT thumbnail FROM micrograph WHERE id = ?");
    find.bind(1, id);
    if (!find.executeStep()) return {};
    const auto bytes = find.getColumn(0);
    return {static_cast<const char*>(bytes.getBlob()), std::size_t(bytes.getBytes())};
  } catch (const SQLite::Exception& error) {
    throw_store_error(error, database_->path);
  }
}

std::shared_ptr<PictureStore> ProjectFile::pictures() const {
  return std::make_shared<PictureStore>(database_);
}

std::int64_t PictureStore::add(const std::string& name, const std::string& kind,
                               std::string_view bytes, const std::function<bool(double)>& go_on) {
  if (bytes.size() > kLargestPictureFile)
    throw StoreError(StoreProblem::refused,
                     said("{name} is larger than 256 MB. It was not taken in; nothing was changed.",
                          {{"name", name}}));
  std::int64_t id = 0;
  const auto step = [&](const std::function<void(SQLite::Database&)>& work) {
    const auto database = database_.lock();
    if (!database)
      throw StoreError(StoreProblem::refused, said("The project was closed before {name} was in "
                                                   "it. The picture's own file is where it was.",
                                                   {{"name", name}}));
    database->in_use.let_others();
    database->write([&] { work(*database->sqlite); });
  };
  step([&](SQLite::Database& db) {
    SQLite::Statement add(db,
                          "INSERT INTO picture(made_at, name, kind, bytes) VALUES(?, ?, ?, x'')");
    add.bind(1, now_utc());
    add.bind(2, name);
    add.bind(3, kind);
    add.exec();
    id = db.getLastInsertRowid();
  });
  for (std::size_t at = 0, part = 0; at < bytes.size(); at += kPart, ++part) {
    if (go_on && !go_on(double(at) / double(bytes.size()))) {
      step([&](SQLite::Database& db) {
        SQLite::Statement remove(db, "DELETE FROM picture WHERE id = ?");
        remove.bind(1, id);
        remove.exec();
      });
      return 0;
    }
    step([&](SQLite::Database& db) {
      SQLite::Statement add(db,
                            "INSERT INTO picture_part(picture_id, part, bytes) VALUES(?, ?, ?)");
      add.bind(1, id);
      add.bind(2, std::int64_t(part));
      const auto piece = bytes.substr(at, kPart);
      add.bind(3, piece.data(), int(piece.size()));
      add.exec();
    });
  }
  return id;
}

std::optional<std::string> PictureStore::bytes(std::int64_t id,
                                               const std::function<bool()>& stop) const {
  std::string out;
  for (std::int64_t part = -1;; ++part) {
    if (stop && stop()) return std::nullopt;
    const auto database = database_.lock();
    if (!database) return std::nullopt;
    database->in_use.let_others();
    const auto lock = database->use();
    try {
      SQLite::Database& db = *database->sqlite;
      if (part >= 0 && !db.tableExists("picture_part")) return out;
      SQLite::Statement find(
          db, part < 0 ? "SELECT bytes FROM picture WHERE id = ?"
                       : "SELECT bytes FROM picture_part WHERE picture_id = ? AND part = ?");
      find.bind(1, id);
      if (part >= 0) find.bind(2, part);
      if (!find.executeStep()) return part < 0 ? std::nullopt : std::optional(out);
      const auto bytes = find.getColumn(0);
      out.append(static_cast<const char*>(bytes.getBlob()), std::size_t(bytes.getBytes()));
    } catch (const SQLite::Exception& error) {
      throw_store_error(error, database->path);
    }
  }
}

void check_pictures(const ProjectFile::Database& database,
                    const std::shared_ptr<PictureStore>& pictures,
                    std::vector<std::string>& problems) {
  SQLite::Statement rows(*database.sqlite, "SELECT id, data FROM micrograph");
  while (rows.executeStep()) {
    const std::string name = said("picture {name}", {{"name", rows.getColumn(0).getString()}});
    const auto read = parse_micrograph(rows.getColumn(1).getString());
    if (!read) {
      problems.push_back(said("{name} cannot be read: {reason}",
                              {{"name", name}, {"reason", read.refusal().reason}}));
      continue;
    }
    const auto bytes = pictures->bytes(rows.getColumn(0).getInt64());
    if (!bytes || std::int64_t(bytes->size()) != read->size ||
        (!read->sha256.empty() && sha256_of(*bytes) != read->sha256))
      problems.push_back(
          said("damaged evidence: {name} ({name_2}) is not the file that was brought in",
               {{"name", name}, {"name_2", read->name}}));
  }
}

}  // namespace bq::inline store
