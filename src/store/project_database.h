#pragma once

#include <SQLiteCpp/SQLiteCpp.h>

#include <atomic>
#include <functional>
#include <memory>
#include <mutex>

#include "store/checksums.h"
#include "store/file_keeper.h"
#include "store/left_over_log.h"
#include "store/one_at_a_time.h"
#include "store/private_copy.h"
#include "store/project_file.h"
#include "store/project_lock.h"

namespace bq::inline store {

/// NULL where there is no value.
inline void bind_optional(SQLite::Statement& statement, int index, std::optional<double> value) {
  if (value)
    statement.bind(index, *value);
  else
    statement.bind(index);
}

/// Inside of ProjectFile; only the project_*.cpp files see it.
struct ProjectFile::Database {
  std::filesystem::path path;
  bool writable = false;
  bool newer = false;
  std::filesystem::path copy_of_older;
  std::string log_set_aside;
  std::unique_ptr<PrivateCopy> copy;  ///< what `sqlite` reads instead of the file at `path`
  std::unique_ptr<ProjectLock> held;  ///< before `sqlite`: let go after it
  std::unique_ptr<SQLite::Database> sqlite;
  std::unique_ptr<Checksums> checksums;  ///< of a project that is open for writing
  std::unique_ptr<ChecksumScan> scan;    ///< under way
  mutable std::atomic<std::uint64_t> changes = 0;
  int log_pages = 0;
  mutable OneAtATime in_use;  ///< held by whoever uses `sqlite`: the keeper folds the log in on its
                              ///< own thread, pictures come and go on others
  std::unique_ptr<FileKeeper> keeper;  ///< last: it uses the others

  [[nodiscard]] std::unique_lock<OneAtATime> use() const { return std::unique_lock(in_use); }
  /// Runs `work` in one transaction, durable on return (in the log, where a keeper brings it to the
  /// disk); SQLite's errors become StoreErrors.
  void write(const std::function<void()>& work) const;
  /// Inside ProjectFile::together: write() is part of its transaction.
  mutable bool together = false;
  mutable bool wrote_together = false;
  /// Made once: preparing them took a third of the time of keeping a reading.
  struct ReadingStatements {
    explicit ReadingStatements(SQLite::Database& db)
        : add(db,
              "INSERT INTO reading(id, run_id, cuts, value, unit, station, operator, excluded, "
              "reason, entered_at, gauge) VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"),
          cuts(db, "UPDATE run SET cuts_done = max(cuts_done, ?) WHERE id = ?") {}
    SQLite::Statement add, cuts;
  };
  mutable std::unique_ptr<ReadingStatements> reading_statements;
  /// Id of a shared text, made when new; 0 for "".
  [[nodiscard]] std::int64_t label_id(const std::string& text) const;
  /// Inside a transaction: a reading, its run's cuts not below it; returns its id.
  std::int64_t insert_reading(std::int64_t run_id, const Reading& reading,
                              const LabelTable& labels) const;
};

/// Turns SQLite's exception into a sentence about this file; `writing`: of a change that was not
/// kept.
[[noreturn]] void throw_store_error(const SQLite::Exception& error,
                                    const std::filesystem::path& path, bool writing = true);

/// Runs a statement that removes the row with this id.
void remove_row(SQLite::Database& db, const char* statement, std::int64_t id);

/// Copies the file beside itself, then brings its schema up to date, in one transaction.
void migrate(ProjectFile::Database& database, std::uint32_t from_version);
/// What version 2 added.
extern const char* const kEdgeSchema;
/// What version 3 added.
extern const char* const kShelfSchema;
/// What version 4 added.
extern const char* const kBenchSchema;
/// What version 5 added.
extern const char* const kPictureSchema;

void insert_edge_record(SQLite::Database& db, std::int64_t blade_id, EdgeRecord& record);
void put_steel_card(SQLite::Database& db, const SteelCard& card);
void put_medium_card(SQLite::Database& db, const MediumCard& card);
void put_abrasive(SQLite::Database& db, const Abrasive& abrasive);
void insert_comparison(SQLite::Database& db, Comparison& comparison);
void load_shelf(SQLite::Database& db, Trial& trial);
void put_micrograph(SQLite::Database& db, const Micrograph& micrograph,
                    const std::string& thumbnail);
/// Pictures of looks become micrographs (version 5).
void take_over_looks(SQLite::Database& db);
/// Bytes that no micrograph and no look points at.
void drop_left_over_pictures(SQLite::Database& db);
void load_micrographs(SQLite::Database& db, Trial& trial);
void check_pictures(const ProjectFile::Database& database,
                    const std::shared_ptr<PictureStore>& pictures,
                    std::vector<std::string>& problems);
/// Events of the bench into a trial whose runs are loaded.
void load_bench(SQLite::Database& db, Trial& trial);
/// Histories and cards into a trial whose blades are loaded.
void load_edges(SQLite::Database& db, Trial& trial);
/// Facts and plan of a run into run and run_factor, inside a transaction; returns its id.
std::int64_t insert_run(SQLite::Database& db, const Run& run, std::optional<std::int64_t> blade_id);
/// Facts, plan and factors of a run that is there, inside a transaction.
void change_run(SQLite::Database& db, std::int64_t id, const RunFacts& facts, const RunPlan& plan);
/// Id of the blade with this name, or empty.
std::optional<std::int64_t> blade_id_of(SQLite::Database& db, const std::string& name);
/// Adds the factors of a run that has none yet.
void write_factors(SQLite::Database& db, std::int64_t run_id, const RunFacts& facts);
void bind_facts(SQLite::Statement& statement, const RunFacts& facts, const RunPlan& plan,
                std::optional<std::int64_t> blade_id);

/// Columns that bind_facts fills, in order, for INSERT and UPDATE.
inline constexpr const char* kRunColumns =
    "name, blade_id, steel, edge_left_deg, edge_right_deg, micro_left_deg, micro_right_deg, "
    "finish_left_um, finish_right_um, medium, cut_mode, block, checkpoints, readings_each";
inline constexpr int kRunColumnCount = 14;

}  // namespace bq::inline store
