#include "workflow/demo_project.h"

#include <algorithm>
#include <map>

namespace bq {

ImportCounts make_demo_project(const std::filesystem::path& path, const Recipe& recipe,
                               const Trial& readings) {
  Trial trial = readings;
  std::map<std::string, Run*> known;
  for (auto& run : trial.runs) known[run.facts.name] = &run;
  std::vector<Run> planned;
  for (const auto& run : recipe.runs) {
    if (const auto found = known.find(run.facts.name); found != known.end()) {
      found->second->plan = run.plan;
      continue;
    }
    Run empty;
    empty.facts = run.facts;
    empty.plan = run.plan;
    planned.push_back(std::move(empty));
    const bool has_blade = std::any_of(trial.blades.begin(), trial.blades.end(), [&](const Blade& blade) {
      return blade.name == run.facts.blade;
    });
    if (!has_blade && !run.facts.blade.empty()) {
      Blade blade;
      blade.name = run.facts.blade;
      blade.steel = run.facts.steel;
      trial.blades.push_back(blade);
    }
  }
  trial.runs.insert(trial.runs.end(), planned.begin(), planned.end());
  std::sort(trial.blades.begin(), trial.blades.end(),
            [](const Blade& a, const Blade& b) { return a.name < b.name; });
  ProjectFile project = ProjectFile::create(path, recipe.title);
  const ImportCounts counts = project.import(trial, false);
  if (!recipe.threshold.empty()) project.set_setting("threshold", recipe.threshold);
  return counts;
}

}  // namespace bq
