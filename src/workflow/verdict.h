#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "bluntness/recommendation.h"
#include "bluntness/useful_life.h"
#include "edge/starting_range.h"
#include "trial/bench_session.h"
#include "workflow/edge_costs.h"
#include "workflow/life_findings.h"
#include "workflow/next_action.h"

namespace bq::inline workflow {

struct VerdictQuestion {
  double threshold = 0;  ///< in the trial's unit
  RecommendLimits limits;
  RecommendWishes wishes;
  std::vector<std::string> stones;  ///< abrasives at hand; empty: the whole shelf
  AngleConvention angles = AngleConvention::per_side;
};

struct ObjectionMemory;

/// What the verdict is made from. `facts` as for_answers gives it, or whole.
struct VerdictSource {
  const Trial* facts = nullptr;
  const std::vector<RunFit>* fits = nullptr;
  std::vector<BenchSession> sessions;
  std::string section_questions;  ///< as Section keeps them; "" the usual ones
  /// What was refitted for the same fits, threshold and work before; null: nothing is kept.
  ObjectionMemory* memory = nullptr;
};

/// Two schools on one matter, and what this bench's data say.
struct SchoolView {
  std::string matter;         ///< "Low or high angle"
  std::string first, second;  ///< what each holds
  std::string evidence;       ///< what was seen here, or that it was not tried
};

/// A touch-up interval and what a blade gives in all with one edge (estimates).
struct BladeProspect {
  double interval_cuts = 0;  ///< lower 95 % limit for the next edge: touch up then
  Resharpening touch_up;
  std::optional<int>
      thinning_after;  ///< touch-ups until it is thicker behind the edge than behind_edge_mm
  int touch_ups = 0;   ///< until the usable height is ground away, or kMostTouchUps
  double behind_edge_mm = 0, usable_mm = 0;
  double cuts_in_all = 0;  ///< interval × touch-ups
  bool more = false;       ///< it goes on beyond kMostTouchUps
};
inline constexpr int kMostTouchUps = 400;

/// What speaks against the first place, or is not known of it.
struct Objection {
  std::string kind;      ///< "bend", "interplay", "influence", "confounded", "tied", "one-run",
                         ///< "beyond-cuts", "damage-unknown", "damaged", "load-unknown",
                         ///< "overstressed", "few-runs", "order"
  std::string sentence;  ///< without a full stop, to stand in a list
  Station station;       ///< that shows it
  std::string page;      ///< of that station
  /// "Findings: Can I trust the pattern?"
  [[nodiscard]] std::string where() const { return words_of(station) + ": " + page; }
};

struct Verdict {
  VerdictQuestion question;
  std::vector<std::pair<std::string, int>> media;  ///< with runs, most first
  std::optional<Recommendation> recommendation;
  std::string why_not;                      ///< when there is none
  std::map<std::string, ForceSplit> force;  ///< by work, where strokes tell it
  std::string force_note;  ///< the split in the work asked for in words, or what is missing
  std::vector<SchoolView> schools;
  std::vector<StartingRange>
      starting;  ///< conventions for the cut modes of the work; shown where there is no evidence
  std::optional<BladeProspect> prospect;  ///< of the first edge
  std::vector<Objection> objections;      ///< to the first edge, gravest first
  bool rough_uses = false;  ///< the work has a roughest use: there are damage searches
};

/// Pure; for a worker (tens of milliseconds for 60 runs with a shelf of 10).
Verdict find_verdict(const VerdictSource& source, const VerdictQuestion& question);

/// All blocks that looks at runs and damage searches made, by steel and medium; angles at the apex,
/// per side, to 0.1°.
std::vector<DamageFact> damage_facts(const Trial& facts, const std::vector<BenchSession>& sessions);

/// Touch-ups of an edge until its metal is used: usable height 3 mm (round figure), thinning due
/// above 1.5 × today's thickness behind the edge. Empty where the shelf cannot make it.
std::optional<BladeProspect> blade_prospect(EdgeCosts& costs, const RankedEdge& edge);

/// The first sentence of Verdict and report: what to make, with the bevel it stands on, its life to
/// `limit` ("310 gf") with its interval, and what is not known of it: that nobody made it, that
/// nobody tried it on the roughest use, that others cannot be told apart from it; then, unless
/// they stand beside it, what speaks against it (the three gravest objections).
std::string verdict_sentence(const Verdict& verdict, const std::string& limit,
                             AngleConvention angles, bool with_objections = true);

}  // namespace bq::inline workflow
