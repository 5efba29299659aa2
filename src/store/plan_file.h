#pragma once

#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "plan/claim.h"
#include "plan/trial_plan.h"
#include "quantity/checked.h"

namespace bq::inline store {

/// Reads a plan file (docs/plan-format.md): its fields, not yet whether they fit together (see
/// faults_of). Refused with the place of the first fault; keys nobody knows are faults too, since a
/// misspelt one would silently do nothing.
Checked<TrialPlan> parse_plan(std::string_view json);
/// Whether a JSON text is a plan (it has factors) rather than a recipe.
bool is_plan_file(std::string_view json);
/// The plan as JSON, two blanks a level; parse_plan gives it back.
std::string plan_json(const TrialPlan& plan);

/// A plan of a project and which of its runs are on the bench.
struct PlanEntry {
  TrialPlan plan;
  std::vector<std::string> issued;  ///< what its runs are called on the sheet, in its order
  /// Runs that were renamed since: what the sheet calls them, and their name now.
  std::map<std::string, std::string> renamed;
  /// The runs' names now, in order of the sheet.
  [[nodiscard]] std::vector<std::string> run_names() const;
  bool operator==(const PlanEntry&) const = default;
};
/// All plans and claims of a project, as they are kept in it.
struct PlanBook {
  std::vector<PlanEntry> plans;
  std::vector<ClaimTest> claims;
  bool operator==(const PlanBook&) const = default;
};
/// Where a project keeps them (project file, table `setting`).
inline constexpr const char* kPlanBookKey = "plans";
Checked<PlanBook> parse_plan_book(std::string_view json);
std::string plan_book_json(const PlanBook& book);

}  // namespace bq::inline store
