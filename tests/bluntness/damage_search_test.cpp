#include <gtest/gtest.h>

#include <cmath>

#include "bluntness/damage_search.h"
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
  EXPECT_NEAR(*damage_rate_upper({{100, false}, {2900, false}}), 1 - std::pow(0.05, 1.0 / 3000), 1e-15) << "all clean: only the sum counts";
  // 1 of 10 blocks: the upper limit of the share is 0.39416 (Clopper and Pearson, one-sided 95 %).
  EXPECT_NEAR(*damage_rate_upper(blocks(9, 1, 50)), 1 - std::pow(1 - 0.394163, 1.0 / 50), 1e-6);
  // Unequal blocks that hardly differ give nearly what equal ones give by likelihood, and more damage never a lower bound.
  const auto nearly = *damage_rate_upper({{50, true}, {51, false}, {50, false}, {50, false}, {50, false}, {50, false}, {50, false}, {50, false}, {50, false}, {50, false}});
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

// The promise is kept: with a known rate the bound lies above it at least 95 times in 100 (equal blocks: exact).
TEST(DamageRate, BoundsCoverTheRateTheyClaim) {
  stats::Random random(959);
  for (const double rate : {0.002, 0.01, 0.03}) {
    int covered = 0;
    constexpr int kTrials = 4000;
    for (int t = 0; t < kTrials; ++t) {
      std::vector<DamageBlock> seen;
      for (int b = 0; b < 8; ++b) seen.push_back({40, random.uniform() < 1 - std::pow(1 - rate, 40)});
      const auto bound = damage_rate_upper(seen);
      covered += !bound || *bound >= rate;
    }
    EXPECT_GE(covered, int(0.943 * kTrials)) << rate;
  }
}

TEST(DamageRate, WordsTellTwoPromisesApart) {
  EXPECT_NE(bound_in_words(blocks(1, 0, 200)).find("at most 1 damaging event in 67 cuts"), std::string::npos) << bound_in_words(blocks(1, 0, 200));
  EXPECT_NE(bound_in_words(blocks(1, 0, 3000)).find("in 1001 cuts"), std::string::npos) << bound_in_words(blocks(1, 0, 3000));
  EXPECT_NE(bound_in_words(blocks(0, 2, 50)).find("nothing bounds"), std::string::npos);
}

TEST(DamageSearchSteps, FollowDamageStressAndCleanBlocks) {
  DamageSearch search;
  search.start_angle_deg = 8;
  const StressFacts stress{30, 0.08, 2500};
  const double held = least_wedge_angle_deg({30, 0.08}, 0.95 * 2500);
  ASSERT_GT(held, 12);
  auto next = propose(search, stress);
  EXPECT_EQ(next.edge_angle_deg, 8);
  search.rounds.push_back({8, 0, 50, false, {DamageFound::bent, 40.0, true, 60.0, "", 0}, "", ""});
  next = propose(search, stress);
  EXPECT_GE(next.edge_angle_deg, held) << "the scan asks for more than a step";
  EXPECT_LT(next.edge_angle_deg, held + 0.51);
  EXPECT_EQ(next.bevel_thickness_um, 40);
  EXPECT_NEAR(*next.remove_um, 40 / (2 * std::tan(8 * 0.017453292519943295)), 1e-9) << "up to where the wedge is 40 µm thick";
  EXPECT_NE(next.reason.find("bent, 40 µm thick"), std::string::npos);
  // What was seen comes before the scan.
  search.rounds.push_back({30, 40, 50, false, seen(DamageFound::bright_spot), "", ""});
  next = propose(search, stress);
  EXPECT_EQ(next.edge_angle_deg, 32);
  EXPECT_NE(next.reason.find("what was seen comes before it"), std::string::npos);
  search.rounds.push_back({32, 40, 50, false, {}, "", ""});
  next = propose(search, {});
  EXPECT_EQ(next.kind, SearchProposal::Kind::confirmation);
  EXPECT_EQ(next.cuts, search.confirm_cuts);
  EXPECT_EQ(next.edge_angle_deg, 32);
  search.rounds.push_back({32, 40, 300, true, seen(DamageFound::bent), "", ""});
  EXPECT_EQ(propose(search, {}).kind, SearchProposal::Kind::rough_block) << "a damaged long block goes on searching";
  search.rounds.back().look.found = DamageFound::clean;
  EXPECT_EQ(propose(search, {}).kind, SearchProposal::Kind::finished);
  search.rounds.push_back({44, 40, 50, false, seen(DamageFound::broken_out), "", ""});
  EXPECT_EQ(propose(search, {}).edge_angle_deg, 45);
}
