#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bluntness/life_contrast.h"
#include "plan/run_sheet.h"

namespace bq::inline plan {

/// The term of the life model a factor is: "angle" for the apex angle, "finish", "steel", …, else
/// its own name.
std::string life_term_of(const PlanFactor& factor);

/// How a trial run by this plan will be analysed: its factors and wished interactions; blades as a
/// term where they are the blocks; other blocks as a term where at least 4 degrees of freedom are
/// left with them.
LifeSpec analysis_of(const TrialPlan& plan, const RunSheet& sheet);

/// The whole question of the plan, ready for analyse_contrast.
ContrastQuestion contrast_question(const TrialPlan& plan, const RunSheet& sheet);

/// The planned sheet as a life model whose lives are made up: what it can tell depends on the
/// design alone. Refused as LifeModel::fit.
Checked<LifeModel> model_of_sheet(const TrialPlan& plan, const RunSheet& sheet);

/// Analytic power of the plan's question: non-central t with the variance of its contrast in this
/// design. No censoring is foreseen: rehearsal gives the real figure.
struct PlanPower {
  double power = 0;
  double log_ratio = 0;
  double standard_error = 0;  ///< of the ln ratio, with the SD that was given
  int degrees_of_freedom = 0;
  double smallest_ratio = 1;   ///< above 1, seen with the wished chance
  double interval_factor = 1;  ///< half-width of the interval as a factor: ratio ÷ … × it
};
/// `sd`: of ln life from run to run, the curves' own error included; > 0. `ratio` > 0.
/// Refused: the sheet's model cannot be fitted, no degrees of freedom, an SD that is not positive.
Checked<PlanPower> plan_power(const TrialPlan& plan, const RunSheet& sheet, double sd,
                              double ratio);

/// Chance to see any difference among the levels of the question's factor (words, three levels or
/// more), by the non-central F with as many degrees of freedom as levels less one. `log_ratios`: ln
/// life of levels 2, 3, … over the first's. Refused as plan_power; a level that is never run.
Checked<double> factor_power(const TrialPlan& plan, const RunSheet& sheet, double sd,
                             const std::vector<double>& log_ratios);

/// Power at other ratios, for the curve.
std::vector<double> power_at(const PlanPower& power, const std::vector<double>& ratios,
                             double level);

/// A run that would tell most about the question, besides those of the sheet.
struct NextRun {
  Combination levels;
  double interval_shrinks_to = 1;  ///< share of today's width
};
/// The best few among the allowed combinations, best first; equals in the order of the
/// combinations.
Checked<std::vector<NextRun>> next_best_runs(const TrialPlan& plan, const PlanDesign& design,
                                             const RunSheet& sheet, std::size_t most = 5);

}  // namespace bq::inline plan
