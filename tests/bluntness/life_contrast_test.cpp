#include <gtest/gtest.h>

#include <cmath>

#include "bluntness/life_contrast.h"
#include "quantity/angle.h"
#include "stats/random.h"
#include "support.h"

using namespace bq;

namespace {

/// A run with a known life; `limit`: cuts it was stopped at.
LifeRow row_of(const char* steel, double apex_deg, double edge_deg, double life,
               double limit = 1e12) {
  LifeRow row;
  row.facts.steel = steel;
  row.facts.geometry = *EdgeGeometry::make(
      BevelAngles::symmetric(edge_deg),
      edge_deg == apex_deg ? std::nullopt : std::optional(BevelAngles::symmetric(apex_deg)));
  row.facts.finish = Finish::both(6);
  if (life < limit)
    row.cuts.estimate = life;
  else {
    row.cuts.censoring = Censoring::right;
    row.cuts.low = limit;
  }
  return row;
}

/// Two steels, three angles, two edge bevels, `each` runs of every combination.
LifeTable table_of(std::uint64_t seed, int each, double steel_effect, double slope, double sd,
                   double limit = 1e12, double steel_slope = 0) {
  stats::Random random(seed);
  LifeTable table;
  for (int i = 0; i < each; ++i)
    for (const double apex : {12.0, 15.0, 18.0})
      for (const double edge : {10.0, 12.0})
        for (const bool second : {false, true}) {
          const double x = std::log(std::tan(radians(apex)));
          const double mean = 4.5 + (second ? steel_effect + steel_slope * x : 0) + slope * x +
                              0.2 * std::log(std::tan(radians(edge)));
          table.rows.push_back(row_of(second ? "Marl Tough" : "Fenland Plain", apex, edge,
                                      std::exp(mean + sd * random.normal()), limit));
        }
  return table;
}

FactorContrast steels() {
  return {"steel", std::string("Fenland Plain"), std::string("Marl Tough")};
}

}  // namespace

TEST(LifeContrast, IsTheCoefficientOfAWordAndTheSlopeTimesTheDistanceOfANumber) {
  const auto model =
      *LifeModel::fit(table_of(3, 2, 0.3, -1, 0.1), {{"steel", "angle", "edge_angle"}, {}, 0.9});
  const auto coefficients = model.coefficients();
  const auto steel = *life_contrast(model, steels());
  EXPECT_NEAR(steel.log_ratio, coefficients[1].estimate, 1e-12);
  EXPECT_NEAR(steel.standard_error, coefficients[1].standard_error, 1e-12);
  EXPECT_NEAR(std::log(*steel.low), coefficients[1].low, 1e-12);
  EXPECT_NEAR(std::log(*steel.high), coefficients[1].high, 1e-12);
  EXPECT_NEAR(steel.p, coefficients[1].p, 1e-12);
  const double distance = std::log(std::tan(radians(12.0)) / std::tan(radians(18.0)));
  const auto angle = *life_contrast(model, {"angle", 18.0, 12.0});
  EXPECT_NEAR(angle.log_ratio, coefficients[2].estimate * distance, 1e-12);
  EXPECT_TRUE(angle.seen);
  EXPECT_GT(angle.ratio, 1.3) << "the lower angle lasts longer";
  // The edge bevel is a term of its own and does not move with the apex.
  EXPECT_EQ(coefficients[3].name, "ln tan edge bevel");
  const auto edge = *life_contrast(model, {"edge_angle", 10.0, 12.0});
  EXPECT_NEAR(
      edge.log_ratio,
      coefficients[3].estimate * std::log(std::tan(radians(12.0)) / std::tan(radians(10.0))),
      1e-12);
  // Turned round it is the same answer turned round.
  const auto back =
      *life_contrast(model, {"steel", std::string("Marl Tough"), std::string("Fenland Plain")});
  EXPECT_NEAR(back.ratio * steel.ratio, 1, 1e-12);
  EXPECT_NEAR(*back.low * *steel.high, 1, 1e-12);
}

TEST(LifeContrast, WithAnInteractionSpeaksOfTheMeanOverTheRuns) {
  const auto model = *LifeModel::fit(table_of(4, 3, 0.1, -1, 0.05, 1e12, 0.8),
                                     {{"steel", "angle"}, {{"steel", "angle"}}, 0.95});
  const auto c = model.coefficients();
  double mean_x = 0;
  for (const auto& row : model.rows())
    mean_x += std::log(row.facts.geometry->apex().mean_tangent()) / double(model.rows().size());
  const auto steel = *life_contrast(model, steels());
  EXPECT_NEAR(steel.log_ratio, c[1].estimate + c[3].estimate * mean_x, 1e-10);
  EXPECT_LT(steel.standard_error, c[1].standard_error)
      << "far from where the tangent is 1 nothing is known";
}

TEST(LifeContrast, IntervalsWithCensoredRunsCoverTheTruth) {
  // A fifth of the runs outlast the cuts; ln ratio 0.25 must lie inside 95 of 100 times, and a
  // ratio of 1 be ruled out when said.
  int covered = 0, seen_agrees = 0, censored = 0, runs = 0;
  constexpr int kTrials = 500;
  for (int i = 0; i < kTrials; ++i) {
    const LifeTable table = table_of(100 + std::uint64_t(i), 1, 0.25, -1, 0.2, 360);
    censored += table.right_censored();
    runs += int(table.rows.size());
    const auto model = LifeModel::fit(table, {{"steel", "angle"}, {}, 0.95});
    ASSERT_TRUE(model.ok());
    const auto contrast = *life_contrast(*model, steels());
    const double low = contrast.low ? std::log(*contrast.low) : -1e9,
                 high = contrast.high ? std::log(*contrast.high) : 1e9;
    covered += low <= 0.25 && 0.25 <= high;
    seen_agrees += contrast.seen == (low > 0 || high < 0);
    EXPECT_EQ(contrast.seen, contrast.p < 0.05);
    EXPECT_EQ(life_contrast(*model, steels(), false)->seen, contrast.seen)
        << "the quick answer is the whole one's";
  }
  EXPECT_GT(double(censored) / runs, 0.1);
  EXPECT_LT(double(censored) / runs, 0.4);
  EXPECT_EQ(seen_agrees, kTrials);
  EXPECT_NEAR(double(covered) / kTrials, 0.95, 0.03);
}

TEST(LifeContrast, RefusesWhatItCannotSay) {
  const auto model = *LifeModel::fit(table_of(5, 1, 0.3, -1, 0.1), {{"steel", "angle"}, {}, 0.95});
  EXPECT_NE(life_contrast(model, {"steel", std::string("Fenland Plain"), std::string("Cairn Hard")})
                .refusal()
                .reason.find("Cairn Hard"),
            std::string::npos);
  EXPECT_NE(life_contrast(model, {"finish", 1.0, 6.0}).refusal().reason.find("no term"),
            std::string::npos);
  EXPECT_FALSE(life_contrast(model, {"angle", 12.0, 95.0}).ok());
  EXPECT_FALSE(life_contrast(model, {"angle", 12.0, std::string("steep")}).ok());
}

TEST(LifeContrast, OfAWholeTrialIsWhatTheLifeModelSays) {
  Trial trial = test::demo_trial();
  std::erase_if(trial.runs,
                [](const bq::Run& run) { return run.facts.medium != "rubberised coir mat 8 mm"; });
  const auto fits = *fit_runs(trial, {}, {});
  ContrastQuestion question;
  question.threshold = "450 gf";
  question.spec = {{"steel", "angle", "finish"}, {}, 0.95};
  question.contrast = steels();
  const auto analysed = analyse_contrast(trial, fits, question);
  ASSERT_TRUE(analysed.ok()) << analysed.refusal().reason;
  const auto& answer = *analysed;
  const auto model = *LifeModel::fit(life_table(trial, fits, 450), question.spec);
  EXPECT_EQ(answer.runs, int(model.rows().size()));
  EXPECT_EQ(answer.right_censored, life_table(trial, fits, 450).right_censored());
  const auto coefficients = model.coefficients();
  const auto marl = std::find_if(coefficients.begin(), coefficients.end(),
                                 [](const auto& c) { return c.name == "steel[Marl Tough]"; });
  const auto plain = std::find_if(coefficients.begin(), coefficients.end(),
                                  [](const auto& c) { return c.name == "steel[Fenland Plain]"; });
  EXPECT_NEAR(answer.contrast.log_ratio, marl->estimate - plain->estimate, 1e-10);
  EXPECT_NEAR(answer.contrast.ratio, 1 / 0.72, 0.25) << "the recipe's wear factor, found back";
  EXPECT_LT(*answer.contrast.low, 1 / 0.72);
  EXPECT_GT(*answer.contrast.high, 1 / 0.72);
  EXPECT_GT(answer.mean_curve_variance, 0);
  question.threshold = "soon";
  EXPECT_FALSE(analyse_contrast(trial, fits, question).ok());
}
