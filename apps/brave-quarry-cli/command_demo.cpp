
#include "commands.h"
#include "output.h"
#include "readings_source.h"
#include "workflow/demo_project.h"

namespace {
std::string text_or_nothing(const std::string& path) {
  return path.empty() ? std::string() : bq::read_text_file(path);
}
}  // namespace

int run_demo(const DemoOptions& options) {
  const auto recipe = bq::parse_recipe(bq::read_text_file(options.recipe));
  if (!recipe) throw CommandEnd(kRefused, options.recipe + ":" + recipe.refusal().reason);
  const auto tables = tables_from({options.readings}, false);
  const auto counts =
      bq::make_demo_project(options.project, *recipe, tables.trial, text_or_nothing(options.rack),
                            text_or_nothing(options.plan), text_or_nothing(options.claims),
                            bq::read_text_file(options.recipe), text_or_nothing(options.bench));
  std::printf("%d runs and %lld readings\n", counts.runs, static_cast<long long>(counts.readings));
  return kDone;
}
