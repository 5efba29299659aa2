// Plans of a project session: kept as one text, and their runs put on the bench.
#include <algorithm>
#include <memory>

#include "workflow/plan_study.h"
#include "workflow/project_session.h"

namespace bq::inline workflow {

void ProjectSession::issue_runs(const std::vector<Run>& runs, const std::string& key,
                                const std::string& value, const std::string& what) {
  for (const auto& run : runs) {
    check_name(run.facts.name, false, std::nullopt);
    if (!run.facts.blade.empty() && !trial_.find_blade(run.facts.blade))
      throw StoreError(StoreProblem::refused, "Blade " + run.facts.blade +
                                                  " of the plan is not on the rack: put it there "
                                                  "or take it out of the plan. No run was made.");
  }
  auto made = std::make_shared<std::vector<Run>>(runs);
  for (auto& run : *made) {
    run.readings.clear();
    run.facts = with_steel(run.facts);  // as the file gives it back
  }
  const std::string before = kept(key);
  perform({what,
           [this, made, key, value] {
             file_.add_runs(*made, key, value);
             trial_.runs.insert(trial_.runs.end(), made->begin(), made->end());
             revisions_.resize(trial_.runs.size(), 1);
           },
           [this, made, key, before] {
             file_.remove_runs(*made, key, before);
             for (const auto& run : *made) {
               const auto index = run_index(run.id);
               trial_.runs.erase(trial_.runs.begin() + std::ptrdiff_t(index));
               revisions_.erase(revisions_.begin() + std::ptrdiff_t(index));
             }
           }});
}

}  // namespace bq::inline workflow
