
#include "commands.h"
#include "output.h"
#include "store/project_file.h"
#include "workflow/making_check.h"
#include "workflow/plan_study.h"
#include "workflow/rule_base.h"
#include "workflow/source.h"

int run_check(const CheckOptions& options) {
  const std::string& path = options.project;
  std::vector<std::string> problems, remarks;
  if (path.ends_with(".json")) {
    problems = bq::check_rule_file(path, bq::read_text_file(path));
  } else
    try {
      // The rules a project is judged by belong to what must be in order.
      problems = bq::load_rules(bq::own_rules_folder()).problems;
      std::vector<std::string> notes;
      const auto project = bq::open_to_read(path, notes);
      for (const auto& note : notes) say(note);
      for (const auto& problem : project.check()) problems.push_back(problem);
      if (problems.empty()) {
        const bq::Trial trial = project.load();
        for (const auto& problem :
             bq::plan_book_problems(project.setting(bq::kPlanBookKey).value_or(""), trial))
          problems.push_back(problem);
        const bq::MakingCheck makings = bq::check_makings(trial);
        problems.insert(problems.end(), makings.problems.begin(), makings.problems.end());
        remarks = makings.notes;
      }
    } catch (const bq::StoreError& error) {
      // A file that cannot be opened as a project is a finding, a missing or locked one is not.
      switch (error.problem()) {
        case bq::StoreProblem::not_a_project:
        case bq::StoreProblem::truncated:
        case bq::StoreProblem::damaged:
          problems.emplace_back(error.what());
          break;
        default:
          throw;
      }
    }
  if (options.json)
    print_json({{"ok", problems.empty()}, {"problems", problems}, {"remarks", remarks}});
  else if (problems.empty())
    std::printf("%s is in order\n", path.c_str());
  else
    for (const auto& problem : problems) std::printf("%s\n", problem.c_str());
  if (!options.json)
    for (const auto& remark : remarks) std::printf("remark: %s\n", remark.c_str());
  return problems.empty() ? kDone : kRefused;
}
