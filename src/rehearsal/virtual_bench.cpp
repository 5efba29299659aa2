#include "rehearsal/virtual_bench.h"

#include <algorithm>
#include <cmath>

#include "quantity/limit.h"
#include "stats/random.h"
#include "trial/checkpoints.h"

namespace bq::inline rehearsal {

namespace {

/// One draw for everything of this name (FNV-1a, 64 bits), from streams that no run uses.
double shared_draw(std::uint64_t seed, std::string_view kind, const std::string& name) {
  std::uint64_t hash = 0xcbf29ce484222325ULL;
  const auto add = [&](std::string_view text) {
    for (const char c : text) hash = (hash ^ std::uint8_t(c)) * 0x100000001b3ULL;
  };
  add(kind);
  add(name);
  return stats::Random(seed, hash | 0x8000000000000000ULL).normal();
}

}  // namespace

VirtualBlade blade_of(const Recipe& recipe, const RecipeRun& run, double run_factor) {
  const VirtualBlade::Start start{
      *run.facts.geometry, *run.facts.finish,
      recipe.steels.at(run.facts.steel).wear_factor * run.wear_scale * run_factor,
      run.residual_burr_um};
  VirtualMedium medium = recipe.media.at(run.facts.medium);
  if (run.facts.cut_mode) medium.cut_mode = *run.facts.cut_mode;
  return {start, medium, recipe.gauge};
}

Trial play(const Recipe& recipe, std::uint64_t seed) {
  Trial trial;
  trial.title = recipe.title;
  trial.runs.reserve(recipe.runs.size());
  for (std::size_t i = 0; i < recipe.runs.size(); ++i) {
    const RecipeRun& plan = recipe.runs[i];
    Run run;
    run.facts = plan.facts;
    run.plan = plan.plan;
    stats::Random random(seed, i + 1);
    double log_factor = recipe.scatter.run_sd * random.normal();
    if (recipe.scatter.blade_sd > 0)
      log_factor += recipe.scatter.blade_sd * shared_draw(seed, "blade ", run.facts.blade);
    if (recipe.scatter.block_sd > 0)
      log_factor += recipe.scatter.block_sd * shared_draw(seed, "block ", run.facts.block);
    const double run_factor = std::exp(log_factor);
    const VirtualBlade blade = blade_of(recipe, plan, run_factor);
    const LabelId by_operator = trial.labels.id_of(plan.by_operator);
    std::size_t turn = 0;
    if (!plan.planned_only)
      run.readings.reserve(plan.plan.checkpoints.size() * std::size_t(plan.plan.readings_each));
    std::vector<LabelId> stations;
    for (const auto& station : plan.stations) stations.push_back(trial.labels.id_of(station));
    for (std::size_t c = 0; c < plan.plan.checkpoints.size() && !plan.planned_only; ++c) {
      if (plan.played_to && double(plan.plan.checkpoints[c]) > *plan.played_to) break;
      const double shift = recipe.scatter.checkpoint_sd * random.normal();
      run.cuts_done = plan.plan.checkpoints[c];
      const double level_gf = blade.reading_gf(double(run.cuts_done)) * std::exp(shift);
      for (int r = 0; r < plan.plan.readings_each; ++r) {
        double value_gf = level_gf * std::exp(recipe.scatter.reading_sd * random.normal());
        for (const auto& slip : plan.slips)
          if (slip.checkpoint == c && slip.reading == r) value_gf *= slip.factor;
        Reading reading;
        reading.cuts = run.cuts_done;
        reading.unit = recipe.gauge.unit;
        const double steps = convert(value_gf, Unit::gf, reading.unit) / recipe.gauge.resolution;
        reading.value = std::max(1.0, std::round(steps)) * recipe.gauge.resolution;
        reading.station = stations[turn++ % stations.size()];
        reading.by_operator = by_operator;
        run.readings.push_back(reading);
      }
      if (const auto median = median_at(run, run.cuts_done, recipe.gauge.unit);
          recipe.stop_at && median && reaches_limit(*median, *recipe.stop_at))
        break;  // as the Bench asks
    }
    if (!run.facts.blade.empty() && !trial.find_blade(run.facts.blade)) {
      Blade owner;
      owner.name = run.facts.blade;
      owner.steel = run.facts.steel;
      trial.blades.push_back(owner);
    }
    trial.runs.push_back(std::move(run));
  }
  return trial;
}

}  // namespace bq::inline rehearsal
