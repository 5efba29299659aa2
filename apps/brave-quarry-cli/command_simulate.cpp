#include <iostream>

#include "commands.h"
#include "output.h"
#include "rehearsal/virtual_bench.h"
#include "store/readings_export.h"
#include "workflow/source.h"

int run_simulate(const SimulateOptions& options) {
  const auto recipe = bq::parse_recipe(bq::read_text_file(options.recipe));
  if (!recipe) throw CommandEnd(kRefused, options.recipe + ":" + recipe.refusal().reason);
  bq::write_readings_csv(bq::play(*recipe, options.seed), std::cout);
  std::cout.flush();
  return std::cout ? kDone : kSystem;
}
