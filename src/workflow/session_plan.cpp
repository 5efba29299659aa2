// Plans of a project session: kept as one text, and their runs put on the bench.
#include "quantity/said.h"
#include "workflow/project_session.h"

namespace bq::inline workflow {

void ProjectSession::issue_runs(const std::vector<Run>& runs, const std::string& key,
                                const std::string& value, const std::string& what) {
  for (const auto& run : runs) {
    check_name(run.facts.name, false, std::nullopt);
    if (!run.facts.blade.empty() && !trial().find_blade(run.facts.blade))
      throw StoreError(StoreProblem::refused,
                       said("Blade {blade} of the plan is not on the rack: put it there or take it "
                            "out of the plan. No run was made.",
                            {{"blade", run.facts.blade}}));
  }
  as_one(what, [&] {
    for (const auto& run : runs) {
      Run made = run;
      made.readings.clear();
      made.facts = with_steel(run.facts);  // as the file gives it back
      acts_.add(made);
    }
    set_kept(key, value);
  });
}

}  // namespace bq::inline workflow
