#include "store/project_file.h"

#include <fcntl.h>
#include <sqlite3.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <fstream>

#include "quantity/said.h"
#include "store/project_database.h"
#include "store/project_schema.h"

namespace bq::inline store {
namespace fs = std::filesystem;
namespace {

std::string quoted(const fs::path& path) { return "\"" + path.string() + "\""; }

struct Header {
  bool sqlite = false;
  bool empty = false;
  std::uint64_t page_size = 0, pages = 0, size = 0;
  std::uint32_t application = 0, version = 0;
};

Header read_header(const fs::path& path) {
  std::ifstream in(path, std::ios::binary);
  if (!in)
    throw StoreError(StoreProblem::read_only,
                     said("{path} cannot be read: no permission.", {{"path", quoted(path)}}));
  std::array<unsigned char, 100> bytes{};
  in.read(reinterpret_cast<char*>(bytes.data()), std::streamsize(bytes.size()));
  Header header;
  std::error_code ignored;
  header.size = fs::file_size(path, ignored);
  header.empty = in.gcount() == 0;
  header.sqlite = in.gcount() >= 16 &&
                  std::string_view(reinterpret_cast<char*>(bytes.data()), 15) == "SQLite format 3";
  const auto big = [&](std::size_t at, int count) {
    std::uint64_t value = 0;
    for (int i = 0; i < count; ++i) value = value << 8 | bytes[at + std::size_t(i)];
    return value;
  };
  header.page_size = big(16, 2) == 1 ? 65536 : big(16, 2);
  header.pages = big(28, 4);
  header.version = std::uint32_t(big(60, 4));
  header.application = std::uint32_t(big(68, 4));
  return header;
}

/// Refuses files that are no project before SQLite touches them. `file` stands for the project at
/// `path`: itself or a copy.
Header checked_header(const fs::path& path, const fs::path& file) {
  std::error_code ignored;
  if (!fs::exists(file, ignored))
    throw StoreError(StoreProblem::missing,
                     said("There is no file {path}.", {{"path", quoted(path)}}));
  if (fs::is_directory(file, ignored))
    throw StoreError(StoreProblem::not_a_project,
                     said("{path} is a folder, not a project.", {{"path", quoted(path)}}));
  const Header header = read_header(file);
  const bool journal = fs::exists(file.string() + "-wal", ignored);
  if (header.empty && !journal)
    throw StoreError(StoreProblem::truncated,
                     said("{path} is empty (0 bytes). Nothing was changed; restore it from a copy.",
                          {{"path", quoted(path)}}));
  if (!header.sqlite)
    throw StoreError(StoreProblem::not_a_project,
                     said("{path} is not a Brave Quarry project. Nothing was changed.",
                          {{"path", quoted(path)}}));
  if (header.size < 100 || (!journal && header.pages * header.page_size > header.size))
    throw StoreError(StoreProblem::truncated,
                     said("{path} is cut off: it has {header} of {page_size} bytes. Nothing was "
                          "changed; restore it from a copy.",
                          {{"path", quoted(path)},
                           {"header", std::to_string(header.size)},
                           {"page_size", std::to_string(header.pages * header.page_size)}}));
  if (header.application != ProjectFile::kApplicationId)
    throw StoreError(StoreProblem::not_a_project,
                     said("{path} is a database of another program, not a Brave Quarry project. "
                          "Nothing was changed.",
                          {{"path", quoted(path)}}));
  return header;
}

bool may_write(const fs::path& path) {
  return faccessat(AT_FDCWD, path.c_str(), W_OK, AT_EACCESS) == 0;
}
bool is_closed_folder(const fs::path& path) { return !may_write(fs::absolute(path).parent_path()); }

/// Also true for a file whose owner took all write bits away, whoever runs the program.
bool is_write_protected(const fs::path& path) {
  struct stat facts{};
  if (stat(path.c_str(), &facts) != 0) return true;
  if ((facts.st_mode & (S_IWUSR | S_IWGRP | S_IWOTH)) == 0) return true;
  return !may_write(path) || is_closed_folder(path);
}

void refuse_strangers(SQLite::Database& db, const fs::path& path, std::uint32_t version) {
  const std::string stranger = stranger_in(db, std::clamp(int(version), 1, ProjectFile::kVersion));
  if (stranger.empty()) return;
  sqlite3_db_config(db.getHandle(), SQLITE_DBCONFIG_NO_CKPT_ON_CLOSE, 1, nullptr);
  throw StoreError(StoreProblem::damaged,
                   said("{path} holds something that is no part of a project: {stranger}. It was "
                        "not opened and nothing was changed. What is in it can be taken into a new "
                        "project: brave-quarry-cli salvage OLD NEW.",
                        {{"path", quoted(path)}, {"stranger", stranger}}));
}

void lock_for_writing(SQLite::Database& db) {
  db.exec("PRAGMA journal_mode = WAL");
  db.exec("PRAGMA synchronous = FULL");
  db.exec("PRAGMA foreign_keys = ON");
  db.exec("BEGIN IMMEDIATE");
  db.exec("COMMIT");
}

}  // namespace

void throw_store_error(const SQLite::Exception& error, const fs::path& path, bool writing) {
  const std::string where = quoted(path);
  switch (error.getErrorCode()) {
    case SQLITE_BUSY:
    case SQLITE_LOCKED:
      throw_busy(path);
    case SQLITE_READONLY:
    case SQLITE_PERM:
    case SQLITE_CANTOPEN:
    case SQLITE_AUTH:
      throw StoreError(StoreProblem::read_only,
                       said("{where} or its folder cannot be written. Nothing was changed.",
                            {{"where", where}}));
    case SQLITE_FULL:
    case SQLITE_IOERR:
      if (!writing)
        throw StoreError(StoreProblem::disk,
                         said("{where} could not be read: {error}. Nothing was changed.",
                              {{"where", where}, {"error", error.what()}}));
      if (error.getErrorCode() == SQLITE_IOERR)
        throw StoreError(StoreProblem::disk,
                         said("The disk failed while {where} was used. The last change was not "
                              "kept; everything before it is safe.",
                              {{"where", where}}));
      throw StoreError(StoreProblem::disk, said("The disk is full. The last change to {where} was "
                                                "not kept; everything before it is safe.",
                                                {{"where", where}}));
    case SQLITE_NOTADB:
      throw StoreError(
          StoreProblem::not_a_project,
          said("{where} is not a Brave Quarry project. Nothing was changed.", {{"where", where}}));
    case SQLITE_CORRUPT:
      throw StoreError(
          StoreProblem::damaged,
          said("{where} is damaged ({error}). Nothing was changed; restore it from a copy.",
               {{"where", where}, {"error", error.what()}}));
    case SQLITE_CONSTRAINT:
      throw StoreError(
          StoreProblem::refused,
          said("This change contradicts what is in the project ({error}). Nothing was changed.",
               {{"error", error.what()}}));
    default:
      throw StoreError(StoreProblem::damaged, said("{where} could not be used: {error}.",
                                                   {{"where", where}, {"error", error.what()}}));
  }
}

void ProjectFile::Database::write(const std::function<void()>& work) const {
  if (!writable)
    throw StoreError(
        StoreProblem::read_only,
        said("{path} is open for reading only. Nothing was changed.", {{"path", quoted(path)}}));
  if (const std::string fault = keeper ? keeper->fault() : ""; !fault.empty())
    throw StoreError(StoreProblem::disk,
                     said("The disk of {path} failed ({fault}). Nothing was changed; save a copy "
                          "of the project on another disk and go on there.",
                          {{"path", quoted(path)}, {"fault", fault}}));
  const auto lock = use();
  if (together) {
    wrote_together = true;
    return work();
  }
  try {
    CheckedTransaction transaction(*sqlite, checksums.get());
    work();
    transaction.commit();
    ++changes;
    if (keeper) keeper->wrote(changes, log_pages);
  } catch (const SQLite::Exception& error) {
    throw_store_error(error, path);
  }
}

bool ProjectFile::together(const std::function<void()>& work) {
  Database& database = *database_;
  if (database.together ||
      !database.writable) {  // part of the one outside; or write() says why not
    work();
    return false;
  }
  const auto lock = database.use();
  const auto leave = [&](void*) { database.together = false; };
  const std::unique_ptr<Database, decltype(leave)> left(&database, leave);
  try {
    CheckedTransaction transaction(*database.sqlite, database.checksums.get());
    database.together = true;
    database.wrote_together = false;
    work();
    transaction.commit();
  } catch (const SQLite::Exception& error) {
    throw_store_error(error, database.path);
  }
  if (database.wrote_together) {
    ++database.changes;
    if (database.keeper) database.keeper->wrote(database.changes, database.log_pages);
  }
  return database.wrote_together;
}

std::int64_t ProjectFile::Database::label_id(const std::string& text) const {
  if (text.empty()) return 0;
  SQLite::Statement find(*sqlite, "SELECT id FROM label WHERE text = ?");
  find.bind(1, text);
  if (find.executeStep()) return find.getColumn(0).getInt64();
  SQLite::Statement add(*sqlite, "INSERT INTO label(text) VALUES(?)");
  add.bind(1, text);
  add.exec();
  return sqlite->getLastInsertRowid();
}

ProjectFile::ProjectFile(std::shared_ptr<Database> database) : database_(std::move(database)) {}
ProjectFile::ProjectFile(ProjectFile&&) noexcept = default;
ProjectFile& ProjectFile::operator=(ProjectFile&&) noexcept = default;

ProjectFile::~ProjectFile() {
  if (!database_ || !database_->writable) return;
  database_->keeper.reset();
  const auto lock = database_->use();  // a picture on its way may be at it
  try {                                // back to one plain file without a log beside it
    database_->sqlite->exec("PRAGMA journal_mode = DELETE");
  } catch (...) {  // the log stays; the next opening replays it
  }
}

void ProjectFile::write_behind(std::function<void(std::uint64_t, const std::string&)> settled) {
  if (!database_->writable) return;
  Database& db = *database_;
  // A change that changes nothing: the log gets its head and its place in the folder, and the
  // folder is on the disk.
  try {
    db.sqlite->exec("PRAGMA user_version = " + std::to_string(kVersion));
    db.sqlite->exec("PRAGMA synchronous = NORMAL");
    db.sqlite->exec("PRAGMA wal_autocheckpoint = 0");
  } catch (const SQLite::Exception& error) {
    throw_store_error(error, db.path);
  }
  sqlite3_wal_hook(
      db.sqlite->getHandle(),
      [](void* self, sqlite3*, const char*, int pages) {
        static_cast<Database*>(self)->log_pages = pages;
        return SQLITE_OK;
      },
      &db);
  db.keeper = std::make_unique<FileKeeper>(
      db.path.string() + "-wal", std::move(settled), [&db] { return db.held->moved(); },
      [&db] {
        const auto lock = db.use();
        try {  // a log that cannot be folded in stays as it is, and whole
          int pages = 0, folded = -1;
          if (sqlite3_wal_checkpoint_v2(db.sqlite->getHandle(), nullptr, SQLITE_CHECKPOINT_PASSIVE,
                                        &pages, &folded) == SQLITE_OK &&
              pages == folded)
            begin_log(*db.sqlite);  // the next one
        } catch (const SQLite::Exception&) {
        }
      });
}

void ProjectFile::fold() const {
  if (!database_->writable) return;
  const auto lock = database_->use();
  const int outcome = sqlite3_wal_checkpoint_v2(database_->sqlite->getHandle(), nullptr,
                                                SQLITE_CHECKPOINT_TRUNCATE, nullptr, nullptr);
  if (outcome == SQLITE_OK) return;
  const std::string name = path().filename().string();
  throw StoreError(
      StoreProblem::disk,
      said("{path} could not be brought to its end: {error}. Nothing is lost: what was "
           "written is in {name}-wal beside it and belongs to it. Make room and open it once more.",
           {{"path", quoted(path())}, {"error", sqlite3_errstr(outcome)}, {"name", name}}));
}

void ProjectFile::fold_soon() {
  if (database_->keeper) database_->keeper->rest_now();
}

std::uint64_t ProjectFile::changes() const { return database_->changes; }
const fs::path& ProjectFile::path() const { return database_->path; }
bool ProjectFile::writable() const { return database_->writable; }
bool ProjectFile::from_newer_version() const { return database_->newer; }
const fs::path& ProjectFile::copy_of_older() const { return database_->copy_of_older; }
const std::string& ProjectFile::log_set_aside() const { return database_->log_set_aside; }

ProjectFile ProjectFile::create(const fs::path& path, const std::string& title) {
  std::error_code ignored;
  if (fs::exists(path, ignored))
    throw StoreError(StoreProblem::exists, said("{path} is already there. Nothing was changed.",
                                                {{"path", quoted(path)}}));
  // What an earlier project of this name left behind is not for this one.
  const std::string aside = set_aside_logs(path);
  // The file appears under its name only when it is a whole project.
  const fs::path draft = path.string() + ".new-" + std::to_string(getpid());
  try {
    {
      SQLite::Database db(draft.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
      db.exec("PRAGMA application_id = " + std::to_string(kApplicationId));
      db.exec("PRAGMA user_version = " + std::to_string(kVersion));
      SQLite::Transaction transaction(db);
      make_schema(db, kVersion);
      SQLite::Statement add(db, "INSERT INTO setting VALUES('title', ?)");
      add.bind(1, title);
      add.exec();
      Checksums::make_anew(db);
      transaction.commit();
    }
    if (link(draft.c_str(), path.c_str()) != 0 && rename(draft.c_str(), path.c_str()) != 0)
      throw StoreError(StoreProblem::read_only,
                       said("{path} cannot be made there.", {{"path", quoted(path)}}));
    fs::remove(draft, ignored);
  } catch (const SQLite::Exception& error) {
    fs::remove(draft, ignored);
    throw_store_error(error, path);
  } catch (...) {
    fs::remove(draft, ignored);
    throw;
  }
  ProjectFile made = open(path, Access::write);
  made.database_->log_set_aside = aside;
  return made;
}

bool ProjectFile::is_copy() const { return database_->copy != nullptr; }
bool ProjectFile::outdated() const { return database_->copy && database_->copy->outdated(); }

ProjectFile ProjectFile::open(const fs::path& path, Access access) {
  std::error_code ignored;
  const bool log = fs::exists(path.string() + "-wal", ignored);
  if (access == Access::beside || (access == Access::read && log && is_closed_folder(path)))
    return open_from(path, access, std::make_unique<PrivateCopy>(path));
  try {
    return open_from(path, access, nullptr);
  } catch (const StoreError& error) {
    // A log is read with a file of SQLite's own beside it, for which there may be no room.
    if (access != Access::read || !log ||
        (error.problem() != StoreProblem::disk && error.problem() != StoreProblem::read_only))
      throw;
    return open_from(path, access, std::make_unique<PrivateCopy>(path));
  }
}

ProjectFile ProjectFile::open_from(const fs::path& path, Access access,
                                   std::unique_ptr<PrivateCopy> copy) {
  auto database = std::make_shared<Database>();
  database->copy = std::move(copy);
  const fs::path file = database->copy ? database->copy->file() : path;
  const Header header = checked_header(path, file);
  database->path = path;
  database->newer = header.version > std::uint32_t(kVersion);
  database->writable = access == Access::write;
  if (access == Access::write && database->newer)
    throw StoreError(
        StoreProblem::newer,
        said("{path} was written by a newer version of the program (file version {version}, this "
             "one knows {version_2}). It can be read here, not changed.",
             {{"path", quoted(path)},
              {"version", std::to_string(header.version)},
              {"version_2", std::to_string(kVersion)}}));
  if (access == Access::write && is_write_protected(path))
    throw StoreError(StoreProblem::read_only,
                     said("{path} or its folder cannot be written. It can be read, not changed.",
                          {{"path", quoted(path)}}));
  if (access != Access::beside)
    database->held = std::make_unique<ProjectLock>(
        path, access == Access::write ? ProjectLock::Kind::writing : ProjectLock::Kind::reading);
  const LeftOverLog log = look_at_log(file, access == Access::write);
  database->log_set_aside = log.set_aside;
  if (access == Access::write && !log.belongs && log.set_aside.empty())
    throw StoreError(
        StoreProblem::read_only,
        said("Beside {path} lies a log that does not belong to it, and it cannot be moved out of "
             "the way. Nothing was changed; move {filename}-wal to another folder.",
             {{"path", quoted(path)}, {"filename", path.filename().string()}}));
  try {
    // One thread at a time uses a project (Database::use), so SQLite's own locking is left out.
    const int flags = (access == Access::write ? SQLite::OPEN_READWRITE : SQLite::OPEN_READONLY) |
                      SQLite::OPEN_NOMUTEX | SQLite::OPEN_URI;
    // A foreign log stays where it is while one only reads, and is not read.
    database->sqlite = std::make_unique<SQLite::Database>(
        log.belongs || access == Access::write ? file.string() : uri_without_log(file), flags, 100);
    // Fewer, larger looks at the disk for projects with a million readings.
    database->sqlite->exec("PRAGMA cache_size = -16000");
    // Exclusive from the first access on: no second program can read half a change or write one.
    if (access == Access::write) database->sqlite->exec("PRAGMA locking_mode = EXCLUSIVE");
    harden(*database->sqlite);
    if (!database->newer) refuse_strangers(*database->sqlite, path, header.version);
    if (access == Access::write) {
      lock_for_writing(*database->sqlite);
      if (header.version < std::uint32_t(kVersion)) migrate(*database, header.version);
      // What a killed program left in the log is folded in first: a log is counted up when it
      // begins, not when it goes on.
      if (sqlite3_wal_checkpoint_v2(database->sqlite->getHandle(), nullptr,
                                    SQLITE_CHECKPOINT_TRUNCATE, nullptr, nullptr) == SQLITE_OK)
        begin_log(*database->sqlite);
      database->checksums = std::make_unique<Checksums>(*database->sqlite);
      CheckedTransaction transaction(*database->sqlite, database->checksums.get());
      drop_left_over_pictures(*database->sqlite);
      transaction.commit();
    }
    SQLite::Statement probe(*database->sqlite, "SELECT count(*) FROM sqlite_master");
    probe.executeStep();
  } catch (const SQLite::Exception& error) {
    throw_store_error(error, path, access == Access::write);
  }
  return ProjectFile(std::move(database));
}

}  // namespace bq::inline store
