// "Does it hold?" and what a plan's runs really take: the formulas against the Bench's own rules,
// played on virtual loads and blades.
#include <gtest/gtest.h>

#include <cmath>

#include "bluntness/damage_search.h"
#include "plan/hold_search.h"
#include "rehearsal/plan_world.h"
#include "rehearsal/virtual_bench.h"
#include "rehearsal/virtual_damage.h"
#include "stats/distributions.h"

using namespace bq;

namespace {

constexpr double kLimit_MPa = 2000;

/// The load under which an edge of this angle is damaged once in `wanted` cuts.
VirtualSideLoad load_for(double true_deg, std::int64_t wanted, double sd) {
  VirtualSideLoad load{1, sd, 0.08};
  const double bears = kLimit_MPa / wedge_stress_MPa({1, load.depth_mm}, true_deg);
  load.median_N_per_mm = bears / std::exp(sd * stats::normal_quantile(1 - 1.0 / double(wanted)));
  return load;
}

struct Played {
  double angle_deg = 0;
  int blocks = 0;
  std::int64_t cuts = 0;
};

/// A search as the Bench proposes it, block by block.
Played played(const HoldSearch& plan, const VirtualSideLoad& load, stats::Random& random) {
  DamageSearch search;
  search.start_angle_deg = plan.start_deg;
  search.step_deg = plan.step_deg;
  search.rough_cuts = plan.rough_cuts;
  search.confirm_cuts = plan.confirm_cuts;
  Played out;
  for (;;) {
    const SearchProposal next = propose(search, {});
    out.angle_deg = next.edge_angle_deg;
    if (next.kind == SearchProposal::Kind::finished) return out;
    SearchRound round;
    round.edge_angle_deg = next.edge_angle_deg;
    round.bevel_thickness_um = next.bevel_thickness_um;
    round.cuts = next.cuts;
    round.confirmation = next.kind == SearchProposal::Kind::confirmation;
    round.look = look_after(load, next.edge_angle_deg, kLimit_MPa, true, next.cuts, random);
    ++out.blocks;
    out.cuts += next.cuts;
    search.rounds.push_back(round);
  }
}

}  // namespace

TEST(HoldSearch, ItsChancesAreThoseOfTheSearchesThatTheBenchProposes) {
  constexpr int kSearches = 4000;
  HoldSearch small;
  HoldSearch careful{8, 1, 100, 1000, 1000, 13, 0.6};
  HoldSearch rough{12, 3, 20, 50, 400, 17, 0.4};
  for (const HoldSearch& plan : {small, careful, rough}) {
    stats::Random random(7, 1);
    int slimmest = 0, slim = 0;
    double blocks = 0, cuts = 0;
    for (int i = 0; i < kSearches; ++i) {
      const double true_deg = plan.expected_deg + plan.step_deg * (random.uniform() - 0.5);
      const Played end = played(plan, load_for(true_deg, plan.wanted_cuts, plan.load_sd), random);
      const double steps = std::ceil((true_deg - plan.start_deg) / plan.step_deg - 1e-9);
      const double right = plan.start_deg + plan.step_deg * std::max(0.0, steps);
      slimmest += std::fabs(end.angle_deg - right) < 1e-6;
      slim += end.angle_deg < right - 1e-6;
      blocks += end.blocks;
      cuts += double(end.cuts);
    }
    const HoldChance said = *hold_chance(plan);
    const auto close = [](double share, double chance) {
      return std::fabs(share - chance) < 4 * std::sqrt(0.25 / kSearches);
    };
    EXPECT_TRUE(close(slimmest / double(kSearches), said.slimmest)) << slimmest << said.slimmest;
    EXPECT_TRUE(close(slim / double(kSearches), said.too_slim)) << slim << said.too_slim;
    EXPECT_NEAR(blocks / kSearches, said.blocks, 0.03 * said.blocks);
    EXPECT_NEAR(cuts / kSearches, said.cuts, 0.05 * said.cuts);
    EXPECT_NEAR(said.slimmest + said.too_slim + said.too_steep, 1, 1e-9);
    HoldSearch better = plan;
    better.confirm_cuts = *best_confirmation(plan);
    EXPECT_GE(hold_chance(better)->slimmest, said.slimmest - 1e-9);
  }
}

TEST(HoldSearch, RefusesWhatIsNoSearch) {
  const auto refused = [](auto change) {
    HoldSearch search;
    change(search);
    return !hold_chance(search).ok() && !best_confirmation(search).ok();
  };
  EXPECT_TRUE(refused([](HoldSearch& s) { s.start_deg = 60; }));
  EXPECT_TRUE(refused([](HoldSearch& s) { s.step_deg = 0; }));
  EXPECT_TRUE(refused([](HoldSearch& s) { s.rough_cuts = 0; }));
  EXPECT_TRUE(refused([](HoldSearch& s) { s.wanted_cuts = 1; }));
  EXPECT_TRUE(refused([](HoldSearch& s) { s.load_sd = NAN; }));
}

TEST(PlanWorld, ThePriceIsOfTheCutsThatRunsReallyTake) {
  TrialPlan plan;
  plan.factors = {{FactorKind::steel,
                   "steel",
                   {std::string("Fenland Plain"), std::string("Marl Tough")},
                   {1, 4}}};
  plan.design.replicates = 2;
  plan.truth.run_sd = 0.3;
  plan.truth.blade_sd = 0.2;
  plan.checkpoints.given = {0, 20, 60, 140, 300, 600, 1200};
  const auto sheet = *run_sheet(plan, *design_plan(plan));
  const auto ends = *expected_ends(plan, sheet);
  const PlanBudget likely = budget_of(plan, sheet, ends), most = budget_of(plan, sheet);
  const Recipe recipe = *recipe_of(plan, sheet);
  double cuts = 0, readings = 0;
  constexpr int kPlays = 600;
  for (int i = 0; i < kPlays; ++i)
    for (const auto& run : play(recipe, std::uint64_t(i)).runs) {
      cuts += double(run.cuts_done) / kPlays;
      readings += double(run.readings.size()) / kPlays;
    }
  EXPECT_NEAR(double(likely.cuts) / cuts, 1, 0.05);
  EXPECT_NEAR(double(likely.readings) / readings, 1, 0.03);
  EXPECT_LT(likely.minutes(), 0.9 * most.minutes());
  EXPECT_LE(likely.resting_min, most.resting_min);
  EXPECT_EQ(likely.days, most.days) << "the sheet leaves room for the longest";
  // Nothing scatters: each run ends with the first checkpoint at or past its life.
  plan.truth.run_sd = plan.truth.blade_sd = 0;
  const auto exact = budget_of(plan, sheet, *expected_ends(plan, sheet));
  EXPECT_EQ(exact.cuts, 2 * 300 + 2 * 1200);
}
