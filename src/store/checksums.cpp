#include "store/checksums.h"

#include <sqlite3.h>
#define XXH_INLINE_ALL
#include <xxhash.h>

#include <array>
#include <cmath>
#include <cstring>
#include <limits>

#include "store/left_over_log.h"
#include "store/project_file.h"
#include "store/project_schema.h"

namespace bq::inline store {

const char* const kChecksumSchema = R"sql(
CREATE TABLE checksum(
  of TEXT NOT NULL, id INTEGER NOT NULL, name TEXT NOT NULL, sum INTEGER NOT NULL,
  PRIMARY KEY(of, id, name)) WITHOUT ROWID;
)sql";

namespace {

struct CheckedTable {
  const char* name;
  const char* key;  ///< the column that tells whose a row is; "" the table is one part
  bool key_is_text;
  bool has_rowid;     ///< read by its rows' numbers, in pieces
  const char* words;  ///< "%" stands for the thing's name
};

constexpr std::array<CheckedTable, 16> kTables{{
    {"setting", "key", true, false, "the setting %"},
    {"label", "", false, true, "the names of stations, operators, gauges and reasons"},
    {"blade", "id", false, true, "blade %"},
    {"run", "id", false, true, "run %"},
    {"run_factor", "run_id", false, false, "the factors of run %"},
    {"reading", "run_id", false, true, "the readings of run %"},
    {"edge_record", "blade_id", false, true, "the history of blade %"},
    {"steel", "name", true, false, "the card of the steel %"},
    {"medium", "name", true, false, "the card of the medium %"},
    {"abrasive", "name", true, false, "the abrasive %"},
    {"comparison", "id", false, true, "comparison %"},
    {"bench_event", "run_id", false, true, "what was noted at the bench of run %"},
    {"stroke", "run_id", false, true, "the strokes of run %"},
    {"picture", "id", false, true, "picture %"},
    {"micrograph", "id", false, true, "what was measured in picture %"},
    {"bench_session", "id", false, true, "session % of the bench"},
}};

/// Columns of a checked table, in the schema's order, and the place of its key; -1 none.
struct Shape {
  int columns = 0;
  int key = -1;
};
const std::array<Shape, kTables.size()>& shapes() {
  static const auto made = [] {
    std::array<Shape, kTables.size()> out{};
    for (const SchemaEntry& entry : schema_of_version(ProjectFile::kVersion))
      for (std::size_t t = 0; t < kTables.size(); ++t)
        if (entry.type == "table" && entry.name == kTables[t].name) {
          out[t].columns = int(entry.columns.size());
          for (std::size_t c = 0; c < entry.columns.size(); ++c)
            if (entry.columns[c] == kTables[t].key) out[t].key = int(c);
        }
    return out;
  }();
  return made;
}

/// One row as bytes that are the same whenever its values are: a whole number is one whether SQLite
/// hands it out as such or as a real.
class RowBytes {
 public:
  void clear() { bytes_.clear(); }
  void null() { bytes_ += 'n'; }
  void integer(std::int64_t value) {
    bytes_ += 'i';
    raw(&value, sizeof value);
  }
  void real(double value) {
    if (value == std::floor(value) && std::abs(value) < 9e15) return integer(std::int64_t(value));
    bytes_ += 'r';
    raw(&value, sizeof value);
  }
  void bytes(char kind, const void* data, int size) {
    bytes_ += kind;
    raw(&size, sizeof size);
    raw(data, std::size_t(size));
  }
  [[nodiscard]] std::size_t size() const { return bytes_.size(); }
  [[nodiscard]] std::uint64_t hash() const { return XXH3_64bits(bytes_.data(), bytes_.size()); }

 private:
  void raw(const void* data, std::size_t size) {
    if (size) bytes_.append(static_cast<const char*>(data), size);
  }
  std::string bytes_;
};

/// The values of a row: of a statement's result, or of a change (sqlite3_value).
struct StatementCells {
  sqlite3_stmt* row;
  [[nodiscard]] int type(int i) const { return sqlite3_column_type(row, i); }
  [[nodiscard]] std::int64_t integer(int i) const { return sqlite3_column_int64(row, i); }
  [[nodiscard]] double real(int i) const { return sqlite3_column_double(row, i); }
  [[nodiscard]] const void* data(int i) const {
    return type(i) == SQLITE_TEXT ? sqlite3_column_text(row, i) : sqlite3_column_blob(row, i);
  }
  [[nodiscard]] int size(int i) const { return sqlite3_column_bytes(row, i); }
};
struct ChangeCells {
  sqlite3* db;
  int (*value)(sqlite3*, int, sqlite3_value**);  ///< sqlite3_preupdate_old or _new
  [[nodiscard]] sqlite3_value* at(int i) const {
    sqlite3_value* out = nullptr;
    if (value(db, i, &out) != SQLITE_OK) throw SQLite::Exception(db);
    return out;
  }
  [[nodiscard]] int type(int i) const { return sqlite3_value_type(at(i)); }
  [[nodiscard]] std::int64_t integer(int i) const { return sqlite3_value_int64(at(i)); }
  [[nodiscard]] double real(int i) const { return sqlite3_value_double(at(i)); }
  [[nodiscard]] const void* data(int i) const {
    return type(i) == SQLITE_TEXT ? sqlite3_value_text(at(i)) : sqlite3_value_blob(at(i));
  }
  [[nodiscard]] int size(int i) const { return sqlite3_value_bytes(at(i)); }
};

template <class Cells>
std::uint64_t hash_of(const Cells& cells, int columns, RowBytes& bytes) {
  bytes.clear();
  for (int i = 0; i < columns; ++i) switch (const int type = cells.type(i); type) {
      case SQLITE_INTEGER:
        bytes.integer(cells.integer(i));
        break;
      case SQLITE_FLOAT:
        bytes.real(cells.real(i));
        break;
      case SQLITE_TEXT:
      case SQLITE_BLOB: {
        const void* data = cells.data(i);
        bytes.bytes(type == SQLITE_TEXT ? 't' : 'b', data, cells.size(i));
        break;
      }
      default:
        bytes.null();
    }
  return bytes.hash();
}

template <class Cells>
CheckedPart part_of(const Cells& cells, std::size_t table) {
  CheckedPart out{table, 0, {}};
  const int key = shapes()[table].key;
  if (key < 0) return out;
  if (!kTables[table].key_is_text) {
    out.id = cells.integer(key);
  } else if (const void* text = cells.data(key)) {
    out.name.assign(static_cast<const char*>(text), std::size_t(cells.size(key)));
  }
  return out;
}

bool is_unchecked(const CheckedPart& part) { return part.table == 0 && part.name == kLogKey; }

constexpr std::int64_t kBeforeAll = std::numeric_limits<std::int64_t>::min();
/// Large cells (pictures) count as many rows.
constexpr int kBytesPerRow = 200;

/// Adds the hashes of a table's rows after the row `after` to their parts' sums. Stops after about
/// `rows` of them and returns the last; nothing when the table was read to its end.
std::optional<std::int64_t> read_rows(SQLite::Database& db, std::size_t table, std::int64_t after,
                                      std::int64_t rows,
                                      std::map<CheckedPart, std::uint64_t>& sums) {
  const CheckedTable& known = kTables[table];
  const std::string from = std::string(" FROM ") + known.name;
  // SQLite's own calls: a cell handed out as an object costs more than its hash.
  sqlite3_stmt* all = nullptr;
  const std::string sql = known.has_rowid
                              ? "SELECT *, rowid" + from + " WHERE rowid > ? ORDER BY rowid"
                              : "SELECT *" + from;
  if (sqlite3_prepare_v2(db.getHandle(), sql.c_str(), -1, &all, nullptr) != SQLITE_OK)
    throw SQLite::Exception(db.getHandle());
  const std::unique_ptr<sqlite3_stmt, int (*)(sqlite3_stmt*)> done(all, sqlite3_finalize);
  if (known.has_rowid) sqlite3_bind_int64(all, 1, after);
  const int columns = shapes()[table].columns;
  const StatementCells cells{all};
  RowBytes bytes;
  CheckedPart part{kTables.size(), 0, {}};
  std::uint64_t* sum = nullptr;
  int step = SQLITE_ROW;
  while ((step = sqlite3_step(all)) == SQLITE_ROW) {
    if (CheckedPart own = part_of(cells, table); own != part) {
      part = std::move(own);
      sum = is_unchecked(part) ? nullptr : &sums[part];
    }
    const std::uint64_t hash = hash_of(cells, columns, bytes);
    if (sum) *sum += hash;
    rows -= 1 + std::int64_t(bytes.size()) / kBytesPerRow;
    if (rows <= 0 && known.has_rowid) return sqlite3_column_int64(all, columns);
  }
  if (step != SQLITE_DONE) throw SQLite::Exception(db.getHandle());
  return std::nullopt;
}

std::optional<std::size_t> table_named(std::string_view name) {
  for (std::size_t t = 0; t < kTables.size(); ++t)
    if (name == kTables[t].name) return t;
  return std::nullopt;
}

}  // namespace

std::string name_of(SQLite::Database& db, const CheckedPart& part) {
  const CheckedTable& table = kTables[part.table];
  const std::string key = table.key;
  std::string thing = part.name;
  if (!table.key_is_text) {
    const std::string of =
        key == "run_id" || std::string_view(table.name) == "run"       ? "run"
        : key == "blade_id" || std::string_view(table.name) == "blade" ? "blade"
        : std::string_view(table.name) == "picture" || std::string_view(table.name) == "micrograph"
            ? "picture"
            : "";
    thing = std::to_string(part.id);
    if (!of.empty()) {
      SQLite::Statement find(db, "SELECT name FROM " + of + " WHERE id = ?");
      find.bind(1, part.id);
      thing = find.executeStep() ? find.getColumn(0).getString() : "number " + thing;
    }
  }
  if (std::string_view(table.name) == "bench_event" && part.id == 0)
    return "what was noted at the bench outside runs";
  std::string out = table.words;
  if (const auto at = out.find('%'); at != std::string::npos) out.replace(at, 1, thing);
  return out;
}

struct Checksums::Inside {
  explicit Inside(SQLite::Database& of)
      : db(of),
        find(of, "SELECT sum FROM checksum WHERE of = ? AND id = ? AND name = ?"),
        put(of, "INSERT OR REPLACE INTO checksum VALUES(?, ?, ?, ?)"),
        update(of, "UPDATE checksum SET sum = ?4 WHERE of = ?1 AND id = ?2 AND name = ?3"),
        remove(of, "DELETE FROM checksum WHERE of = ? AND id = ? AND name = ?") {}

  SQLite::Database& db;
  SQLite::Statement find, put, update, remove;
  static constexpr std::size_t kMostKnown = 100'000;
  std::map<CheckedPart, std::uint64_t> sums;                ///< as they are in the file
  std::vector<std::pair<CheckedPart, std::uint64_t>> next;  ///< once this transaction is in it
  RowBytes bytes;
  std::map<CheckedPart, std::uint64_t> changed;  ///< by the transaction under way
  std::map<CheckedPart, std::uint64_t> passed;   ///< of those, what the scan had read already
  ChecksumScan* scan = nullptr;
  std::string fault;  ///< nothing can be thrown through SQLite

  void add(const CheckedPart& part, std::uint64_t hash, std::int64_t row) {
    if (is_unchecked(part)) return;
    changed[part] += hash;
    if (scan && part.table == scan->table_ && kTables[part.table].has_rowid && row <= scan->passed_)
      passed[part] += hash;
  }
  void heard(sqlite3* handle, int what, std::size_t table, std::int64_t before,
             std::int64_t after) {
    const int columns = shapes()[table].columns;
    if (what != SQLITE_INSERT) {
      const ChangeCells old{handle, sqlite3_preupdate_old};
      add(part_of(old, table), 0 - hash_of(old, columns, bytes), before);
    }
    if (what != SQLITE_DELETE) {
      const ChangeCells now{handle, sqlite3_preupdate_new};
      add(part_of(now, table), hash_of(now, columns, bytes), after);
    }
  }
  static void on_change(void* self, sqlite3* handle, int what, const char* database,
                        const char* table, sqlite3_int64 before, sqlite3_int64 after) {
    auto& inside = *static_cast<Inside*>(self);
    if (std::string_view(database) != "main") return;
    const auto known = table_named(table);
    if (!known) return;
    try {
      inside.heard(handle, what, *known, before, after);
    } catch (const std::exception& error) {
      inside.fault = error.what();
    }
  }

  static void bind(SQLite::Statement& statement, const CheckedPart& part) {
    statement.bind(1, kTables[part.table].name);
    statement.bind(2, part.id);
    statement.bind(3, part.name);
  }
  /// What the file says; nobody else changes it while it is open, so it is asked for once.
  [[nodiscard]] std::uint64_t kept(const CheckedPart& part) {
    const auto known = sums.find(part);
    if (known != sums.end()) return known->second;
    bind(find, part);
    const std::uint64_t sum = find.executeStep() ? std::uint64_t(find.getColumn(0).getInt64()) : 0;
    find.reset();
    return sum;
  }
  void begin() {
    changed.clear();
    passed.clear();
    fault.clear();
  }
  void write() {
    if (!fault.empty()) throw SQLite::Exception("checksums: " + fault, SQLITE_NOMEM);
    next.clear();
    for (const auto& [part, change] : changed) {
      if (change == 0) continue;
      const std::uint64_t before = kept(part), sum = before + change;
      next.emplace_back(part, sum);
      // No rows, no sum.
      SQLite::Statement& statement = !sum ? remove : before ? update : put;
      bind(statement, part);
      if (sum) statement.bind(4, std::int64_t(sum));
      statement.exec();
      statement.reset();
    }
  }
  void written() {
    if (scan)
      for (const auto& [part, change] : passed) scan->found_[part] += change;
    if (sums.size() > kMostKnown) sums.clear();
    for (const auto& [part, sum] : next) sums[part] = sum;
    begin();
  }
};

Checksums::Checksums(SQLite::Database& db) : inside_(std::make_unique<Inside>(db)) {
  sqlite3_preupdate_hook(db.getHandle(), &Inside::on_change, inside_.get());
}
Checksums::~Checksums() { sqlite3_preupdate_hook(inside_->db.getHandle(), nullptr, nullptr); }

CheckedTransaction::CheckedTransaction(SQLite::Database& db, Checksums* sums)
    : inner_(db), sums_(sums) {
  if (sums_) sums_->inside_->begin();
}
void CheckedTransaction::commit() {
  if (sums_) sums_->inside_->write();
  inner_.commit();
  if (sums_) sums_->inside_->written();
}

ChecksumScan::ChecksumScan(SQLite::Database& db, Checksums* sums) : db_(db), sums_(sums) {
  if (sums_) sums_->inside_->scan = this;
}
ChecksumScan::~ChecksumScan() {
  if (sums_) sums_->inside_->scan = nullptr;
}

bool ChecksumScan::go_on(std::int64_t rows) {
  for (; table_ < kTables.size(); ++table_, passed_ = kBeforeAll) {
    const auto last = read_rows(db_, table_, passed_, rows, found_);
    if (last) {
      passed_ = *last;
      return true;
    }
    compare();
  }
  return false;
}

void ChecksumScan::compare() {
  SQLite::Statement kept(db_, "SELECT id, name, sum FROM checksum WHERE of = ?");
  kept.bind(1, kTables[table_].name);
  while (kept.executeStep()) {
    const CheckedPart part{table_, kept.getColumn(0).getInt64(), kept.getColumn(1).getString()};
    const auto found = found_.find(part);
    if (found == found_.end() || found->second != std::uint64_t(kept.getColumn(2).getInt64()))
      unlike_.push_back(part);
    if (found != found_.end()) found_.erase(found);
  }
  for (const auto& [part, sum] : found_)  // rows that nobody kept
    if (sum != 0) unlike_.push_back(part);
  found_.clear();
}

void Checksums::make_anew(SQLite::Database& db) {
  db.exec("DELETE FROM checksum");
  SQLite::Statement put(db, "INSERT INTO checksum VALUES(?, ?, ?, ?)");
  for (std::size_t table = 0; table < kTables.size(); ++table) {
    std::map<CheckedPart, std::uint64_t> sums;
    read_rows(db, table, kBeforeAll, std::numeric_limits<std::int64_t>::max(), sums);
    for (const auto& [part, sum] : sums) {
      Inside::bind(put, part);
      put.bind(4, std::int64_t(sum));
      put.exec();
      put.reset();
    }
  }
}

}  // namespace bq::inline store
