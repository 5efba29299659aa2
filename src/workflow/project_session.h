#pragma once

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "trial/checkpoints.h"
#include "trial/run_plan.h"
#include "workflow/act_book.h"

namespace bq::inline store {
struct PlanBook;
}

namespace bq::inline workflow {

/// A reading as it was taken.
struct TakenReading {
  double value = 0;
  Unit unit = Unit::gf;
  std::string by_operator, station;
  std::string gauge;  ///< what it was taken with and how
  std::vector<std::string>
      deviations;  ///< noted together with it: "operator B instead of operator A"
};

/// An open project as the window works on it: the trial in memory, every change first on disk, then
/// in memory, then undoable. Functions throw StoreError when the file refuses; then nothing
/// changed, in memory or on disk.
class ProjectSession {
 public:
  /// Opens for writing; falls back to reading only (see read_only_reason) for a file that is
  /// write-protected or from a newer version. Throws StoreError when it cannot be read at all.
  static ProjectSession open(const std::filesystem::path& path);
  /// Reads what another program, which is working on the project, has kept up to now. Throws
  /// StoreError.
  static ProjectSession look_beside(const std::filesystem::path& path);
  [[nodiscard]] bool is_copy() const { return state_.file.is_copy(); }  ///< see ProjectFile
  [[nodiscard]] bool outdated() const { return state_.file.outdated(); }
  ProjectSession(const ProjectSession&) = delete;  // its acts hold on to its state
  ProjectSession& operator=(const ProjectSession&) = delete;

  [[nodiscard]] const Trial& trial() const { return state_.trial; }
  [[nodiscard]] const std::filesystem::path& path() const { return state_.file.path(); }
  [[nodiscard]] bool writable() const { return state_.file.writable(); }
  /// From here on changes reach the disk on a thread of their own: see ProjectFile::write_behind.
  void write_behind(std::function<void(std::uint64_t changes, const std::string& fault)> settled) {
    state_.file.write_behind(std::move(settled));
  }
  [[nodiscard]] std::uint64_t changes() const { return state_.file.changes(); }
  void fold_soon() { state_.file.fold_soon(); }  ///< see ProjectFile
  /// What happened to an older file on opening, as a sentence; empty when nothing did.
  [[nodiscard]] std::string opening_note() const;
  [[nodiscard]] const std::string& read_only_reason() const { return read_only_reason_; }
  /// Another number after every change of that run's readings or steel; for caches.
  [[nodiscard]] std::uint64_t revision(std::size_t run) const { return state_.revision(run); }

  /// The limit at which an edge counts as blunt, as typed ("450 gf", "3x"); "3x" by default.
  [[nodiscard]] std::string threshold_text() const;
  void set_threshold(const std::string& text);

  /// Small things that belong to the project and are kept as they are typed (a section being worked
  /// on, a marker test under way). Each change is one step of undo. "" where nothing is kept.
  [[nodiscard]] std::string kept(const std::string& key) const;
  void keep(const std::string& key, const std::string& value, const std::string& what);

  /// Keeps one reading of a run at its present checkpoint. A reading far from its checkpoint's
  /// others is flagged with the reason, and kept. Returns the reading as stored.
  Reading keep_reading(std::size_t run, const TakenReading& taken);
  Reading keep_reading(std::size_t run, double value, Unit unit, const std::string& by_operator);
  /// `made` cuts where `asked` were wanted. Cutting beyond a checkpoint moves it to where the edge
  /// now is. Refused: made < 1.
  void make_cuts(std::size_t run, std::int64_t asked, std::int64_t made,
                 const std::string& by_operator);
  /// The cuts up to the next checkpoint have been made.
  void confirm_cuts(std::size_t run);
  /// Lines of what happened at the bench, together.
  void record(std::size_t run, const std::vector<BenchEventData>& events,
              const std::string& by_operator);
  void keep_look(std::size_t run, const LookEvent& look, std::optional<PictureFile> picture,
                 const std::string& by_operator);
  /// `at_cuts`: of the run when it was made; empty: those it has now.
  void keep_stroke(std::size_t run, const ForceStroke& stroke, const StrokeEvent& figures,
                   const std::string& by_operator, std::optional<std::int64_t> at_cuts = {});
  /// The start gate is not passed: the readings at 0 cuts are taken out with the gate's reason, and
  /// the edge is sharpened again.
  void send_back(std::size_t run, const GateEvent& gate, const std::string& by_operator);
  void keep_check(const CheckWeightEvent& check, const std::string& by_operator);
  /// Flags readings (run, reading) that have no reason yet; they stay in the fits. One step of
  /// undo. Returns how many.
  int flag_readings(const std::vector<std::pair<std::size_t, std::size_t>>& readings,
                    const std::string& reason);
  [[nodiscard]] std::optional<ForceStroke> stroke(std::int64_t id) const {
    return state_.file.stroke(id);
  }
  [[nodiscard]] std::optional<PictureFile> picture(std::int64_t id) const {
    return state_.file.picture(id);
  }

  /// Compares the project with its checksums, on another thread.
  [[nodiscard]] std::shared_ptr<ContentCheck> content_check() const {
    return state_.file.content_check();
  }
  /// Bytes of pictures, for other threads.
  [[nodiscard]] std::shared_ptr<PictureStore> pictures() const { return state_.file.pictures(); }
  [[nodiscard]] const Micrograph* micrograph(std::int64_t id) const;  ///< nullptr: none
  [[nodiscard]] std::string thumbnail(std::int64_t id) const { return state_.file.thumbnail(id); }
  void set_thumbnail(std::int64_t id, const std::string& png) {
    state_.file.set_thumbnail(id, png);
  }  ///< no step of undo: it follows from the picture
  /// A picture whose bytes are in the project already (PictureStore::add gave its id).
  void add_micrograph(const Micrograph& micrograph, const std::string& thumbnail);
  void set_micrograph(const Micrograph& micrograph, const std::string& what);
  /// Scale of an instrument's magnification at one picture size: its pictures without one of their
  /// own are measured by it from now on. Those that have another value by their magnification now
  /// keep that as their own, unless `also_earlier`. Refused: no name, no size.
  void set_scale(const MagnificationScale& scale, bool also_earlier = false);
  /// Refused: a look at the bench rests on it.
  void remove_micrograph(std::int64_t id);
  /// What the damage finder suggested goes into the run's record together with the picture's
  /// answers.
  void accept_damage(std::size_t run, const LookEvent& look, std::int64_t cuts,
                     const Micrograph& after, const std::string& by_operator);

  /// Damage searches and steadiness sessions, oldest first.
  [[nodiscard]] const std::vector<BenchSession>& bench_sessions() const { return state_.sessions; }
  /// Added (id 0) or replaced; returns its id.
  std::int64_t set_bench_session(const BenchSession& session, const std::string& what);
  /// Takes a reading out of the fits, or back in; `reason` is needed to take it out.
  void set_excluded(std::size_t run, std::size_t reading, bool excluded, const std::string& reason);

  /// Refused: an empty or known name.
  void add_blade(const Blade& blade);
  void update_blade(std::size_t index, const Blade& blade);
  /// A new blade with the same steel, outline and section, without the measurements of the other.
  void duplicate_blade(std::size_t index, const std::string& name);
  void set_retired(std::size_t index, bool retired);

  /// One more line of a blade's history; several at once are one step of undo.
  void add_records(std::size_t blade, const std::vector<EdgeRecordData>& data,
                   const std::string& what);
  void remove_record(std::size_t blade, std::size_t record);
  /// Refused: an empty name, a hardness outside 20 to 68 HRC, shares outside 0 to 100 %.
  void set_steel_card(const SteelCard& card);
  void set_medium_card(const MediumCard& card);
  /// Refused: what fault_of says.
  void set_abrasive(const Abrasive& abrasive);
  void remove_abrasive(const std::string& name);
  /// Added (id 0) or replaced. Refused: no name.
  void set_comparison(const Comparison& comparison);
  void remove_comparison(std::int64_t id);
  /// Ends a sharpening in hand: it becomes a line of the blade's history, the working copy kept
  /// under `key` is emptied and every abrasive it used has one more blade to its name; `leaves`,
  /// where given, becomes the blade's section. Readings at 0 cuts that the run it is the start of
  /// has already are kept and no longer counted: they were taken before the clean-up; returns how
  /// many. One step of undo.
  int finish_sharpening(std::size_t blade, const Sharpening& sharpening, const std::string& key,
                        const std::optional<SectionPlan>& leaves = {});

  void add_run(const Run& run);
  /// Planned runs at once, and what is kept of their plan: one step of undo. Refused: an empty or
  /// known name.
  void issue_runs(const std::vector<Run>& runs, const std::string& key, const std::string& value,
                  const std::string& what);
  void update_run(std::size_t index, const RunFacts& facts, const RunPlan& plan);

  /// Adds the runs of a trial read from tables.
  ImportCounts import(const Trial& trial);
  void copy_to(const std::filesystem::path& target) const { state_.file.copy_to(target); }
  /// See ProjectFile::keep_copy_of_day.
  std::string keep_copy_of_day(const std::string& day) const {
    return state_.file.keep_copy_of_day(day);
  }
  /// All of it as JSON (write_project_json).
  void write_json(std::ostream& out) const;

  [[nodiscard]] bool can_undo() const { return acts_.can_undo(); }
  [[nodiscard]] bool can_redo() const { return acts_.can_redo(); }
  [[nodiscard]] std::string undo_text() const { return acts_.undo_text(); }
  /// Whether what undo takes back changed a text that is kept for a key that starts so.
  [[nodiscard]] bool undo_changes_kept(std::string_view key_start) const {
    return acts_.undo_changes_kept(key_start);
  }
  [[nodiscard]] std::string redo_text() const { return acts_.redo_text(); }
  void undo() { acts_.undo(); }
  void redo() { acts_.redo(); }
  /// What acts, undo and redo touched since this was asked last.
  Touched take_touched() { return acts_.take_touched(); }

  /// Several acts as one: one transaction, one step of undo named `what`. When one of them throws,
  /// none has happened.
  void as_one(const std::string& what, const std::function<void()>& acts) { acts_.act(what, acts); }

 private:
  ProjectSession(ProjectFile file, std::string read_only_reason);
  /// An act that changes one record.
  template <class Record>
  Record perform(const std::string& what, std::optional<Record> before, Record after) {
    acts_.act(what, [&] { after = acts_.put(std::move(before), after); });
    return after;
  }
  /// Readings at 0 cuts are taken out of the fits with a reason; returns how many.
  int set_start_aside(const Run& run, const std::string& reason);
  void add_events(const Run& run, const std::vector<BenchEventData>& events,
                  const std::string& by_operator);
  void mark(const Run& run, const Reading& reading, bool excluded, const std::string& reason);
  void put_sharpening(const Blade& blade, const Sharpening& sharpening, const std::string& key,
                      const std::optional<SectionPlan>& leaves);
  void set_kept(const std::string& key, const std::string& value);
  /// Whatever in the project speaks of a run (a blade) by its name speaks of it by the new one:
  /// pictures, the blades' histories, ladders and sharpenings in hand, plans, searches.
  void follow_run_name(const std::string& from, const std::string& to);
  void follow_blade_name(const std::string& from, const std::string& to);
  void rename_in_micrographs(std::string Micrograph::* name, const std::string& from,
                             const std::string& to);
  void change_plan_book(const std::function<void(PlanBook&)>& change);
  void check_name(const std::string& name, bool is_blade, std::optional<std::size_t> self) const;
  [[nodiscard]] RunFacts with_steel(RunFacts facts) const;
  template <class Card>
  void set_card(const std::vector<Card>& cards, const Card& card, const char* what);

  ProjectState state_;
  ActBook acts_{state_};
  std::string read_only_reason_;
};

}  // namespace bq::inline workflow
