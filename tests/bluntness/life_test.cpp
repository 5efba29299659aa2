#include <gtest/gtest.h>

#include <cmath>
#include <iostream>

#include "bluntness/matching.h"
#include "bluntness/recommendation.h"
#include "stats/random.h"
#include "support.h"
#include "workflow/life_findings.h"
#include "workflow/sentences.h"

using namespace bq;
using test::demo;
using test::demo_fits;

namespace {

LifeRow ended(const std::string& name, const std::string& steel, double angle, double life,
              double finish = 3) {
  LifeRow row;
  row.facts.name = name;
  row.facts.steel = steel;
  row.facts.geometry = *EdgeGeometry::make(BevelAngles::symmetric(angle));
  row.facts.finish = Finish::both(finish);
  row.cuts.estimate = life;
  return row;
}

/// Life exactly 300·factor/tan θ, spread by a small alternating error.
LifeTable two_steels(double factor_b, double error = 0.02) {
  LifeTable table;
  int n = 0;
  for (const auto& [steel, factor] :
       {std::pair(std::string("A"), 1.0), std::pair(std::string("B"), factor_b)})
    for (const double angle : {12.0, 15.0, 18.0, 22.0})
      for (int r = 0; r < 2; ++r, ++n)
        table.rows.push_back(
            ended("R" + std::to_string(n), steel, angle,
                  300 * factor / std::tan(radians(angle)) * std::exp((n % 2 ? 1 : -1) * error)));
  return table;
}

}  // namespace

TEST(Life, RecoversPureWearGeometryAndTheMatchingAngle) {
  const auto model = LifeModel::fit(two_steels(0.7), {{"steel", "angle"}, {}, 0.95});
  ASSERT_TRUE(model.ok());
  const auto c = model->coefficients();
  EXPECT_EQ(c[1].name, "steel[B]");
  EXPECT_NEAR(c[1].estimate, std::log(0.7), 1e-9);
  EXPECT_NEAR(c[2].estimate, -1, 1e-9);
  const auto answer = match(*model, {MatchKind::angle, "A", 18, "B", 1, 0.95});
  // B needs tan θ_B = 0.7·tan 18°.
  EXPECT_NEAR(answer->value, degrees(std::atan(0.7 * std::tan(radians(18)))), 1e-6);
  EXPECT_NEAR(answer->difference, answer->value - 18, 1e-12);
  EXPECT_FALSE(answer->extrapolated);
  EXPECT_LT(*answer->low, answer->value);
  EXPECT_GT(*answer->high, answer->value);
  // Twice the life, the other way round, is the inverse question.
  const auto back = match(*model, {MatchKind::angle, "B", answer->value, "A", 1, 0.95});
  EXPECT_NEAR(back->value, 18, 1e-6);
  const auto twice = match(*model, {MatchKind::angle, "A", 18, "B", 2, 0.95});
  EXPECT_NEAR(twice->value, degrees(std::atan(0.35 * std::tan(radians(18)))), 1e-6);
  EXPECT_TRUE(twice->extrapolated);
  EXPECT_NE(
      match_sentence({MatchKind::angle, "A", 18, "B", 2, 0.95}, *twice, AngleConvention::inclusive)
          .find("Extrapolated"),
      std::string::npos);
}

TEST(Life, SaysWhenTheDataCannotTell) {
  // Life does not depend on the angle at all: the matching angle is not bounded.
  LifeTable table = two_steels(0.7);
  for (std::size_t i = 0; i < table.rows.size(); ++i)
    table.rows[i].cuts.estimate = (table.rows[i].facts.steel == "A" ? 800 : 780) *
                                  std::exp(0.8 * std::sin(7.0 * double(i * i)));
  const auto model = LifeModel::fit(table, {{"steel", "angle"}, {}, 0.95});
  const auto answer = match(*model, {MatchKind::angle, "A", 18, "B", 1, 0.95});
  EXPECT_FALSE(answer->determinable());
  EXPECT_NE(
      match_sentence({MatchKind::angle, "A", 18, "B", 1, 0.95}, *answer, AngleConvention::per_side)
          .find("cannot tell"),
      std::string::npos);
}

TEST(Life, RefusesTermsItCannotTellAndNamesThem) {
  LifeTable table = two_steels(0.7);
  const auto why = [&](const LifeSpec& spec) {
    return LifeModel::fit(table, spec).refusal().reason;
  };
  EXPECT_NE(why({{"steel", "angle", "stone"}, {}, 0.95}).find("\"stone\""), std::string::npos);
  EXPECT_NE(why({{"steel", "finish"}, {}, 0.95}).find("only one level"), std::string::npos);
  EXPECT_NE(why({{"steel"}, {{"steel", "angle"}}, 0.95}).find("needs both"), std::string::npos);
  for (auto& row : table.rows)
    row.facts.factors["stone"] = row.facts.steel == "A" ? "coarse" : "fine";
  EXPECT_NE(why({{"steel", "stone"}, {}, 0.95}).find("cannot be told apart"), std::string::npos);
  // A number in every run is a slope, words are levels.
  for (std::size_t i = 0; i < table.rows.size(); ++i)
    table.rows[i].facts.factors["stone"] = double(i % 3);
  EXPECT_EQ(LifeModel::fit(table, {{"stone"}, {}, 0.95})->coefficients()[1].name, "stone");
  table.rows[0].facts.factors.clear();
  const auto model = LifeModel::fit(table, {{"stone"}, {}, 0.95});
  ASSERT_EQ(model->left_out().size(), 1u);
  EXPECT_EQ(model->left_out()[0].reason, "has no stone");
}

TEST(Life, SharesAddUpAndFollowTheDesign) {
  const auto model = LifeModel::fit(two_steels(0.5), {{"steel", "angle"}, {}, 0.95});
  double total = 0;
  for (const auto& share : model->shares()) total += share.share;
  EXPECT_NEAR(total, 1, 1e-12);
  // Balanced: the steel's part is ¼·(ln 0.5)², whatever the order of terms.
  const double steel = std::pow(std::log(0.5), 2) / 4;
  double x_mean = 0, x2 = 0;
  for (const double angle : {12.0, 15.0, 18.0, 22.0}) {
    const double x = std::log(std::tan(radians(angle)));
    x_mean += x / 4;
    x2 += x * x / 4;
  }
  const double angle = x2 - x_mean * x_mean, sigma2 = model->sigma() * model->sigma();
  EXPECT_NEAR(model->shares()[0].share, steel / (steel + angle + sigma2), 1e-9);
}

TEST(Life, RunsInAnotherMediumAndWithoutCurvesAreSaid) {
  const LifeTable all = life_table(demo(), demo_fits(), 450);
  EXPECT_EQ(all.rows.size(), 55u);
  const LifeTable coir = in_medium(all, "rubberised coir mat 8 mm");
  EXPECT_EQ(coir.rows.size(), 48u);
  EXPECT_EQ(coir.left_out.size(), 7u);
  EXPECT_EQ(coir.right_censored(), 4);
  // A low limit leaves edges dull from the start: left-censored, not dropped.
  const LifeTable low = life_table(demo(), demo_fits(), 70);
  EXPECT_GT(low.left_censored(), 0);
  EXPECT_EQ(low.rows.size(), 55u);
}

TEST(Recommend, RanksByTheLowerLimitAndStaysInsideWhatWasTested) {
  RecommendLimits limits;
  const auto answer = recommend(demo(), demo_fits(), 450, limits);
  ASSERT_TRUE(answer.ok());
  EXPECT_EQ(answer->medium(), "rubberised coir mat 8 mm");
  ASSERT_GT(answer->ranked.size(), 20u);
  for (std::size_t i = 0; i < answer->ranked.size(); ++i) {
    const auto& edge = answer->ranked[i];
    if (i) {
      EXPECT_LE(edge.life_low, answer->ranked[i - 1].life_low);
    }
    EXPECT_GE(edge.angle_deg, 12);
    EXPECT_LE(edge.angle_deg, 22);
    EXPECT_LT(edge.life_low,
              edge.life_mean_low);  // the next edge is less certain than the mean one
    EXPECT_FALSE(edge.evidence_runs.empty());
    EXPECT_FALSE(edge.reasons.empty());
    for (const auto& run : edge.evidence_runs)
      EXPECT_EQ(demo().find_run(run)->facts.steel, edge.steel);
    EXPECT_NE(edge.reasons.front().find(edge.evidence_runs.front()), std::string::npos);
  }
  EXPECT_EQ(answer->ranked.front().steel, "Cairn Hard");  // what the recipe's wear factors say
  EXPECT_EQ(answer->ranked.front().angle_deg, 12);
  ASSERT_TRUE(answer->next_best.has_value());
  EXPECT_LT(answer->next_best->interval_shrinks_to, 1);

  limits.steels = {"Marl Tough"};
  limits.least_angle_deg = 15;
  const auto narrow = recommend(demo(), demo_fits(), 450, limits);
  for (const auto& edge : narrow->ranked) {
    EXPECT_EQ(edge.steel, "Marl Tough");
    EXPECT_GE(edge.angle_deg, 15);
  }
  limits.least_life = 1e9;
  EXPECT_TRUE(recommend(demo(), demo_fits(), 450, limits)->ranked.empty());
  limits.medium = "fog";
  EXPECT_FALSE(recommend(demo(), demo_fits(), 450, limits).ok());
}

TEST(LifeFindings, AnswersFromOneGoAndSaysWhatIsMissing) {
  LifeQuestion question;
  question.threshold = 450;
  const auto found = find_life(without_readings(demo()), demo_fits(), question);
  ASSERT_TRUE(found.model && found.match);
  EXPECT_EQ(found.lines.size(), 3u);
  // The pure-geometry line has slope −1 in ln tan θ.
  const auto& pure = found.pure_geometry;
  const double slope = std::log(pure.life.back() / pure.life.front()) /
                       std::log(std::tan(radians(pure.angle_deg.back())) /
                                std::tan(radians(pure.angle_deg.front())));
  EXPECT_NEAR(slope, -1, 1e-9);
  EXPECT_NE(angle_sentence(found).find("wear geometry"), std::string::npos);
  const auto empty = find_life(Trial{}, {}, question);
  EXPECT_FALSE(empty.model);
  EXPECT_FALSE(empty.why_not.empty());
}

// Where no life was seen, why: not "censored", which is true of none of these in a person's words.
TEST(Life, ATableWithoutALifeSaysWhatThereIsInstead) {
  const auto with = [](Censoring first, Censoring second) {
    LifeTable table = two_steels(0.7);
    for (std::size_t i = 0; i < table.rows.size(); ++i) {
      CutsToThreshold cuts;
      cuts.censoring = i < 4 ? first : second;
      (cuts.censoring == Censoring::left ? cuts.high : cuts.low) = 50;
      table.rows[i].cuts = cuts;
    }
    return LifeModel::fit(table, {{"steel", "angle"}, {}, 0.95}).refusal().reason;
  };
  EXPECT_NE(with(Censoring::left, Censoring::left).find("every run (16 runs) was past the limit"),
            std::string::npos);
  EXPECT_NE(with(Censoring::right, Censoring::right).find("no run (16 runs) was seen to reach"),
            std::string::npos);
  EXPECT_NE(with(Censoring::left, Censoring::right)
                .find("4 runs past it from the start, 12 runs below it to the end"),
            std::string::npos);
}

// Readings that fall all along, and those that fall in the beginning, are no blunting; a flat or a
// rising run is not taken for falling.
TEST(Life, ReadingsThatFallAreSeenHoweverTheyFall) {
  stats::Random random(5, 1);
  int falling = 0, wrongly = 0;
  for (int play = 0; play < 200; ++play)
    for (const int shape : {0, 1, 2, 3}) {
      bq::Run run;
      run.facts.name = "r";
      for (const int cuts : {0, 50, 100, 200, 400}) {
        const double log_mean = shape == 0   ? -cuts / 800.0
                                : shape == 1 ? -0.08 * std::log1p(cuts)
                                : shape == 2 ? 0
                                             : 0.3 * std::log1p(cuts / 50.0);
        for (int i = 0; i < 3; ++i) {
          Reading reading;
          reading.cuts = cuts;
          reading.value = 300 * std::exp(log_mean + 0.03 * random.normal());
          run.readings.push_back(reading);
        }
      }
      const bool seen = fit_run(run, Unit::gf).why_not == kFallingReadings;
      (shape < 2 ? falling : wrongly) += seen;
    }
  EXPECT_GE(falling, 390) << "of 400";
  EXPECT_EQ(wrongly, 0) << "of 400";
}

// Three runs and two coefficients: one degree of freedom, and now and then three lives that lie on
// a line by luck. What the next edge makes at least is no nearer to the usual one than a single run
// is known.
TEST(Life, TheNextEdgeIsNotKnownBetterThanASingleRun) {
  stats::Random random(8, 2);
  constexpr double kError = 0.06, kRuns = 0.03;
  int held = 0;
  constexpr int kPlays = 2000;
  double nearest = 1;
  for (int play = 0; play < kPlays; ++play) {
    LifeTable table;
    for (const double angle : {12.0, 16.0, 20.0}) {
      const double truth = 120 / std::tan(radians(angle));
      table.rows.push_back(
          ended("R" + std::to_string(int(angle)), "A", angle,
                truth * std::exp(kRuns * random.normal() + kError * random.normal())));
      table.rows.back().cuts.log_variance = kError * kError;
    }
    const auto model = LifeModel::fit(table, {{"angle"}, {}, 0.95});
    ASSERT_TRUE(model.ok());
    LifePoint point;
    point.mean_tangent = std::tan(radians(16));
    const auto row = *model->row(point);
    const double limit = model->log_prediction_limit(row, 0.95);
    held += std::log(120 / std::tan(radians(16))) + kRuns * random.normal() >= limit;
    nearest = std::min(nearest, model->log_life(row).first - limit);
  }
  EXPECT_GT(nearest, kError) << "of ln life";
  EXPECT_GT(held, int(0.95 * kPlays) - 30) << "of " << kPlays;
}
