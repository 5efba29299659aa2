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
#include "trial/burr.h"

namespace bq::inline trial {

enum class StepWork { straighten, recurve, grind, local, deburr, micro_bevel, strop };
inline constexpr int kStepWorks = 7;
std::string_view name_of(StepWork work);
std::optional<StepWork> parse_step_work(std::string_view text);

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
  double seconds = 0;  ///< timed
  /// What was found at the places of its gate, along the left side from the heel, then the right.
  std::array<BurrSize, 2 * kMostPlaces> burr{};
  std::string override_reason;  ///< why the gate was passed without its marks
  [[nodiscard]] bool has_burr(int mark) const { return is_there(burr[std::size_t(mark)]); }
  [[nodiscard]] unsigned confirmed() const;  ///< one bit for each place with a burr
  bool operator==(const SharpeningStep&) const = default;
};

/// How a face gets its angle: held to it by hand or jig, rolled onto a slack belt (the face comes
/// out convex), or drawn through crossed wheels that stand at it.
enum class GrindWay { held, slack_belt, crossed_wheels };
inline constexpr int kGrindWays = 3;
std::string_view name_of(GrindWay way);
std::optional<GrindWay> parse_grind_way(std::string_view text);

/// A sharpening in order: a plan while steps are open, a record once all are done.
struct Sharpening {
  GatePolicy policy = GatePolicy::every_abrasive;
  BurrProof proof = BurrProof::touch;
  GrindWay way = GrindWay::held;
  AbrasiveEnd stop = AbrasiveEnd::strokes;
  int places = kLeastPlaces;    ///< of a gate, on one side; to kMostPlaces
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

/// Marks a step needs under the policy, as bits; 0 where it has no gate, as at crossed wheels,
/// which raise no burr. Single-sided: the places of the side that is not ground, where the burr
/// rises.
unsigned gate_of(const Sharpening& sharpening, std::size_t step);
/// Marks without a burr yet; 0 when the gate is passed or was overridden.
unsigned open_marks(const Sharpening& sharpening, std::size_t step);
/// Of the open marks those where somebody looked and found none.
unsigned missed_marks(const Sharpening& sharpening, std::size_t step);

/// The first step that is not done; empty when all are.
std::optional<std::size_t> current_step(const Sharpening& sharpening);

/// What happens on the one big key: the next place nobody looked at is confirmed, else the places
/// that were missed are worked, else the step is done.
struct Tap {
  std::size_t step = 0;
  std::optional<int> mark;  ///< empty: the step is done, or places were missed
  unsigned missed = 0;
};
std::optional<Tap> next_tap(const Sharpening& sharpening);

/// Says what is at a place of the current step. Refused: no step left, a step without that place.
Checked<Sharpening> with_mark(Sharpening sharpening, int mark, BurrSize size = BurrSize::felt);
/// Puts before the current step the work on its missed places alone, on the side that raises their
/// burr, and asks for those places again. Refused: no place was missed. edge_mm > 0: the edge's
/// length.
Checked<Sharpening> with_missed_worked(Sharpening sharpening, double edge_mm);
/// Finishes the current step. Refused while its gate is open; says which places.
Checked<Sharpening> with_step_done(Sharpening sharpening, double seconds);
/// Passes the current step's gate without its marks. Refused: no reason, no open gate.
Checked<Sharpening> with_override(Sharpening sharpening, const std::string& reason);

/// What a burr should be at a mark by now: large after the first abrasive, a size smaller after
/// each one that follows, at last just felt. A size said at an earlier abrasive leads.
BurrSize expected_burr(const Sharpening& sharpening, std::size_t step, int mark);
/// What the sizes of a step say, as sentences: a burr no smaller than the coarser abrasive left it,
/// a burr uneven along one side, a place missed again. Empty when they are as they should be.
std::vector<std::string> burr_remarks(const Sharpening& sharpening, std::size_t step);

/// What is out of order, as sentences: straightening comes before a recurve is mended, both before
/// any bevel work; a coarser abrasive after a finer one; deburring before the last abrasive when it
/// is to be at the end only; a strop or micro-bevel before the edge bevel is done. Empty when all
/// is well.
std::vector<std::string> order_remarks(const Sharpening& sharpening);

/// The same steps with nothing done: to be done again. Local rework belonged to that edge and is
/// left out.
Sharpening replay(const Sharpening& sharpening);
/// One instruction, in the imperative: "Grind both sides on Grey 400 (17 µm) at 15° per side, 60
/// strokes a side, in groups of 10 with turning over between; a burr at heel, middle and tip of
/// both sides."
/// Without its note it is what a hand does; the note says how and what to mind.
std::string instruction(const Sharpening& sharpening, std::size_t step, bool with_note = true);

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
