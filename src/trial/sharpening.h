#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "edge/edge_geometry.h"
#include "edge/grind.h"
#include "quantity/checked.h"

namespace bq::inline trial {

/// When a burr must be confirmed before the next abrasive. Masters differ; none is more right.
enum class GatePolicy { every_abrasive, coarsest_only, single_sided, none };
std::string_view name_of(GatePolicy policy);
std::optional<GatePolicy> parse_gate_policy(std::string_view text);

/// How a burr was proved.
enum class BurrProof { touch, light, paper, microscope };
std::string_view name_of(BurrProof proof);
std::optional<BurrProof> parse_burr_proof(std::string_view text);

enum class StepWork { straighten, recurve, grind, local, deburr, micro_bevel, strop };
inline constexpr int kStepWorks = 7;
std::string_view name_of(StepWork work);
std::optional<StepWork> parse_step_work(std::string_view text);

/// The six places of a gate: left heel, left middle, left tip, then the blade is turned, right
/// heel, right middle, right tip.
inline constexpr int kGateMarks = 6;
std::string gate_mark_name(int mark);

/// One step of a sharpening, as planned and as done.
struct SharpeningStep {
  StepWork work = StepWork::grind;
  std::string abrasive;           ///< name; for a strop its compound's holder
  std::optional<double> size_um;  ///< particle size; of a strop its compound's
  GrindSide side = GrindSide::both;
  BevelAngles angles;  ///< per side; 0 where no angle is held
  std::optional<double> planned_min;
  std::optional<int> passes;             ///< strokes of all sides, as done, else as planned
  std::string pressure;                  ///< in words: "light", "weight of the blade"
  std::string substrate;                 ///< of a strop: "bare leather on wood"
  std::optional<double> from_mm, to_mm;  ///< local work: the stretch, from the heel
  std::string note;
  // What was done.
  bool done = false;
  double seconds = 0;           ///< timed
  unsigned burr = 0;            ///< one bit for each confirmed place
  std::string override_reason;  ///< why the gate was passed without its marks
  [[nodiscard]] bool has_burr(int mark) const { return (burr >> mark & 1U) != 0; }
  bool operator==(const SharpeningStep&) const = default;
};

/// A sharpening in order: a plan while steps are open, a record once all are done.
struct Sharpening {
  GatePolicy policy = GatePolicy::every_abrasive;
  BurrProof proof = BurrProof::touch;
  std::string route;            ///< of deburring: "ductile route"; "" none
  bool deburr_between = false;  ///< between abrasives too, not only at the end
  std::string run;              ///< the run it is the start of; "" for none yet
  std::string by_operator;
  std::string note;
  std::vector<SharpeningStep> steps;
  bool operator==(const Sharpening&) const = default;
};

/// Strokes on one side; 0 where they are not known.
int strokes_a_side(const SharpeningStep& step);

/// Marks a step needs under the policy, as bits; 0 where it has no gate. Single-sided: the three
/// places of the side that is not ground, where the burr rises.
unsigned gate_of(const Sharpening& sharpening, std::size_t step);
/// Marks that are still open; 0 when the gate is passed or was overridden.
unsigned open_marks(const Sharpening& sharpening, std::size_t step);

/// The first step that is not done; empty when all are.
std::optional<std::size_t> current_step(const Sharpening& sharpening);

/// What happens on the one big key: the next open mark is confirmed, else the step is done.
struct Tap {
  std::size_t step = 0;
  std::optional<int> mark;  ///< empty: the step is done
};
std::optional<Tap> next_tap(const Sharpening& sharpening);

/// Confirms a place of the current step. Refused: no step left, a step without that place.
Checked<Sharpening> with_mark(Sharpening sharpening, int mark);
/// Finishes the current step. Refused while its gate is open; says which places.
Checked<Sharpening> with_step_done(Sharpening sharpening, double seconds);
/// Passes the current step's gate without its marks. Refused: no reason, no open gate.
Checked<Sharpening> with_override(Sharpening sharpening, const std::string& reason);

/// What is out of order, as sentences: straightening comes before a recurve is mended, both before
/// any bevel work; a coarser abrasive after a finer one; deburring before the last abrasive when it
/// is to be at the end only; a strop or micro-bevel before the edge bevel is done. Empty when all
/// is well.
std::vector<std::string> order_remarks(const Sharpening& sharpening);

/// The same steps with nothing done: to be done again.
Sharpening replay(const Sharpening& sharpening);
/// One instruction, in the imperative: "Grind both sides on Grey 400 (17 µm) at 15° per side, 60
/// strokes a side, in groups of 10 with turning over between; a burr at heel, middle and tip of
/// each side."
std::string instruction(const Sharpening& sharpening, std::size_t step);

/// Particle sizes that the last abrasives left on the sides (a strop is a finishing step of its
/// own, not counted); empty where no step said one.
std::optional<Finish> finish_of(const Sharpening& sharpening);
/// The edge that the steps say: the angles of the last grinding over the whole edge and of the
/// micro-bevel after it. Empty where none held an angle.
std::optional<EdgeGeometry> geometry_of(const Sharpening& sharpening);
/// Sum of the timed seconds.
double seconds_of(const Sharpening& sharpening);
/// "6 steps, Coarse 60 to Fine 5, ductile route, 21 min".
std::string describe(const Sharpening& sharpening);

}  // namespace bq::inline trial
