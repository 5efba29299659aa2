#include "store/left_over_log.h"

#include <sqlite3.h>
#include <unistd.h>

#include <charconv>
#include <cstdio>
#include <optional>
#include <random>

namespace bq::inline store {
namespace fs = std::filesystem;
namespace {

struct Mark {
  std::string identity;
  long count = 0;
};

std::optional<Mark> mark_in(SQLite::Database& db) {
  SQLite::Statement find(db, "SELECT value FROM setting WHERE key = ?");
  find.bind(1, kLogKey);
  if (!find.executeStep()) return std::nullopt;
  const std::string text = find.getColumn(0).getString();
  const auto colon = text.find(':');
  if (colon == std::string::npos) return std::nullopt;
  Mark mark{text.substr(0, colon), 0};
  std::from_chars(text.data() + colon + 1, text.data() + text.size(), mark.count);
  return mark;
}

void put_mark(SQLite::Database& db, const Mark& mark) {
  SQLite::Statement put(db, "INSERT OR REPLACE INTO setting VALUES(?, ?)");
  put.bind(1, kLogKey);
  put.bind(2, mark.identity + ":" + std::to_string(mark.count));
  put.exec();
}

std::string new_identity() {
  std::random_device random;
  char text[20];
  std::snprintf(text, sizeof text, "%08x%08x", unsigned(random()), unsigned(random()));
  return text;
}

/// Moves a log out of the way of its file; returns the name it has now, "" where it cannot be
/// moved.
std::string move_aside(const fs::path& file, const char* end) {
  std::error_code error;
  const fs::path log = file.string() + end, to = free_name(log.string() + ".set-aside");
  fs::rename(log, to, error);
  if (error) return "";
  fs::remove(file.string() + "-shm", error);
  return to.filename().string();
}

/// The file alone, whatever log lies beside it.
std::optional<Mark> mark_of_file(const fs::path& path, bool& readable) {
  try {
    SQLite::Database db(uri_without_log(path), SQLite::OPEN_READONLY | SQLite::OPEN_URI);
    auto mark = mark_in(db);
    readable = true;
    return mark;
  } catch (const SQLite::Exception&) {
    readable = false;
    return std::nullopt;
  }
}

/// A link (or copy) of the file with a copy of its log, gone again at the end.
class Twin {
 public:
  explicit Twin(const fs::path& path) : file_(path.string() + ".look-" + std::to_string(getpid())) {
    std::error_code error;
    fs::create_hard_link(path, file_, error);
    if (error) fs::copy_file(path, file_);
    fs::copy_file(path.string() + "-wal", file_.string() + "-wal");
  }
  ~Twin() { remove_with_logs(file_); }
  Twin(const Twin&) = delete;
  Twin& operator=(const Twin&) = delete;
  [[nodiscard]] const fs::path& file() const { return file_; }

 private:
  fs::path file_;
};

}  // namespace

std::string uri_without_log(const fs::path& path) {
  std::string uri = "file:";
  for (const char c : fs::absolute(path).string())
    if (c == '?' || c == '#' || c == '%') {
      char code[4];
      std::snprintf(code, sizeof code, "%%%02X", unsigned(c));
      uri += code;
    } else {
      uri += c;
    }
  return uri + "?immutable=1";
}

void begin_log(SQLite::Database& db) {
  Mark mark = mark_in(db).value_or(Mark{new_identity(), 0});
  ++mark.count;
  put_mark(db, mark);
}

void give_new_identity(const fs::path& path) {
  SQLite::Database db(path.string(), SQLite::OPEN_READWRITE);
  put_mark(db, {new_identity(), 0});
}

fs::path free_name(const std::string& stem, const std::string& end) {
  std::error_code ignored;
  fs::path out = stem + end;
  for (int i = 2; fs::exists(out, ignored); ++i) out = stem + "-" + std::to_string(i) + end;
  return out;
}

void remove_with_logs(const fs::path& file) {
  std::error_code ignored;
  for (const char* end : {"", "-wal", "-shm", "-journal"}) fs::remove(file.string() + end, ignored);
}

std::string set_aside_logs(const fs::path& path) {
  std::string names;
  std::error_code ignored;
  for (const char* end : {"-wal", "-journal"}) {
    if (!fs::exists(path.string() + end, ignored)) continue;
    if (const std::string name = move_aside(path, end); !name.empty())
      names += (names.empty() ? "" : ", ") + name;
  }
  return names;
}

LeftOverLog look_at_log(const fs::path& path, bool may_move) {
  LeftOverLog out;
  std::error_code error;
  const auto size = fs::file_size(path.string() + "-wal", error);
  if (error || size == 0) return out;
  bool readable = false;
  const auto own = mark_of_file(path, readable);
  if (!readable) return out;  // without its log the file says nothing: it may need it
  try {
    const Twin twin(path);
    SQLite::Database db(twin.file().string(), SQLite::OPEN_READONLY);
    const auto after = mark_in(db);
    if (own)
      out.belongs = after && after->identity == own->identity &&
                    (after->count == own->count || after->count == own->count + 1);
    else  // a file from before logs were marked, or whose first log this is
      out.belongs = !after || after->count <= 1;
  } catch (const SQLite::Exception& problem) {
    // The file alone can be read, together with this log it cannot.
    const int code = problem.getErrorCode() & 0xff;
    out.belongs = code != SQLITE_CORRUPT && code != SQLITE_NOTADB && code != SQLITE_ERROR;
  } catch (const fs::filesystem_error&) {
    return out;  // no room or no permission for the look: as it was
  }
  if (!out.belongs && may_move) out.set_aside = move_aside(path, "-wal");
  return out;
}

}  // namespace bq::inline store
