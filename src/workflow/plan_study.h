#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bluntness/matching.h"
#include "bluntness/run_fits.h"
#include "edge/weakest_place.h"
#include "plan/plan_power.h"
#include "store/plan_file.h"
#include "trial/trial.h"

namespace bq::inline workflow {

/// A first plan from what the project holds: its steels (two at most) and tested angles as factors,
/// its medium and finish held, its blades, the threshold in use, and what the fits say of fresh
/// reading, life and spread as what to expect.
TrialPlan first_plan(const Trial& trial, const std::vector<RunFit>& fits,
                     const std::string& threshold, const std::string& name);

/// Life, fresh reading and spreads as this bench's runs show them, put into the plan's truth.
/// Returns in words what was taken from where, and what could not be.
std::string expect_from_evidence(TrialPlan& plan, const Trial& trial,
                                 const std::vector<RunFit>& fits);

/// Least apex angle per steel of the plan, from its steels' strength and the side load set on
/// Section: that of a plain wedge. Refused: no steel of the plan has a strength.
Checked<std::vector<DurableLimit>> durable_limits(const TrialPlan& plan, const Trial& trial,
                                                  const SideLoad& load);

/// Everything the window shows of a plan, from one go; slow enough for a worker.
struct PlanStudy {
  TrialPlan plan;
  std::string refusal;               ///< why there is no design or no sheet; "" there is
  std::optional<PlanDesign> design;  ///< candidates are there even where the sheet is refused
  RunSheet sheet;
  PlanBudget budget;                 ///< every run to its last checkpoint: the most
  std::optional<PlanBudget> likely;  ///< runs end when they are blunt
  std::optional<PlanPower> power;
  std::optional<double>
      any_level_power;  ///< of the question's factor, where it has three levels or more in words
  std::string why_no_power;
  std::optional<MatchQuestion> match;  ///< what the rehearsal asks besides, where it can
  std::size_t edges = 0;               ///< between which the plan decides
  double true_ratio = 1;
  double sd = 0;  ///< of ln life, life_sd_of
  std::vector<NextRun> next;
};
PlanStudy study_plan(const TrialPlan& plan, const stats::Work& work = {});

/// Runs that are on the bench already must stand in the new sheet as they were: "" when they do,
/// else the sentence.
std::string issued_fault(const PlanEntry& entry, const RunSheet& sheet);

/// What is wrong with a project's plans and claims as kept: unreadable, a run that is said to be on
/// the bench and is not there, a figure whose code is on no sheet.
std::vector<std::string> plan_book_problems(const std::string& kept, const Trial& trial);

}  // namespace bq::inline workflow
