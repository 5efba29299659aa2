#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <variant>

#include "quantity/measure.h"

namespace bq::inline trial {

/// What a look at the edge found, mildest first (DOMAIN §9).
enum class DamageFound { clean, bright_spot, bent, broken_out };
std::string_view name_of(DamageFound found);  ///< "clean", "bright spot", "bent", "broken out"
std::optional<DamageFound> parse_damage_found(std::string_view text);

/// Why a run is stopped.
enum class StopRule { threshold, damage, budget, wish };
std::string_view name_of(StopRule rule);
std::optional<StopRule> parse_stop_rule(std::string_view text);

/// The edge was sharpened for this run and its angle looked at.
struct PreparedEvent {
  std::string note;
  std::string medium_batch;  ///< of the medium that lies ready; "" not said
  bool operator==(const PreparedEvent&) const = default;
};
/// The start gate was passed, or not: then the edge is sharpened again.
struct GateEvent {
  std::string verdict;  ///< the chart's sentence
  bool passed = true;
  std::string reason;  ///< why it is passed although it lies outside; "" it lies inside
  bool operator==(const GateEvent&) const = default;
};
struct CleanedEvent {
  bool operator==(const CleanedEvent&) const = default;
};
/// Cuts made, and how many were asked for.
struct CutEvent {
  std::int64_t planned = 0, made = 0;
  bool operator==(const CutEvent&) const = default;
};
/// A look at the edge under light and lens.
struct LookEvent {
  DamageFound found = DamageFound::clean;
  std::optional<double> widest_um;  ///< of the widest affected place
  bool is_thickness = true;         ///< of the section there; false: width seen from the side
  std::optional<double> at_mm;      ///< place from the heel
  std::string note;
  std::int64_t picture = 0;  ///< row of the picture; 0 none
  bool operator==(const LookEvent&) const = default;
};
struct RestEvent {
  double planned_s = 0, taken_s = 0;
  bool operator==(const RestEvent&) const = default;
};
/// Anything that was not as planned, in words: "operator A instead of B", "new medium batch 7",
/// "the code was uncovered".
struct DeviationEvent {
  std::string what;
  bool operator==(const DeviationEvent&) const = default;
};
struct StopEvent {
  StopRule rule = StopRule::wish;
  std::string reason;
  bool operator==(const StopEvent&) const = default;
};
/// A stop rule or a stop was overruled; the run goes on.
struct GoOnEvent {
  std::string reason;
  bool operator==(const GoOnEvent&) const = default;
};
/// A known weight on the gauge. Belongs to no run.
struct CheckWeightEvent {
  double nominal = 0;
  std::optional<double> value;  ///< empty: it was left out, see note
  Unit unit = Unit::gf;
  std::string gauge;  ///< with its protocol, as the readings have it
  std::int64_t last_reading =
      0;  ///< row of the last reading before it: which readings lie between two checks
  std::string note;
  bool operator==(const CheckWeightEvent&) const = default;
};
/// A force stroke that is kept whole.
struct StrokeEvent {
  std::int64_t stroke = 0;  ///< row of the stroke
  double peak_N = 0, mean_N = 0, work_J = 0;
  std::string trouble;  ///< what is wrong with it; "" nothing
  bool operator==(const StrokeEvent&) const = default;
};

using BenchEventData =
    std::variant<PreparedEvent, GateEvent, CleanedEvent, CutEvent, LookEvent, RestEvent,
                 DeviationEvent, StopEvent, GoOnEvent, CheckWeightEvent, StrokeEvent>;

/// One line of what happened on the bench. Lines keep the order they were written in, whatever the
/// clock says.
struct BenchEvent {
  std::int64_t id = 0;
  std::string made_at;    ///< UTC, ISO 8601
  std::int64_t cuts = 0;  ///< of the run when it happened
  std::string by_operator;
  BenchEventData data;
  bool operator==(const BenchEvent&) const = default;
};

/// "looked at: bent, 40 µm thick there, 62 mm from the heel".
std::string describe(const BenchEventData& data);

}  // namespace bq::inline trial
