#include "ui/frame/covered_runs.h"

#include "workflow/bench_study.h"
#include "workflow/plan_study.h"

namespace bq::ui {

const std::set<std::string>& CoveredRuns::blind() const {
  std::string text = workbench_.has_project() ? workbench_.session().kept(kPlanBookKey) : "";
  if (text != plans_) {
    blind_ = blind_runs(text);
    plans_ = std::move(text);
  }
  return blind_;
}

bool CoveredRuns::covers(std::size_t run) const {
  const auto& runs = workbench_.trial().runs;
  return run < runs.size() && is_covered(runs[run], blind());
}

}  // namespace bq::ui
