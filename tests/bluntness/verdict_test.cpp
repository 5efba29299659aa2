// Recommendation with force, damage, touch-ups, mixes and wishes; force curves; damage regression;
// curve study.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <fstream>
#include <map>
#include <sstream>

#include "bluntness/curve_study.h"
#include "bluntness/damage_trend.h"
#include "bluntness/edge_candidates.h"
#include "bluntness/recommendation.h"
#include "bluntness/useful_life.h"
#include "stats/distributions.h"
#include "stats/random.h"
#include "support.h"

using namespace bq;
using test::demo;
using test::demo_fits;

namespace {

std::map<std::string, double> reference(const std::string& wanted) {
  std::map<std::string, double> out;
  std::ifstream in(BQ_SOURCE_DIR "/tests/reference/blades.txt");
  std::string line, set, name;
  double value = 0;
  while (std::getline(in, line)) {
    std::istringstream cells(line);
    if (line[0] != '#' && cells >> set >> name >> value && set == wanted) out[name] = value;
  }
  return out;
}

const std::string kCoir = "rubberised coir mat 8 mm", kFoam = "latex foam 25 mm";

/// A split of force without error, as strokes of a made-up world would give.
ForceSplit plain_split() {
  ForceSplit split;
  split.severing_N_per_reading = split.severing_low = split.severing_high = 0.03;
  split.stiffness_N_per_mm3 = split.stiffness_low = split.stiffness_high = 0.1;
  return split;
}

/// A run that follows reading = fresh + slope·cuts exactly, read at 0, 50, … 500 cuts.
RunFit straight_run(double fresh, double slope) {
  bq::Run run;
  run.facts.name = "S";
  for (int cuts = 0; cuts <= 500; cuts += 50)
    for (int i = 0; i < 3; ++i) {
      Reading reading;
      reading.cuts = cuts;
      reading.value = (fresh + slope * cuts) * (1 + 1e-6 * (i - 1));
      run.readings.push_back(reading);
    }
  CurveOptions options;
  options.model = CurveModel::linear;
  return fit_run(run, Unit::gf, options);
}

RecommendEvidence evidence() {
  RecommendEvidence out;
  out.force = {{kCoir, plain_split()}, {kFoam, plain_split()}};
  for (const auto& steel : {"Cairn Hard", "Marl Tough", "Fenland Plain"})
    for (const double angle : {12.0, 15.0, 18.0, 22.0})
      out.damage.push_back({steel, kCoir, {angle, {angle < 14 ? 300 : 3000, false}}, false});
  out.rough.push_back({"Cairn Hard", kCoir, profile_of(13, {}, 0), true, false, 300});
  out.rough.push_back({"Cairn Hard", kCoir, profile_of(15, {}, 0), false, true, 1000});
  out.resharpening = [](const RankedEdge& edge) {
    return std::optional(Resharpening{edge.finish_um.value_or(6) > 10 ? 1.0 : 2.0, 0.1, 10, false});
  };
  return out;
}

}  // namespace

TEST(DamageTrend, AgreesWithAnIndependentProgram) {
  const double angle[] = {9, 9, 11, 11, 13, 13, 13, 15, 15, 15, 18, 18, 18, 22};
  const std::int64_t cuts[] = {40, 60, 40, 80, 40, 120, 300, 40, 300, 600, 300, 600, 1200, 1200};
  const bool hit[] = {true,  true,  true, false, false, true,  true,
                      false, false, true, false, true,  false, false};
  std::vector<AngledBlock> blocks;
  for (int i = 0; i < 14; ++i) blocks.push_back({angle[i], {cuts[i], hit[i]}});
  const auto trend = damage_trend(blocks);
  ASSERT_TRUE(trend.ok()) << trend.refusal().reason;
  const auto want = reference("trend");
  EXPECT_NEAR(trend->intercept, want.at("intercept"), 1e-7);
  EXPECT_NEAR(trend->slope, want.at("slope"), 1e-7);
  EXPECT_NEAR(trend->log_likelihood, want.at("loglik"), 1e-9);
  EXPECT_NEAR(trend->covariance[0], want.at("var0"), 1e-4);  // R's own stops a little earlier
  EXPECT_NEAR(trend->covariance[1], want.at("cov"), 1e-4);
  EXPECT_NEAR(trend->covariance[2], want.at("var1"), 1e-4);
  EXPECT_NEAR(trend->rate(14), want.at("rate14"), 1e-9);
  EXPECT_NEAR(trend->rate_high(14), want.at("high14"), 1e-7);
  // What the data do not hold is refused with the reason.
  std::vector<AngledBlock> parted{{9, {40, true}}, {11, {40, true}}, {15, {40, false}}};
  EXPECT_NE(damage_trend(parted).refusal().reason.find("up to 11°"), std::string::npos);
  parted.pop_back();
  EXPECT_NE(damage_trend(parted).refusal().reason.find("every block"), std::string::npos);
}

TEST(DamageTrend, ABoundComesFromTheSteepestTestedAngleThatIsNoSteeper) {
  const std::vector<AngledBlock> blocks{
      {12, {100, false}}, {15, {1000, false}}, {15, {1000, false}}, {18, {10, false}}};
  EXPECT_FALSE(damage_bound(blocks, 11.9));
  EXPECT_DOUBLE_EQ(damage_bound(blocks, 12)->rate_upper, *damage_rate_upper({{100, false}}));
  EXPECT_DOUBLE_EQ(damage_bound(blocks, 17.9)->rate_upper,
                   *damage_rate_upper({{1000, false}, {1000, false}}));
  EXPECT_EQ(damage_bound(blocks, 17.9)->tested_deg, 15);
  EXPECT_DOUBLE_EQ(damage_bound(blocks, 30)->rate_upper,
                   *damage_rate_upper({{10, false}}));  // never better than what was looked at
}

TEST(UsefulLife, FollowsFromSeveringAndParting) {
  const RunFit run = straight_run(100, 1), slim_run = straight_run(120, 1);
  ASSERT_TRUE(run.curve && slim_run.curve);
  const ForceSplit split = plain_split();
  const ForceCurve thick{&run, 40}, slim{&slim_run, 20};  // parting 4 N and 2 N
  EXPECT_NEAR(force_at(thick, split, 0).total_N(), 7, 1e-4);
  EXPECT_NEAR(force_at(thick, split, 200).total_N(), 0.03 * 300 + 4, 1e-4);
  // 10 N is reached where the reading is 200: after 100 cuts.
  const UsefulLife life = life_to_force(thick, split, 10);
  ASSERT_EQ(life.censoring, Censoring::none);
  EXPECT_NEAR(*life.estimate, 100, 0.01);
  EXPECT_EQ(life_to_force(thick, split, 100).censoring, Censoring::right);
  EXPECT_EQ(life_to_force(thick, split, 6).censoring, Censoring::left);
  EXPECT_EQ(*life_to_force(thick, split, 3.9).high, 0) << "parting alone is over the limit";
  // The slim one reads duller and yet starts easier: 5.6 N against 7 N; its lead ends where it
  // needs 7 N, at reading 166.7.
  const ForceLead lead = lead_over(slim, thick, split);
  EXPECT_NEAR(lead.other_fresh_N, 7, 1e-4);
  EXPECT_NEAR(*lead.lead.estimate, 5 / 0.03 - 120, 0.01);
  EXPECT_EQ(lead_over(thick, slim, split).lead.censoring, Censoring::left);
  // Not knowing s and K for sure widens it.
  ForceSplit unsure = split;
  unsure.severing_se = 0.0015;
  EXPECT_LT(*life_to_force(thick, unsure, 10).low, *life.low - 5);
}

TEST(UsefulLife, IntervalsHoldTheTruthOfMadeUpBenches) {
  constexpr int kWorlds = 300;
  int held = 0, asked = 0;
  for (int world = 0; world < kWorlds; ++world) {
    stats::Random random(51, std::uint64_t(world));
    const Curve truth{CurveModel::power, {80, 2.0, 0.75}};
    std::vector<RunFit> fits;
    std::vector<StrokePoint> points;
    for (int r = 0; r < 8; ++r) {
      bq::Run run;
      run.facts.name = "R" + std::to_string(r);
      const double index = r % 2 ? 60 : 35, own = std::exp(0.1 * random.normal());
      for (const int cuts : {0, 10, 20, 40, 80, 150, 300, 500, 800, 1200}) {
        double sum = 0;
        const double level = r == 0 ? truth.at(cuts) : truth.at(cuts * own);
        for (int i = 0; i < 3; ++i) {
          Reading reading;
          reading.cuts = cuts;
          reading.value = level * std::exp(0.05 * random.normal());
          sum += reading.value / 3;
          run.readings.push_back(reading);
        }
        if (cuts == 0 || cuts == 150 || cuts == 800)
          points.push_back({run.facts.name, sum,
                            (0.03 * level + 0.1 * index) * std::exp(0.02 * random.normal()),
                            index});
      }
      CurveOptions options;
      options.model = CurveModel::power;
      fits.push_back(fit_run(run, Unit::gf, options));
    }
    const auto split = split_force(points);
    ASSERT_TRUE(split.ok());
    const double limit = 13;
    const double exact = *truth.reaches((limit - 0.1 * 35) / 0.03, 1e6);
    const UsefulLife life = life_to_force({&fits[0], 35}, *split, limit);
    if (life.censoring != Censoring::none) continue;
    ++asked;
    held += (!life.low || *life.low <= exact) && (!life.high || exact <= *life.high);
  }
  std::printf("coverage of the life to a force limit: %.1f %% of %d\n", 100.0 * held / asked,
              asked);
  EXPECT_GE(asked, kWorlds * 95 / 100);
  EXPECT_GE(double(held) / asked, 0.92);
  EXPECT_LE(double(held) / asked, 0.98);
}

TEST(Recommend, LimitsOnForceDamageAndMinutesBindAndTellWhatWouldChange) {
  const auto all = recommend(demo(), demo_fits(), 450, {}, {}, evidence());
  ASSERT_TRUE(all.ok());
  const RankedEdge& first = all->ranked.front();
  ASSERT_TRUE(first.force_blunt_N && first.damage_rate_upper && first.resharpening &&
              first.edge_deg);
  // What was damaged in the roughest use is not offered, whatever its life.
  for (const auto& edge : all->ranked) EXPECT_NE(edge.roughest, RoughestUse::damaged);
  EXPECT_TRUE(std::any_of(all->refused.begin(), all->refused.end(), [](const RankedEdge& edge) {
    return edge.roughest == RoughestUse::damaged && edge.life > 0;
  }));
  RecommendLimits limits;
  limits.most_damage_rate = 1.0 / 500;
  const auto safe = recommend(demo(), demo_fits(), 450, limits, {}, evidence());
  EXPECT_EQ(safe->ranked.front().angle_deg, 15);
  for (const auto& edge : safe->ranked) EXPECT_LE(*edge.damage_rate_upper, 1.0 / 500);
  EXPECT_EQ(int(safe->ranked.size() + safe->refused.size()), safe->candidates);
  // The sentence names what the damage limit keeps out, and loosening it as said brings exactly
  // that first.
  const auto said = std::find_if(
      safe->sensitivity.begin(), safe->sensitivity.end(),
      [](const std::string& s) { return s.find("limit on damage") != std::string::npos; });
  ASSERT_NE(said, safe->sensitivity.end());
  EXPECT_NE(said->find(name_of(first)), std::string::npos) << *said << name_of(first);
  limits.most_damage_rate = *first.damage_rate_upper;
  EXPECT_EQ(name_of(recommend(demo(), demo_fits(), 450, limits, {}, evidence())->ranked.front()),
            name_of(first));
  limits = {};
  limits.hold_roughest = true;
  const auto rough = recommend(demo(), demo_fits(), 450, limits, {}, evidence());
  EXPECT_FALSE(rough->ranked.empty());
  for (const auto& edge : rough->ranked) {
    EXPECT_EQ(edge.steel, "Cairn Hard");
    EXPECT_GE(edge.edge_deg.value_or(edge.angle_deg), 15) << "the bevel, not its micro-bevel";
  }
  // A limit copied from the sentence keeps the edge it was said of.
  limits = {};
  const std::string& copied = all->sensitivity.front();
  const auto from = copied.find("falls below ");
  ASSERT_NE(from, std::string::npos) << copied;
  limits.most_force_N = std::stod(copied.substr(from + 12));
  limits.least_angle_deg = limits.largest_angle_deg = first.angle_deg;
  EXPECT_EQ(name_of(recommend(demo(), demo_fits(), 450, limits, {}, evidence())->ranked.front()),
            name_of(first));
  limits = {};
  limits.most_force_N = *first.force_blunt_N - 0.01;
  EXPECT_TRUE(recommend(demo(), demo_fits(), 450, limits, {}, evidence())->ranked.empty());
  // A limit that nothing is known of stops every edge and says why.
  const auto blind = recommend(demo(), demo_fits(), 450, limits);
  EXPECT_TRUE(blind->ranked.empty());
  ASSERT_FALSE(blind->remarks.empty());
  EXPECT_NE(blind->remarks.front().find("force strokes"), std::string::npos);
}

TEST(Recommend, TheWeightThatIsNamedIsWhereTheFirstPlaceChanges) {
  const auto plain = recommend(demo(), demo_fits(), 450, {}, {}, evidence());
  const auto said = std::find_if(
      plain->sensitivity.begin(), plain->sensitivity.end(),
      [](const std::string& s) { return s.starts_with("With a weight on damage above "); });
  ASSERT_NE(said, plain->sensitivity.end());
  const double weight =
      std::stod(said->substr(std::string("With a weight on damage above ").size()));
  RecommendWishes wishes;
  wishes.damage = weight * 0.93;
  EXPECT_EQ(name_of(recommend(demo(), demo_fits(), 450, {}, wishes, evidence())->ranked.front()),
            name_of(plain->ranked.front()));
  wishes.damage = weight * 1.07;
  const auto other = recommend(demo(), demo_fits(), 450, {}, wishes, evidence());
  EXPECT_NE(said->find(name_of(other->ranked.front())), std::string::npos)
      << *said << " / " << name_of(other->ranked.front());
}

TEST(Recommend, ADominatedEdgeIsBeatenByOneThatPasses) {
  const auto answer = recommend(demo(), demo_fits(), 450, {}, {}, evidence());
  int kept = 0;
  for (const auto& a : answer->ranked) {
    kept += !a.dominated;
    bool beaten = false;
    for (const auto& b : answer->ranked) {
      const bool as_good = b.life_low >= a.life_low && *b.force_N() <= *a.force_N() &&
                           *b.damage_rate_upper <= *a.damage_rate_upper &&
                           b.resharpening->minutes <= a.resharpening->minutes;
      beaten = beaten || (as_good && (b.life_low > a.life_low || *b.force_N() < *a.force_N() ||
                                      *b.damage_rate_upper < *a.damage_rate_upper ||
                                      b.resharpening->minutes < a.resharpening->minutes));
    }
    EXPECT_EQ(a.dominated, beaten) << name_of(a);
  }
  EXPECT_GT(kept, 1);
  EXPECT_FALSE(answer->ranked.front().dominated);
}

TEST(Recommend, AMixOfWorkWearsByShares) {
  RecommendLimits limits;
  // To 150 gf every coarse edge in the foam is dull from the start: what the finish does has no end
  // to it, and that is said instead of a figure made by rounding.
  limits.medium = kFoam;
  const auto endless = recommend(demo(), demo_fits(), 150, limits);
  ASSERT_FALSE(endless.ok());
  EXPECT_NE(endless.refusal().reason.find("no maximum"), std::string::npos);
  limits.medium.clear();
  limits.mix = {{kCoir, 3}, {kFoam, 1}};
  const auto mixed = recommend(demo(), demo_fits(), 250, limits);
  ASSERT_TRUE(mixed.ok()) << mixed.refusal().reason;
  EXPECT_DOUBLE_EQ(mixed->work[0].share, 0.75);
  limits.mix.clear();
  limits.medium = kCoir;
  const auto coir = recommend(demo(), demo_fits(), 250, limits);
  limits.medium = kFoam;
  const auto foam = recommend(demo(), demo_fits(), 250, limits);
  ASSERT_TRUE(coir.ok() && foam.ok());
  int compared = 0;
  for (const auto& edge : mixed->ranked) {
    EXPECT_EQ(edge.angle_deg, 15) << "the foam was cut at one angle only";
    const auto same = [&](const RankedEdge& e) {
      return e.steel == edge.steel && e.angle_deg == edge.angle_deg &&
             e.finish_um == edge.finish_um;
    };
    const auto a = std::find_if(coir->ranked.begin(), coir->ranked.end(), same),
               b = std::find_if(foam->ranked.begin(), foam->ranked.end(), same);
    if (a == coir->ranked.end() || b == foam->ranked.end()) continue;
    ++compared;
    EXPECT_NEAR(1 / edge.life, 0.75 / a->life + 0.25 / b->life, 1e-12);
    EXPECT_LT(edge.life_low, edge.life_mean_low);
  }
  EXPECT_GT(compared, 3);
  // Beyond what was tested only when asked for, and marked.
  limits = {};
  limits.mix = {{kCoir, 1}, {kFoam, 1}};
  limits.beyond_deg = 3;
  const auto beyond = recommend(demo(), demo_fits(), 250, limits);
  EXPECT_TRUE(std::any_of(beyond->ranked.begin(), beyond->ranked.end(),
                          [](const RankedEdge& e) { return e.extrapolated && e.angle_deg == 13; }));
  for (const auto& edge : beyond->ranked)
    EXPECT_EQ(edge.extrapolated, edge.angle_deg != 15) << name_of(edge);
}

TEST(CurveStudy, SaysWhatAKnownCurveIs) {
  const RunFit run = straight_run(100, 1);
  const auto study = study_curve(run, 400, 100, 300);
  ASSERT_TRUE(study.ok());
  EXPECT_NEAR(study->at.value, 400, 0.01);
  EXPECT_NEAR(study->fresh.value, 100, 0.01);
  EXPECT_NEAR(study->relative_end_percent, 100.0 * 100 / 600, 0.01);
  EXPECT_NEAR(study->mean_relative_percent, 100 * std::log(4.0) / 3, 0.01)
      << "∫ 100/(100+n) dn over 300 cuts";
  EXPECT_NEAR(study->early_loss_percent, 50, 0.01);
  double weights = 0;
  for (const auto& model : study->models) weights += model.weight;
  EXPECT_NEAR(weights, 1, 1e-9);
  EXPECT_TRUE(study->models.back().robust);
  // Runs of signs: of 3 and 3 signs there are 20 orders; 2 of them have two runs.
  EXPECT_NEAR(few_runs_chance(3, 3, 2), 0.1, 1e-12);
  EXPECT_NEAR(few_runs_chance(4, 3, 7), 1, 1e-12);
}

TEST(CurveStudy, FindsACurveOfTheWrongShapeAndAnOddReading) {
  int doubts_where_right = 0, doubts_where_wrong = 0;
  for (int world = 0; world < 200; ++world) {
    stats::Random random(9, std::uint64_t(world));
    const auto made = [&](bool wrong) {
      bq::Run run;
      for (const int cuts : {0, 10, 20, 40, 80, 150, 300, 500, 800, 1200, 1600})
        for (int i = 0; i < 4; ++i) {
          Reading reading;
          reading.cuts = cuts;
          const double level =
              wrong ? 80 + 150 * (1 - std::exp(-cuts / 150.0)) + 0.02 * cuts : 80 + 0.2 * cuts;
          reading.value = level * std::exp(0.04 * random.normal());
          run.readings.push_back(reading);
        }
      CurveOptions straight;
      straight.model = CurveModel::linear;
      const auto study = study_curve(fit_run(run, Unit::gf, straight), 200, 80, 0);
      return study->checks.front().starts_with("Residuals keep");
    };
    doubts_where_right += made(false);
    doubts_where_wrong += made(true);
  }
  EXPECT_LE(doubts_where_right, 20);
  EXPECT_GE(doubts_where_wrong, 150);
}
