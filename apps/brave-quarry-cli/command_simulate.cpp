#include <cstdio>
#include <sstream>

#include "commands.h"
#include "output.h"
#include "plan_source.h"
#include "rehearsal/plan_world.h"
#include "rehearsal/virtual_bench.h"
#include "store/plan_file.h"
#include "store/readings_export.h"
#include "workflow/source.h"

namespace {

/// A recipe as it is, or a plan's sheet on its virtual blades.
bq::Recipe recipe_from(const std::string& path) {
  const std::string text = bq::read_text_file(path);
  if (bq::is_plan_file(text)) {
    const PlannedSheet planned = plan_from_text(text, path, std::nullopt);
    auto recipe = bq::recipe_of(planned.plan, planned.sheet);
    if (!recipe) throw CommandEnd(kRefused, path + ": " + recipe.refusal().reason);
    return *recipe;
  }
  auto recipe = bq::parse_recipe(text);
  if (!recipe) throw CommandEnd(kRefused, path + ":" + recipe.refusal().reason);
  return *recipe;
}

}  // namespace

int run_simulate(const SimulateOptions& options) {
  std::ostringstream table;
  bq::write_readings_csv(bq::play(recipe_from(options.recipe), options.seed), table);
  const std::string text = table.str();
  // Through the C stream, which a terminal's guard may stand in for.
  const bool whole = std::fwrite(text.data(), 1, text.size(), stdout) == text.size();
  return std::fflush(stdout) == 0 && whole ? kDone : kSystem;
}
