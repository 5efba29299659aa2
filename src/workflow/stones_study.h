#pragma once

#include <cmath>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "bluntness/run_fits.h"
#include "edge/evidence_key.h"
#include "edge/ladder.h"
#include "edge/steel_behaviour.h"
#include "trial/trial.h"

namespace bq::inline workflow {

/// What the card of a steel says of the abrasive it asks for; plain where it says nothing.
CuttingClass class_of_steel(const Trial& trial, const std::string& steel);

/// Something the project knows that answers a question of a key.
struct KnownFact {
  std::vector<std::string> answers;  ///< ids of the answer in the keys that ask for it
  std::string source;                ///< "the flatness log: Grey 400 is 60 µm hollow"
};
/// By the name a rule file uses ("flatness", "angle sweep", "straightness", "early collapse",
/// "behind the edge", "loading", "gates", "condition", "behaviour", "seen there": the condition the
/// last look since the sharpening found within kSamePlace_mm of `at_mm`, or at no place where none
/// is asked for); only what is known. `fits` may be empty.
inline constexpr double kSamePlace_mm = 5;
std::map<std::string, KnownFact> known_facts(const Trial& trial, std::size_t blade,
                                             const std::vector<RunFit>& fits,
                                             std::optional<double> at_mm = {});
/// The key's questions the facts answer.
Observations answered_by(const EvidenceKey& key, const std::map<std::string, KnownFact>& facts);

/// Where the ladder of a blade starts and what it is wished to become, from its history: the
/// section on record, its wear, chips noted since, its present angles and the finish of its last
/// sharpening or run. Empty: no section is on record.
struct LadderDraft {
  EdgeState state;
  LadderWish wish;
};
std::optional<LadderDraft> draft_ladder(const Trial& trial, std::size_t blade);

/// The finish that is customary for a way of cutting, as a range: authors differ, and evidence of
/// this bench goes before it.
struct CustomaryFinish {
  double from_um = 0, to_um = 0;
  std::string words;
};
CustomaryFinish customary_finish(CutMode mode);

/// Which deburring route for a steel, and why.
struct RouteAdvice {
  DeburrBehaviour behaviour = DeburrBehaviour::between;
  bool from_card = false;  ///< the tester said so; else guessed
  std::string why;
  int runs = 0, collapsed = 0;  ///< of this steel, with a curve
  std::vector<std::string> collapsed_runs;
  std::optional<std::string> used;          ///< the route on record of the collapsed runs
  bool look_first = false;                  ///< early collapse, and nobody has looked since
  std::optional<DeburrBehaviour> proposed;  ///< the other route, after a look that found a burr
  std::string sentence;                     ///< what the runs say; "" nothing to say
};
/// Fragile teeth and a burr look the same in the curve: another route is proposed only after the
/// apex of a collapsed run was looked at and a burr found.
RouteAdvice route_advice(const Trial& trial, const std::string& steel,
                         const std::vector<RunFit>& fits);

/// A hard fine surface to work on by hand: the finest of the shelf that is neither strop nor wheel
/// nor belt, no coarser than `no_coarser_um` where that is given; null none is there.
const Abrasive* hard_fine(const std::vector<Abrasive>& shelf, std::optional<double> no_coarser_um);

/// The abrasive in use whose size is nearest to `um` (> 0) in ratio, of those that `fits` takes;
/// null none of them has a size.
template <class Fits>
const Abrasive* nearest_in_size(const std::vector<Abrasive>& shelf, double um, const Fits& fits) {
  const auto off = [&](const Abrasive& abrasive) {
    return std::abs(std::log(*size_um(abrasive) / um));
  };
  const Abrasive* best = nullptr;
  for (const auto& abrasive : shelf) {
    const auto size = size_um(abrasive);
    if (abrasive.retired || !fits(abrasive) || !size || !(*size > 0)) continue;
    if (!best || off(abrasive) < off(*best)) best = &abrasive;
  }
  return best;
}

struct SharpeningOptions {
  GatePolicy policy = GatePolicy::every_abrasive;
  BurrProof proof = BurrProof::touch;
  DeburrBehaviour behaviour = DeburrBehaviour::between;
  bool deburr = true, deburr_between = false;
  bool straighten = false, recurve = false;  ///< the intake check found it
  std::optional<Abrasive> strop;             ///< as the finishing step
  int strop_passes = 10;
  GrindWay way = GrindWay::held;
  AbrasiveEnd stop = AbrasiveEnd::strokes;
  int places = kLeastPlaces;  ///< of a gate, on one side
  double edge_mm = 0;         ///< length of the edge; 0 not known
  std::string run;
  std::string by_operator;
};
/// The ladder as steps to be done: straightening and the recurve first, the ladder's abrasives,
/// then the steel's deburring route at the angle of what was made last, a micro-bevel too (between
/// abrasives when wished, and before a micro-bevel, only its first part), the strop last.
Sharpening sharpening_from(const LadderPlan& plan, const std::vector<Abrasive>& shelf,
                           const LadderWish& wish, const SharpeningOptions& options);

/// A sharpening under way: what is kept between two taps.
struct SharpeningInHand {
  Sharpening sharpening;
  double seconds = 0;  ///< of the current step, before `since`
  std::optional<SectionPlan>
      leaves;              ///< the section it makes; empty where it was not planned from one
  std::int64_t since = 0;  ///< Unix seconds when the timer was started; 0: it stands
  [[nodiscard]] double seconds_at(std::int64_t now) const {
    return seconds + (since > 0 && now > since ? double(now - since) : 0.0);
  }
};
inline constexpr std::string_view kSharpeningKeys = "sharpening/";  ///< how the keys start
std::string sharpening_key(const Blade& blade);                     ///< of ProjectSession::keep
std::string in_hand_json(const SharpeningInHand& hand);
Checked<SharpeningInHand> parse_in_hand(std::string_view json);

}  // namespace bq::inline workflow
