#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <variant>
#include <vector>

#include "edge/abrasive.h"
#include "edge/edge_geometry.h"
#include "quantity/measure.h"
#include "quantity/number.h"
#include "trial/bench_event.h"
#include "trial/comparison.h"
#include "trial/edge_record.h"
#include "trial/micrograph.h"

namespace bq::inline trial {

enum class CutMode { slice, push, chop };
std::string_view name_of(CutMode mode);
std::optional<CutMode> parse_cut_mode(std::string_view text);

/// A level of a user factor: a number for a continuous factor, a word for a categorical one.
using FactorValue = std::variant<double, std::string>;
std::string print_factor_value(const FactorValue& value);
/// The number that a level written as text is; empty for a word. A code with leading zeros ("007")
/// is a word: as a number it would come back as another one.
std::optional<double> level_number(std::string_view text, CommaRule commas);

/// Index into LabelTable; 0 is "none given".
using LabelId = std::uint32_t;

/// Short texts that many readings share (stations, operators, reasons), each stored once.
class LabelTable {
 public:
  LabelTable() : texts_{""} { ids_.emplace("", 0); }
  LabelId id_of(std::string_view text);
  [[nodiscard]] const std::string& text(LabelId id) const { return texts_.at(id); }
  [[nodiscard]] std::size_t size() const { return texts_.size(); }

 private:
  std::vector<std::string> texts_;
  std::unordered_map<std::string, LabelId> ids_;
};

/// One value of the primary response, as it was taken. Lower is sharper.
struct Reading {
  std::int64_t id = 0;    ///< row in the project file; 0 when it comes from a table
  std::int64_t cuts = 0;  ///< cumulative cuts of the run when it was taken
  double value = 0;       ///< > 0, in `unit`
  LabelId station = 0;
  LabelId by_operator = 0;
  LabelId reason = 0;  ///< why it is excluded or suspect
  Unit unit = Unit::gf;
  bool excluded = false;  ///< kept, shown, not used in fits
  LabelId gauge = 0;      ///< what it was taken with and how: "keyed, 20 mm/min, filament lot 7"
};

/// Why a reading at 0 cuts is kept and not counted: the edge was deburred further after it.
inline constexpr const char* kBeforeCleanUp = "read before the clean-up";

/// When a run is to be read.
struct RunPlan {
  std::vector<std::int64_t> checkpoints;  ///< rising cumulative cuts; empty: read as one likes
  int readings_each = 3;
  bool operator==(const RunPlan&) const = default;
};

/// What a run is about, without its readings. Absent means: not given.
struct RunFacts {
  std::string name;
  std::string blade;
  std::string steel;
  std::optional<EdgeGeometry> geometry;
  std::optional<Finish> finish;
  std::string medium;
  std::optional<CutMode> cut_mode;
  std::string block;
  std::map<std::string, FactorValue> factors;
  bool operator==(const RunFacts&) const = default;
};

enum class RunState { planned, running, done };
std::string_view name_of(RunState state);

struct Run {
  std::int64_t id = 0;  ///< row in the project file; 0 when it comes from a table
  RunFacts facts;
  RunPlan plan;
  std::int64_t cuts_done = 0;      ///< cumulative cuts made so far
  std::vector<Reading> readings;   ///< in the order they were taken
  std::vector<BenchEvent> events;  ///< what happened on the bench, in order
};

struct Blade {
  std::int64_t id = 0;
  std::string name;
  std::string steel;
  std::string note;
  bool retired = false;
  std::vector<EdgeRecord> records;  ///< its history, oldest first
  bool operator==(const Blade&) const = default;
};

/// Everything a project holds, as a value that can be copied to a worker.
struct Trial {
  std::string title;
  std::vector<Blade> blades;
  std::vector<Run> runs;
  std::vector<SteelCard> steels;         ///< by name
  std::vector<MediumCard> media;         ///< by name
  std::vector<Abrasive> shelf;           ///< by name
  std::vector<Comparison> comparisons;   ///< oldest first
  std::vector<BenchEvent> gauge_checks;  ///< check weights: events that belong to no run, in order
  std::vector<Micrograph> micrographs;   ///< in the order they were brought in
  std::vector<MagnificationScale> scales;  ///< of their magnifications
  LabelTable labels;
  /// Of a part of a trial: the unit of the whole, whatever readings are left.
  std::optional<Unit> unit_of_whole;
  /// Unit every analysis is made in: that of the first reading.
  [[nodiscard]] Unit unit() const;
  [[nodiscard]] std::size_t reading_count() const;
  [[nodiscard]] const Run* find_run(std::string_view name) const;
  [[nodiscard]] const Blade* find_blade(std::string_view name) const;  ///< "" names none
  [[nodiscard]] const SteelCard* steel_card(std::string_view name) const;
  [[nodiscard]] const MediumCard* medium_card(std::string_view name) const;
};

RunState state_of(const Run& run);

/// The same trial with every run's readings left out: cheap to hand to a worker.
Trial without_readings(const Trial& trial);

/// What is known of a steel reaches both: a run of a blade whose steel is known is of that steel
/// where it says none, and a blade that says none is of the steel that all its runs agree on.
void share_steels(Trial& trial);

/// The kind of work of every run, in order: its medium, and where that medium is cut in several
/// ways the way too ("mat edge, push"; "mat edge, cut not said"). Lives of different work are never
/// put together. A run that does not say how it cuts counts with the one way its medium is cut in.
std::vector<std::string> work_of_runs(const Trial& trial);
/// Whether a kind of work (work_of_runs) is work in this medium.
bool is_in_medium(std::string_view work, std::string_view medium);

/// Names of the steels of all runs and blades, alphabetical; a steel's place in it is its colour.
std::vector<std::string> steels_of(const Trial& trial);

}  // namespace bq::inline trial
