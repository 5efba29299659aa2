#pragma once

#include <cstdint>
#include <filesystem>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <stdexcept>
#include <string>
#include <vector>

#include "store/table_resource.h"
#include "trial/bench_session.h"
#include "trial/force_stroke.h"
#include "trial/trial.h"

namespace bq::inline store {

/// Why a project could not be read or written. The window and the command line give exit codes and
/// words from this; what() is a whole sentence.
enum class StoreProblem {
  missing,        ///< no such file
  not_a_project,  ///< not SQLite, or SQLite of something else
  truncated,      ///< shorter than its own header says
  damaged,        ///< SQLite finds it malformed
  newer,          ///< written by a newer version; can be read, not written
  busy,           ///< open in another window or command
  read_only,      ///< the file, its folder or the disk cannot be written
  disk,           ///< disk full or a failing device
  exists,         ///< a new project would overwrite something
  refused         ///< the change itself is not allowed
};

class StoreError : public std::runtime_error {
 public:
  StoreError(StoreProblem problem, const std::string& sentence)
      : std::runtime_error(sentence), problem_(problem) {}
  [[nodiscard]] StoreProblem problem() const { return problem_; }

 private:
  StoreProblem problem_;
};

/// This moment in UTC: "2026-05-04T09:30:00Z".
std::string now_utc();

struct ImportCounts {
  int runs = 0;
  std::int64_t readings = 0;
  std::int64_t repeats_left_out = 0;  ///< with KnownRuns::only_new
};

/// What an import does with runs of the table that the project has. What both say of such a run
/// (blade, steel, edge, finish, medium, cut, block, factors, unit of the readings) must agree in
/// any case; what only the table says is taken over.
enum class KnownRuns {
  refuse,       ///< nothing is imported
  further,      ///< their readings are added; refused where one is in the project already
  only_new,     ///< readings that are in the project already are left out
  repeats_too,  ///< all are added
};

/// A picture as it came from its file.
struct PictureFile {
  std::int64_t id = 0;
  std::string name;  ///< of the file it came from
  std::string kind;  ///< "png", "jpeg", "tiff", "bmp"
  std::string bytes;
};

class PictureStore;
class ContentCheck;
class PrivateCopy;

/// The project file *.bquarry: one SQLite database (docs/file-format.md). Every change is one
/// transaction that is on disk (fsync) when the call returns, or after write_behind soon after.
/// While a project is open for writing no other program can open it; a crash at any moment leaves
/// the last finished change. Every function throws StoreError.
class ProjectFile {
 public:
  enum class Access {
    read,
    write,
    beside  ///< reads what another program, which may be writing, has kept up to now
  };

  /// Makes a new, empty project. Refuses to overwrite.
  static ProjectFile create(const std::filesystem::path& path, const std::string& title);
  /// Opens an existing one. A file of an older version opened for writing is brought up to date
  /// after a copy was made beside it. With Access::write a file that can only be read throws
  /// read_only, one from a newer version throws newer; open it again with Access::read. One that
  /// another program writes throws busy; open it again with Access::beside.
  static ProjectFile open(const std::filesystem::path& path, Access access);

  ProjectFile(ProjectFile&&) noexcept;
  ProjectFile& operator=(ProjectFile&&) noexcept;
  ~ProjectFile();

  [[nodiscard]] const std::filesystem::path& path() const;
  [[nodiscard]] bool writable() const;
  [[nodiscard]] bool from_newer_version() const;
  /// Read from a copy, for another program may write it (Access::beside).
  [[nodiscard]] bool is_copy() const;
  /// Read from a copy: the project itself is not the same any more.
  [[nodiscard]] bool outdated() const;
  /// The copy that was made before a file of an older version was brought up to date by this
  /// opening; empty when it was not.
  [[nodiscard]] const std::filesystem::path& copy_of_older() const;
  /// The name under which a log was set aside that lay beside the file and was not its own; ""
  /// none.
  [[nodiscard]] const std::string& log_set_aside() const;

  /// From here on a change is in the log when its call returns (kept through any end of the
  /// program) and reaches the disk (kept through a power cut) on a thread of its own, which then
  /// calls `settled` there: FileKeeper. After a fault of the disk every further change is refused.
  void write_behind(std::function<void(std::uint64_t changes, const std::string& fault)> settled);
  /// What is in the log reaches the file itself soon, without waiting for the next rest: the person
  /// went to another window, where the file may be copied.
  void fold_soon();
  /// The log is folded into the file now. Throws StoreError `disk` when there is no room for that:
  /// everything is kept in the log beside it then.
  void fold() const;
  /// Runs `work`: all that it writes through this object is one transaction. When it throws,
  /// nothing of it is on the disk. Inside another one it is part of that. Returns whether anything
  /// was written by it.
  bool together(const std::function<void()>& work);
  /// Changes made since it was opened.
  [[nodiscard]] std::uint64_t changes() const;

  /// Everything in the project. About 0.5 s for a million readings.
  [[nodiscard]] Trial load() const;

  [[nodiscard]] std::optional<std::string> setting(const std::string& key) const;
  [[nodiscard]] std::map<std::string, std::string> settings() const;
  void set_setting(const std::string& key, const std::string& value);

  /// Ids that are 0 are given out; others are kept, so that undo restores the same row.
  /// With its history; returns it as stored.
  Blade add_blade(Blade blade);
  void update_blade(const Blade& blade);  ///< without its history
  void remove_blade(std::int64_t id);     ///< and its history; refused while it has runs
  std::int64_t add_run(const Run& run);   ///< facts, plan and cuts; readings are not taken
  void update_run(std::int64_t id, const RunFacts& facts, const RunPlan& plan);
  void remove_run(std::int64_t id);  ///< refused while it has readings
  void set_run_steel(std::int64_t id, const std::string& steel);
  void set_cuts(std::int64_t run_id, std::int64_t cuts_done);
  /// Ids that are 0 are set, others are kept. A reading sets the run's cuts to at least its own; a
  /// time that is empty is set; run 0: the event belongs to none.
  void put_reading(std::int64_t run_id, Reading& reading, const LabelTable& labels);
  void mark_reading(std::int64_t id, bool excluded, const std::string& reason);
  void remove_reading(std::int64_t id);
  void put_event(std::int64_t run_id, BenchEvent& event);
  void remove_event(std::int64_t id);
  void put_stroke(std::int64_t run_id, ForceStroke& stroke);
  void remove_stroke(std::int64_t id);
  void put_picture(PictureFile& picture);  ///< of a look, whole
  void remove_picture(std::int64_t id);
  [[nodiscard]] std::optional<ForceStroke> stroke(std::int64_t id) const;
  [[nodiscard]] std::optional<PictureFile> picture(std::int64_t id) const;
  /// A picture whose bytes PictureStore::add has put in; `thumbnail`: a small PNG of it.
  void add_micrograph(const Micrograph& micrograph, const std::string& thumbnail);
  void set_scales(const std::vector<MagnificationScale>& scales);
  void set_micrograph(const Micrograph& micrograph);  ///< facts and measures
  void remove_micrograph(std::int64_t id);            ///< its bytes go at the next opening
  void set_thumbnail(std::int64_t id, const std::string& png);
  [[nodiscard]] std::string thumbnail(std::int64_t id) const;  ///< "" none
  /// The bytes of pictures, for other threads.
  [[nodiscard]] std::shared_ptr<PictureStore> pictures() const;
  /// Damage searches and steadiness sessions, oldest first.
  [[nodiscard]] std::vector<BenchSession> bench_sessions() const;
  /// Added (id 0) or replaced; returns it as stored.
  BenchSession set_bench_session(BenchSession session);
  void remove_bench_session(std::int64_t id);

  /// Lines of a blade's history, all or none; a time is set where it is empty. Returns them as
  /// stored.
  std::vector<EdgeRecord> add_edge_records(std::int64_t blade_id, std::vector<EdgeRecord> records);
  void remove_edge_records(const std::vector<EdgeRecord>& records);
  /// Of a record that is there: its data alone.
  void change_edge_record(const EdgeRecord& record);
  void set_steel_card(const SteelCard& card);  ///< added or replaced by name
  void remove_steel_card(const std::string& name);
  void set_medium_card(const MediumCard& card);
  void remove_medium_card(const std::string& name);
  void set_abrasive(const Abrasive& abrasive);  ///< added or replaced by name
  void remove_abrasive(const std::string& name);
  /// Added (id 0) or replaced; returns it as stored.
  Comparison set_comparison(Comparison comparison);
  void remove_comparison(std::int64_t id);

  /// Adds a trial's blades, runs and readings in one transaction. Known blades are used again.
  /// A blade whose steel the project did not know learns it. Refused (nothing written): runs that
  /// the project has, as `known_runs` says; forces and lengths mixed; a blade of another steel.
  ImportCounts import(const Trial& trial, KnownRuns known_runs);
  /// Tells what an import adds from what was there: taken before it.
  struct ImportMark {
    std::int64_t run = 0, blade = 0, reading = 0;              ///< the last ids there were
    std::vector<std::pair<std::int64_t, std::string>> steels;  ///< of the blades there were
  };
  [[nodiscard]] ImportMark import_mark() const;
  /// Takes back an import of tables (KnownRuns::refuse) after which nothing else was changed: its
  /// runs, readings and blades go, blades that learnt a steel have none again.
  void take_back_import(const ImportMark& mark);

  /// Writes a whole copy beside, as one plain file. Refuses to overwrite.
  void copy_to(const std::filesystem::path& target) const;
  /// Right after opening, when nothing is in the log: makes the copy of `day` ("2026-11-29") beside
  /// the project (project_copies.h), unless there is one of that day. It is on the disk when the
  /// call returns; then copies beyond kCopiesKept go, oldest first. Returns why it could not be
  /// made, as a sentence; "" when all is well. Never throws: work goes on without it.
  std::string keep_copy_of_day(const std::string& day) const;

  /// Every table with every row as JSON: {"version": …, "tables": {name: {"columns", "rows"}}};
  /// bytes as {"base64": …}.
  void write_record(std::ostream& out) const;
  /// Makes a new project from a JSON export, whose "record" is what write_record wrote: equal to
  /// the one that was exported. Refused, with the place, when it is none, from a newer version, or
  /// does not hold together; then no file is made.
  static ProjectFile create_from_record(const std::filesystem::path& path, std::string_view json);

  /// Every table of the project as CSV with its schema, and its pictures as files: what an open
  /// data package is made of.
  [[nodiscard]] std::vector<TableResource> table_resources() const;
  [[nodiscard]] std::vector<PictureResource> picture_resources() const;
  /// Makes a new project from such tables, equal to the one they came from. Refused, with table and
  /// row, when they do not hold together; then no file is made.
  static ProjectFile create_from_tables(const std::filesystem::path& path, int version,
                                        const std::vector<TableResource>& tables,
                                        const std::vector<PictureResource>& pictures);

  /// Compares the content with its checksums in the background.
  [[nodiscard]] std::shared_ptr<ContentCheck> content_check() const;
  /// Integrity, foreign keys, schema, checksums and evidence; empty when all is well.
  [[nodiscard]] std::vector<std::string> check() const;

  static constexpr int kVersion = 6;
  static constexpr std::uint32_t kApplicationId = 0x42515259;  // "BQRY"

  struct Database;  ///< inside the store only

 private:
  explicit ProjectFile(std::shared_ptr<Database> database);
  static ProjectFile open_from(const std::filesystem::path& path, Access access,
                               std::unique_ptr<PrivateCopy> copy);
  std::shared_ptr<Database>
      database_;  ///< shared with none but PictureStore, which holds it for a moment at a time
};

}  // namespace bq::inline store
