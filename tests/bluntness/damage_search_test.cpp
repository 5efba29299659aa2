#include <gtest/gtest.h>

#include <cmath>
#include <cstdio>

#include "bluntness/damage_search.h"
#include "bluntness/rough_use.h"
#include "edge/weakest_place.h"
#include "stats/random.h"

using namespace bq;

namespace {

std::vector<DamageBlock> blocks(int clean, int damaged, std::int64_t cuts) {
  std::vector<DamageBlock> out(std::size_t(clean), DamageBlock{cuts, false});
  out.insert(out.end(), std::size_t(damaged), DamageBlock{cuts, true});
  return out;
}

LookEvent seen(DamageFound found) {
  LookEvent out;
  out.found = found;
  return out;
}

}  // namespace

TEST(DamageRate, ClosedFormsHold) {
  EXPECT_FALSE(damage_rate_upper({}).has_value());
  EXPECT_FALSE(damage_rate_upper(blocks(0, 3, 50)).has_value()) << "every block damaged: no bound";
  EXPECT_NEAR(*damage_rate_upper(blocks(1, 0, 200)), 1 - std::pow(0.05, 1.0 / 200), 1e-15);
  EXPECT_NEAR(*damage_rate_upper({{100, false}, {2900, false}}), 1 - std::pow(0.05, 1.0 / 3000),
              1e-15)
      << "all clean: only the sum counts";
  // 1 of 10 blocks: the upper limit of the share is 0.39416 (Clopper and Pearson, one-sided 95 %).
  EXPECT_NEAR(*damage_rate_upper(blocks(9, 1, 50)), 1 - std::pow(1 - 0.394163, 1.0 / 50), 1e-6);
  // Unequal blocks that hardly differ give nearly what equal ones give by likelihood, and more
  // damage never a lower bound.
  const auto nearly = *damage_rate_upper({{50, true},
                                          {51, false},
                                          {50, false},
                                          {50, false},
                                          {50, false},
                                          {50, false},
                                          {50, false},
                                          {50, false},
                                          {50, false},
                                          {50, false}});
  EXPECT_NEAR(nearly / *damage_rate_upper(blocks(9, 1, 50)), 1, 0.25);
  double last = 0;
  for (int damaged = 0; damaged < 6; ++damaged) {
    auto mixed = blocks(6 - damaged, damaged, 50);
    mixed.push_back({80, false});
    const double bound = *damage_rate_upper(mixed);
    EXPECT_GT(bound, last);
    last = bound;
  }
}

namespace {
/// Chance that the bound holds a rate, over every way the blocks can turn out.
double coverage_of(const std::vector<std::int64_t>& cuts, double rate) {
  double held = 0;
  for (unsigned ways = 0; ways < 1U << cuts.size(); ++ways) {
    double chance = 1;
    std::vector<DamageBlock> seen;
    for (std::size_t b = 0; b < cuts.size(); ++b) {
      const bool hit = ways >> b & 1U;
      const double clean = std::pow(1 - rate, double(cuts[b]));
      chance *= hit ? 1 - clean : clean;
      seen.push_back({cuts[b], hit});
    }
    const auto bound = damage_rate_upper(seen);
    if (!bound || *bound >= rate * (1 - 1e-12)) held += chance;
  }
  return held;
}
}  // namespace

// The promise is kept for every rate: never below 95 % with blocks of one size (exact), by
// counting, not by simulation.
TEST(DamageRate, BoundsCoverTheRateTheyClaim) {
  for (const auto& cuts : {std::vector<std::int64_t>(1, 200), std::vector<std::int64_t>(3, 100),
                           std::vector<std::int64_t>(8, 40)}) {
    double least = 1;
    for (double log_rate = std::log(1e-5); log_rate < std::log(0.2); log_rate += 0.03)
      least = std::min(least, coverage_of(cuts, std::exp(log_rate)));
    std::printf("damage bound, %zu blocks of %ld cuts: covers at least %.2f %%\n", cuts.size(),
                long(cuts.front()), 100 * least);
    EXPECT_GE(least, 0.95 - 1e-9) << cuts.size();
  }
  // Unlike blocks: by likelihood, never below the exact limit of the count.
  double least = 1;
  const std::vector<std::int64_t> unlike{40, 40, 40, 300, 300};
  for (double log_rate = std::log(1e-4); log_rate < std::log(0.1); log_rate += 0.05)
    least = std::min(least, coverage_of(unlike, std::exp(log_rate)));
  std::printf("damage bound, blocks of 40, 40, 40, 300, 300 cuts: covers at least %.2f %%\n",
              100 * least);
  EXPECT_GE(least, 0.95 - 1e-9);
}

TEST(DamageRate, WordsTellTwoPromisesApart) {
  EXPECT_NE(bound_in_words(blocks(1, 0, 200)).find("at worst 1 damage in 67 cuts"),
            std::string::npos)
      << bound_in_words(blocks(1, 0, 200));
  EXPECT_NE(bound_in_words(blocks(1, 0, 3000)).find("in 1001 cuts"), std::string::npos)
      << bound_in_words(blocks(1, 0, 3000));
  EXPECT_NE(bound_in_words(blocks(0, 2, 50)).find("nothing bounds"), std::string::npos);
}

TEST(DamageSearchSteps, FollowDamageStressAndCleanBlocks) {
  DamageSearch search;
  search.start_angle_deg = 8;
  const StressFacts stress{30, 0.08, 2500};
  auto next = propose(search, stress);
  EXPECT_EQ(next.edge_angle_deg, 8);
  search.rounds.push_back({8, 0, 50, false, {DamageFound::bent, 40.0, true, 60.0, "", 0}, "", ""});
  next = propose(search, stress);
  EXPECT_EQ(next.edge_angle_deg, 10) << "the tester's step leads, whatever the scan wants";
  EXPECT_EQ(next.bevel_thickness_um, 24) << "six tenths of it";
  EXPECT_EQ(next.regrind_deg, 8);
  EXPECT_NEAR(*next.remove_um, 40 / (2 * std::tan(8 * 0.017453292519943295)), 1e-9)
      << "up to where the wedge is 40 µm thick";
  EXPECT_NE(next.reason.find("bent, 40 µm thick"), std::string::npos);
  // The load it has met, not the one that was guessed on Section.
  ASSERT_TRUE(next.load.has_value());
  EXPECT_LT(next.load->high_N_per_mm, 30);
  EXPECT_NE(next.reason.find("this search has met a side load of"), std::string::npos);
  search.rounds.push_back({30, 40, 50, false, seen(DamageFound::bright_spot), "", ""});
  next = propose(search, stress);
  EXPECT_EQ(next.edge_angle_deg, 32);
  search.rounds.push_back({32, 40, 50, false, {}, "", ""});
  next = propose(search, {});
  EXPECT_EQ(next.kind, SearchProposal::Kind::confirmation);
  EXPECT_EQ(next.cuts, search.confirm_cuts);
  EXPECT_EQ(next.edge_angle_deg, 32);
  search.rounds.push_back({32, 40, 300, true, seen(DamageFound::bent), "", ""});
  EXPECT_EQ(propose(search, {}).kind, SearchProposal::Kind::rough_block)
      << "a damaged long block goes on searching";
  search.rounds.back().look.found = DamageFound::clean;
  EXPECT_EQ(propose(search, {}).kind, SearchProposal::Kind::finished);
  search.rounds.push_back({44, 40, 50, false, seen(DamageFound::broken_out), "", ""});
  EXPECT_EQ(propose(search, {}).edge_angle_deg, 45);
  // Back to a slimmer one by the tester's wish: what failed steeper is not proposed again.
  search.rounds.push_back({20, 40, 50, false, seen(DamageFound::bent), "", ""});
  EXPECT_EQ(propose(search, {}).edge_angle_deg, 45);
  EXPECT_NE(propose(search, {}).reason.find("44°, which failed before"), std::string::npos);
}

TEST(RoughUse, HeldOnlyAfterTheLongBlockAndOnlyForSectionsNowhereThinner) {
  DamageSearch search;
  search.rounds.push_back({9, 0, 50, false, {DamageFound::bent, 40.0, true, 60.0, "", 0}, "", ""});
  search.rounds.push_back({12, 60, 50, false, {}, "", ""});
  const auto judged = [&](double edge, std::optional<double> micro) {
    const auto uses = rough_uses(search);
    std::vector<const RoughUse*> all;
    for (const auto& use : uses) all.push_back(&use);
    return judge(profile_of(edge, micro, 60), all);
  };
  EXPECT_EQ(judged(15, {}), RoughestUse::not_tried) << "one clean block is no promise";
  search.rounds.push_back({12, 60, 300, true, {}, "", ""});
  EXPECT_EQ(judged(12, {}), RoughestUse::held);
  EXPECT_EQ(judged(15, {}), RoughestUse::held);
  EXPECT_EQ(judged(9, 12), RoughestUse::not_tried)
      << "a micro-bevel 60 µm wide ends below the bevel that held";
  EXPECT_EQ(judged(11, {}), RoughestUse::not_tried);
  EXPECT_EQ(judged(8, {}), RoughestUse::damaged);
  EXPECT_EQ(judged(9, {}), RoughestUse::damaged);
  EXPECT_EQ(judged(8, 15), RoughestUse::not_tried) << "thicker at the tip than what was bent";
  // Against brute force: thickness at every micrometre.
  for (const double edge : {7.0, 9.5, 12.0, 14.0})
    for (const std::optional<double> micro :
         {std::optional<double>(), std::optional(13.0), std::optional(20.0)})
      for (const auto& use : rough_uses(search)) {
        const ApexProfile one = profile_of(edge, micro, 80);
        bool thick = true;
        for (int h = 1; h <= int(use.depth_um); ++h)
          thick = thick && one.thickness_um(h) > use.section.thickness_um(h) - 0.1;
        EXPECT_EQ(at_least_as_thick(one, use.section, use.depth_um), thick) << edge;
        EXPECT_NEAR(one.distance_um(one.thickness_um(123)), 123, 1e-9);
      }
}

TEST(DamageBlocks, LooksAtOneCountAreOneLookAndAChipIsCountedOnce) {
  bq::Run run;
  const auto look = [&](std::int64_t cuts, DamageFound found, std::optional<double> at,
                        std::optional<double> wide) {
    run.events.push_back({0, "", cuts, "", LookEvent{found, wide, true, at, "", 0}});
  };
  look(100, DamageFound::clean, {}, {});
  look(100, DamageFound::broken_out, 40, 30);    // from a picture, accepted later
  look(200, DamageFound::broken_out, 40.4, 31);  // the same chip
  look(300, DamageFound::broken_out, 40, 60);    // hit again: twice as wide
  look(400, DamageFound::bent, 71, 20);          // another one
  look(500, DamageFound::clean, {}, {});
  const auto blocks = blocks_between_looks(run);
  ASSERT_EQ(blocks.size(), 5u);
  const bool wanted[] = {true, false, true, true, false};
  for (int i = 0; i < 5; ++i) {
    EXPECT_EQ(blocks[std::size_t(i)].cuts, 100);
    EXPECT_EQ(blocks[std::size_t(i)].damaged, wanted[i]) << i;
  }
  // A place that is not known: whether it is new cannot be told, and the block is left out.
  look(600, DamageFound::bent, {}, {});
  EXPECT_EQ(blocks_between_looks(run).size(), 5u);
}
