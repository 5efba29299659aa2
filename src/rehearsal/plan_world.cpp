#include "rehearsal/plan_world.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/distributions.h"

namespace bq::inline rehearsal {
namespace {

constexpr double kUsualApex_deg = 15, kUsualFinish_um = 6;
constexpr double kFarAway_cuts = 1e12;

double stated_ratio(const TrialPlan& plan, const Combination& levels) {
  double ratio = 1;
  for (std::size_t f = 0; f < plan.factors.size(); ++f)
    if (!plan.factors[f].life_ratio.empty())
      ratio *= plan.factors[f].life_ratio[std::size_t(levels[f])];
  return ratio;
}

/// Facts that a virtual blade can be made of: geometry and finish are always there.
Checked<RunFacts> complete_facts(const TrialPlan& plan, const Combination& levels) {
  auto facts = facts_of(plan, levels);
  if (!facts) return facts;
  RunFacts out = *facts;
  if (!out.geometry) out.geometry = *EdgeGeometry::make(BevelAngles::symmetric(kUsualApex_deg));
  if (!out.finish) out.finish = Finish::both(kUsualFinish_um);
  return out;
}

struct World {
  VirtualMedium medium;
  VirtualGauge gauge;
  double threshold_gf = 0;
};

Checked<double> threshold_gf(const TrialPlan& plan) {
  const auto read = parse_threshold(plan.threshold, plan.unit, {}, true);
  if (read) return convert(read->value, plan.unit, Unit::gf);
  // "3x" needs readings; here the stated fresh reading stands for them.
  std::string_view text = plan.threshold;
  while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
  if (!text.empty() && (text.back() == 'x' || text.back() == 'X')) {
    const auto times = parse_number(text.substr(0, text.size() - 1));
    if (times && *times > 0) return *times * convert(plan.truth.fresh_reading, plan.unit, Unit::gf);
  }
  return read.refusal();
}

VirtualBlade blade_in(const World& world, const RunFacts& facts, double wear_scale) {
  VirtualMedium medium = world.medium;
  if (facts.cut_mode) medium.cut_mode = *facts.cut_mode;
  return {{*facts.geometry, *facts.finish, wear_scale, 0}, medium, world.gauge};
}

Checked<World> world_of(const TrialPlan& plan) {
  World world;
  world.gauge.unit = plan.unit;
  world.gauge.resolution =
      convert(plan.truth.fresh_reading, plan.unit, Unit::gf) >= 20 && plan.unit == Unit::gf
          ? 1
          : plan.truth.fresh_reading / 1000;
  world.medium.stroke_mm = plan.truth.stroke_mm;
  world.medium.tooth_life_cuts = plan.truth.tooth_life_cuts.value_or(4 * plan.truth.life);
  const Combination first(plan.factors.size(), 0);
  const auto facts = complete_facts(plan, first);
  if (!facts) return facts.refusal();
  const auto threshold = threshold_gf(plan);
  if (!threshold) return threshold.refusal();
  world.threshold_gf = *threshold;
  const double fresh_gf = convert(plan.truth.fresh_reading, plan.unit, Unit::gf);
  if (*threshold <= fresh_gf)
    return Refusal{
        said("the threshold {threshold} is not above the stated fresh reading of {fresh_reading}: "
             "such an edge would be dull from the start",
             {{"threshold", plan.threshold},
              {"fresh_reading", print_measure(plan.truth.fresh_reading, plan.unit)}})};
  world.gauge.gf_per_um = 1;
  world.medium.wear_um2_per_m = 1;
  world.gauge.gf_per_um = fresh_gf / blade_in(world, *facts, 1).reading_gf(0);
  double low = -40, high = 40;  // ln of the wear
  for (int i = 0; i < 200; ++i) {
    const double middle = 0.5 * (low + high);
    world.medium.wear_um2_per_m = std::exp(middle);
    // A wear too small never gets there.
    (blade_in(world, *facts, 1).reading_gf(plan.truth.life) < *threshold ? low : high) = middle;
  }
  world.medium.wear_um2_per_m = std::exp(high);
  const auto life = blade_in(world, *facts, 1).true_life(*threshold, 4 * plan.truth.life);
  if (!life || std::fabs(std::log(*life / plan.truth.life)) > 0.05)
    return Refusal{
        said("no wear gives a life of {life} cuts to {threshold}; state another life or threshold",
             {{"life", print_number(plan.truth.life, 3)}, {"threshold", plan.threshold}})};
  return world;
}

Checked<double> life_in(const World& world, const TrialPlan& plan, const Combination& levels) {
  const auto facts = complete_facts(plan, levels);
  if (!facts) return facts.refusal();
  const VirtualBlade blade = blade_in(world, *facts, 1 / stated_ratio(plan, levels));
  double limit = plan.truth.life;
  while (limit < kFarAway_cuts && blade.reading_gf(limit) < world.threshold_gf) limit *= 2;
  const auto life = blade.true_life(world.threshold_gf, limit);
  if (!life)
    return Refusal{
        said("{plan} would never reach the threshold", {{"plan", describe(plan, levels)}})};
  if (!(*life > 1e-6 * plan.truth.life))
    return Refusal{said("{plan} would be dull from the start", {{"plan", describe(plan, levels)}})};
  return *life;
}

struct AskedPlace {
  std::size_t factor = 0;
  int from = 0, to = 0;
};
std::optional<AskedPlace> place_of(const TrialPlan& plan, const PlanQuestion& asked) {
  for (std::size_t f = 0; f < plan.factors.size(); ++f) {
    if (plan.factors[f].name != asked.factor) continue;
    AskedPlace place{f, -1, -1};
    for (std::size_t l = 0; l < plan.factors[f].levels.size(); ++l) {
      if (print_factor_value(plan.factors[f].levels[l]) == print_factor_value(asked.from))
        place.from = int(l);
      if (print_factor_value(plan.factors[f].levels[l]) == print_factor_value(asked.to))
        place.to = int(l);
    }
    if (place.from >= 0 && place.to >= 0) return place;
  }
  return std::nullopt;
}

}  // namespace

Checked<Recipe> recipe_of(const TrialPlan& plan, const RunSheet& sheet) {
  const auto world = world_of(plan);
  if (!world) return world.refusal();
  Recipe recipe;
  recipe.title = plan.name;
  recipe.threshold = plan.threshold;
  recipe.stop_at = convert(world->threshold_gf, Unit::gf, plan.unit);
  recipe.gauge = world->gauge;
  recipe.scatter.run_sd = plan.truth.run_sd;
  recipe.scatter.blade_sd = plan.truth.blade_sd;
  recipe.scatter.block_sd = plan.truth.block_sd;
  recipe.scatter.checkpoint_sd = plan.truth.checkpoint_sd;
  recipe.scatter.reading_sd = plan.truth.reading_sd;
  for (const auto& row : sheet.runs) {
    const auto facts = complete_facts(plan, row.levels);
    if (!facts) return facts.refusal();
    RecipeRun run;
    run.facts = *facts;
    run.facts.name = row.code;
    run.facts.blade = row.blade;
    run.facts.block = row.block;
    run.plan = {sheet.checkpoints, plan.checkpoints.readings_each};
    run.by_operator = row.by_operator;
    run.stations = {"middle"};
    run.wear_scale = 1 / stated_ratio(plan, row.levels);
    recipe.media.try_emplace(run.facts.medium, world->medium).first->second.name = run.facts.medium;
    recipe.steels.try_emplace(run.facts.steel, VirtualSteel{run.facts.steel, 1});
    recipe.runs.push_back(std::move(run));
  }
  if (recipe.runs.empty()) return Refusal{said("the sheet has no runs")};
  return recipe;
}

Checked<std::vector<PlannedEdge>> edges_of(const TrialPlan& plan) {
  const auto world = world_of(plan);
  if (!world) return world.refusal();
  std::vector<PlannedEdge> out;
  for (long i = 0; i < std::min(combination_count(plan), kMostFullRuns); ++i) {
    const Combination levels = combination_at(plan, i);
    if (!why_excluded(plan, levels).empty()) continue;
    const auto life = life_in(*world, plan, levels);
    if (!life) return life.refusal();
    out.push_back({*complete_facts(plan, levels), *life});
  }
  return out;
}

Checked<std::vector<RunEnd>> expected_ends(const TrialPlan& plan, const RunSheet& sheet) {
  const auto world = world_of(plan);
  if (!world) return world.refusal();
  const auto& t = plan.truth;
  const double sd =
      std::sqrt(t.run_sd * t.run_sd + t.blade_sd * t.blade_sd + t.block_sd * t.block_sd);
  std::map<Combination, RunEnd> known;
  std::vector<RunEnd> out;
  for (const auto& run : sheet.runs) {
    const auto [end, fresh] = known.try_emplace(run.levels);
    if (fresh) {
      const auto life = life_in(*world, plan, run.levels);
      if (!life) return life.refusal();
      double before = 0;
      for (const auto cuts : sheet.checkpoints) {
        // It is read at the next checkpoint where it was not blunt at the one before.
        const double z = before > 0 ? std::log(*life / before) : INFINITY;
        end->second.reached.push_back(sd > 0 ? stats::normal_cdf(z / sd) : double(z > 0));
        before = double(cuts);
      }
    }
    out.push_back(end->second);
  }
  return out;
}

Checked<std::int64_t> longest_run(const TrialPlan& plan) {
  const auto edges = edges_of(plan);
  if (!edges) return edges.refusal();
  double longest = 0;
  for (const auto& edge : *edges) longest = std::max(longest, edge.true_life);
  if (!(longest > 0)) return Refusal{said("no combination is left to run")};
  const auto& t = plan.truth;
  const double wished =
      longest * std::exp(1.645 * std::sqrt(t.run_sd * t.run_sd + t.blade_sd * t.blade_sd +
                                           t.block_sd * t.block_sd));
  if (wished > 1e8) return Refusal{said("the longest life is beyond what a bench can cut")};
  const double step = std::pow(10.0, std::floor(std::log10(wished)) - 1);
  return std::max<std::int64_t>(2, std::int64_t(std::ceil(wished / step) * step));
}

Checked<double> true_ratio_of(const TrialPlan& plan) {
  const auto world = world_of(plan);
  if (!world) return world.refusal();
  const auto place = place_of(plan, plan.asked());
  if (!place) return Refusal{said("the question names no factor of this plan")};
  Combination levels(plan.factors.size(), 0);
  levels[place->factor] = place->from;
  const auto from = life_in(*world, plan, levels);
  levels[place->factor] = place->to;
  const auto to = life_in(*world, plan, levels);
  if (!from) return from.refusal();
  if (!to) return to.refusal();
  return *to / *from;
}

Checked<TrialPlan> with_true_ratio(const TrialPlan& plan, double ratio) {
  TrialPlan out = plan;
  const auto place = place_of(plan, plan.asked());
  if (!place || !(ratio > 0)) return Refusal{said("the question names no factor of this plan")};
  auto& factor = out.factors[place->factor];
  if (factor.life_ratio.empty()) factor.life_ratio.assign(factor.levels.size(), 1.0);
  // Life is nearly, not exactly, one over the wear (teeth go by cuts): three corrections bring it
  // within 1e-6.
  for (int i = 0; i < 8; ++i) {
    const auto now = true_ratio_of(out);
    if (!now) return now.refusal();
    const double more = ratio / *now;
    if (std::fabs(std::log(more)) < 1e-9) break;
    if (!factor.numeric()) {
      factor.life_ratio[std::size_t(place->to)] *= more;
      continue;
    }
    const auto x = [&](int level) {
      return coded_level(factor, factor.levels[std::size_t(level)]);
    };
    const double from = x(place->from), span = x(place->to) - from;
    for (std::size_t l = 0; l < factor.levels.size(); ++l)
      factor.life_ratio[l] *= std::pow(more, (x(int(l)) - from) / span);
  }
  return out;
}

}  // namespace bq::inline rehearsal
