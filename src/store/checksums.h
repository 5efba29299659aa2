#pragma once

#include <SQLiteCpp/SQLiteCpp.h>

#include <compare>
#include <cstdint>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace bq::inline store {

/// What version 6 added.
extern const char* const kChecksumSchema;

/// What has a checksum of its own: the rows of one table that belong to one thing.
struct CheckedPart {
  std::size_t table = 0;  ///< its place in the list of checked tables
  std::int64_t id = 0;    ///< of the run, blade, picture, …; 0 where the thing has a name
  std::string name;       ///< of the setting, steel, …
  auto operator<=>(const CheckedPart&) const = default;
};
/// What a person calls it: "the readings of run C01".
std::string name_of(SQLite::Database& db, const CheckedPart& part);

/// Keeps the table `checksum` true to what this program writes: SQLite tells of every row before
/// and after each change, whichever statement makes it. A part's sum is that of its rows' hashes
/// (64 bits, so any order will do); it is changed, never made anew: what something else did to a
/// row stays visible. Whatever is damaged in silence, by a disk or another program, differs from
/// its sum. The log's own setting (kLogKey) and parts of pictures, which have a SHA-256, have none.
class Checksums {
 public:
  /// Every change by `db` from here on; `db` outlives it and has version 6 or later.
  explicit Checksums(SQLite::Database& db);
  ~Checksums();
  Checksums(const Checksums&) = delete;
  Checksums& operator=(const Checksums&) = delete;

  /// Sums of everything that is there; what they were before is gone. Inside a transaction.
  static void make_anew(SQLite::Database& db);

 private:
  friend class CheckedTransaction;
  friend class ChecksumScan;
  struct Inside;
  std::unique_ptr<Inside> inside_;
};

/// A transaction whose changes are in the checksums when it is committed; taken back otherwise.
class CheckedTransaction {
 public:
  /// Without sums (null) an ordinary one.
  CheckedTransaction(SQLite::Database& db, Checksums* sums);
  void commit();

 private:
  SQLite::Transaction inner_;
  Checksums* sums_;
};

/// Compares a project with its sums, a piece at a time, while others change it in between through
/// the same connection.
class ChecksumScan {
 public:
  /// `sums`: of a project that is written meanwhile; null where nobody writes.
  ChecksumScan(SQLite::Database& db, Checksums* sums);
  ~ChecksumScan();
  ChecksumScan(const ChecksumScan&) = delete;
  ChecksumScan& operator=(const ChecksumScan&) = delete;
  /// Reads about `rows` more. False when all was read: unlike() is final then.
  bool go_on(std::int64_t rows);
  [[nodiscard]] const std::vector<CheckedPart>& unlike() const { return unlike_; }

 private:
  friend struct Checksums::Inside;
  void compare();
  SQLite::Database& db_;
  Checksums* sums_;
  std::size_t table_ = 0;
  std::int64_t passed_ = INT64_MIN;  ///< the row the scan of a table came to
  std::map<CheckedPart, std::uint64_t> found_;
  std::vector<CheckedPart> unlike_;
};

}  // namespace bq::inline store
