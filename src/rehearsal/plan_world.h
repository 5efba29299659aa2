#pragma once

#include "plan/plan_power.h"
#include "rehearsal/recipe.h"

namespace bq::inline rehearsal {

/// The plan's sheet as a recipe of virtual blades. The medium's wear and the gauge are set so that
/// the first levels of all factors have the stated fresh reading and the stated life to the
/// threshold ("3x" then means three times the fresh reading of those levels); angle and finish act
/// through the wear geometry of DOMAIN §12, all stated life ratios through the wear. A run ends
/// with the checkpoint at which it is blunt, as the Bench asks. Where the plan names no angle or
/// finish, 15° per side and 6 µm are taken. Refused: a threshold that cannot be read, at or below
/// the fresh reading of the first levels, or a life that cannot be had.
Checked<Recipe> recipe_of(const TrialPlan& plan, const RunSheet& sheet);

/// A combination that the plan may run, with its life in this world without scatter.
struct PlannedEdge {
  RunFacts facts;
  double true_life = 0;
};
/// Every combination that is not excluded, in order; no more than 2,000. Refused: as recipe_of.
Checked<std::vector<PlannedEdge>> edges_of(const TrialPlan& plan);

/// How far each run of the sheet will be cut when it ends blunt (with the first checkpoint at or
/// past its life), its life varying by the stated SDs of runs, blades and blocks. Refused: as
/// recipe_of.
Checked<std::vector<RunEnd>> expected_ends(const TrialPlan& plan, const RunSheet& sheet);

/// Cuts after which about 19 of 20 runs of the longest-lived combination have reached the
/// threshold: its life without scatter times e^(1.645·SD of ln life), rounded up to two figures.
/// Looks at no more than 2,000 combinations. Refused: as recipe_of.
Checked<std::int64_t> longest_run(const TrialPlan& plan);

/// Life of `to` over that of `from` of the plan's question in this world, without scatter, the
/// other factors at their first levels.
Checked<double> true_ratio_of(const TrialPlan& plan);

/// The plan with its stated life ratios changed so that the question's true ratio becomes `ratio`
/// (> 0): a word's level by itself, a numeric factor's levels in proportion to where they lie
/// between the two.
Checked<TrialPlan> with_true_ratio(const TrialPlan& plan, double ratio);

}  // namespace bq::inline rehearsal
