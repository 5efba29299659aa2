// Intervals must hold the coverage they claim: seeded simulations, nothing timed.
#include <gtest/gtest.h>

#include <cmath>
#include <functional>

#include "bluntness/curve_choice.h"
#include "bluntness/cuts_to_threshold.h"
#include "bluntness/matching.h"
#include "stats/random.h"

using namespace bq;

namespace {

struct Coverage {
  int trials = 0, held = 0;
  [[nodiscard]] double share() const { return double(held) / trials; }
};

/// Coverage of the 95 % interval of cuts to a threshold, the model chosen as always.
Coverage cuts_coverage(double checkpoint_sd, int each, IntervalMethod method, int trials) {
  const Curve truth{CurveModel::power, {80, 2.0, 0.75}};
  const double threshold = 260, exact = *truth.reaches(threshold, 1e6);
  Coverage out;
  for (int trial = 0; trial < trials; ++trial) {
    stats::Random random(20260 + std::uint64_t(checkpoint_sd * 1000), std::uint64_t(trial));
    std::vector<LogReading> readings;
    for (const double n :
         {0.0, 10.0, 20.0, 40.0, 70.0, 120.0, 200.0, 320.0, 500.0, 750.0, 1100.0}) {
      const double shift = checkpoint_sd * random.normal();
      for (int i = 0; i < each; ++i)
        readings.push_back({n, std::log(truth.at(n)) + shift + 0.05 * random.normal(), 1});
    }
    const auto chosen = choose_curve(readings);
    const auto cuts = cuts_to_threshold(chosen->fit, collapse(readings), threshold, 0.95, method);
    ++out.trials;
    out.held += cuts.low && cuts.high && *cuts.low <= exact && exact <= *cuts.high;
  }
  return out;
}

/// A life table drawn from a known model: two steels, four angles, two replicates.
LifeTable simulated_life(std::uint64_t trial, double censor_at, double& true_angle) {
  stats::Random random(77, trial);
  const double slope = -1.0, sigma = 0.2, steel = 0.5;
  LifeTable table;
  for (const bool tough : {false, true})
    for (const double angle : {11.0, 14.0, 18.0, 23.0})
      for (int replicate = 0; replicate < 2; ++replicate) {
        LifeRow row;
        row.facts.name = std::to_string(table.rows.size());
        row.facts.steel = tough ? "Marl Tough" : "Fenland Plain";
        row.facts.geometry = *EdgeGeometry::make(BevelAngles::symmetric(angle));
        const double life = std::exp(5 + slope * std::log(std::tan(radians(angle))) +
                                     (tough ? steel : 0) + sigma * random.normal());
        if (life > censor_at) {
          row.cuts.censoring = Censoring::right;
          row.cuts.low = censor_at;
        } else {
          row.cuts.estimate = life;
        }
        table.rows.push_back(row);
      }
  // Fenland at x lasts as long as Marl at 18: slope·(ln tan x − ln tan 18) = steel
  true_angle = degrees(std::atan(std::tan(radians(18)) * std::exp(steel / slope)));
  return table;
}

Coverage matching_coverage(double censor_at, int trials, double& censored_share) {
  Coverage out;
  int censored = 0;
  for (int trial = 0; trial < trials; ++trial) {
    double truth = 0;
    const LifeTable table = simulated_life(std::uint64_t(trial), censor_at, truth);
    censored += table.right_censored();
    const auto model = LifeModel::fit(table, {{"steel", "angle"}, {}, 0.95});
    if (!model) continue;
    const auto answer =
        match(*model, {MatchKind::angle, "Marl Tough", 18, "Fenland Plain", 1, 0.95});
    ++out.trials;
    out.held +=
        (!answer->low || *answer->low <= truth) && (!answer->high || truth <= *answer->high);
  }
  censored_share = censored / (16.0 * trials);
  return out;
}

}  // namespace

TEST(Coverage, OfCutsToThresholdWithCheckpointScatter) {
  for (const double checkpoint_sd : {0.0, 0.03, 0.06})
    for (const int each : {3, 5}) {
      const Coverage coverage = cuts_coverage(checkpoint_sd, each, IntervalMethod::delta, 1000);
      std::printf("coverage of n_T, checkpoint SD %.2f, %d readings each: %.1f %% of %d\n",
                  checkpoint_sd, each, 100 * coverage.share(), coverage.trials);
      EXPECT_GE(coverage.share(), 0.92) << checkpoint_sd << " " << each;
      EXPECT_LE(coverage.share(), 0.98) << checkpoint_sd << " " << each;
    }
}

TEST(Coverage, OfTheProfileIntervalWithoutCheckpointScatter) {
  const Coverage coverage = cuts_coverage(0, 3, IntervalMethod::profile, 400);
  EXPECT_GE(coverage.share(), 0.92);
  EXPECT_LE(coverage.share(), 0.98);
}

TEST(Coverage, OfTheMatchingAngleAlsoWithAQuarterCensored) {
  for (const double censor_at : {1e9, 950.0}) {
    double censored = 0;
    const Coverage coverage = matching_coverage(censor_at, 600, censored);
    std::printf("coverage of the matching angle, %.0f %% censored: %.1f %% of %d\n", 100 * censored,
                100 * coverage.share(), coverage.trials);
    EXPECT_GE(coverage.trials, 590);
    EXPECT_GE(coverage.share(), 0.92);
    EXPECT_LE(coverage.share(), 0.98);
    if (censor_at < 1e6) {
      EXPECT_NEAR(censored, 0.25, 0.06);
    }
  }
}

TEST(Coverage, CountingCensoredRunsAsFailuresBiasesTheSlope) {
  // The same data once honestly, once with "more than" taken as "ended at", once with them dropped.
  double honest = 0, as_failed = 0, dropped = 0;
  const int trials = 300;
  for (int trial = 0; trial < trials; ++trial) {
    double truth = 0;
    LifeTable table = simulated_life(std::uint64_t(trial) + 5000, 950, truth);
    const auto slope = [](const LifeTable& t) {
      const auto model = LifeModel::fit(t, {{"steel", "angle"}, {}, 0.95});
      return model->coefficients()[2].estimate;
    };
    honest += slope(table);
    LifeTable failed = table, without;
    for (auto& row : failed.rows)
      if (row.cuts.censoring == Censoring::right) {
        row.cuts.censoring = Censoring::none;
        row.cuts.estimate = row.cuts.low;
      }
    for (const auto& row : table.rows)
      if (row.cuts.censoring == Censoring::none) without.rows.push_back(row);
    as_failed += slope(failed);
    dropped += slope(without);
  }
  EXPECT_NEAR(honest / trials, -1, 0.03);
  EXPECT_GT(as_failed / trials, -0.9);
  EXPECT_GT(dropped / trials, -0.9);
}

TEST(Coverage, AGaugeThatSaturatesIsFollowed) {
  // An edge that starts late and levels off, cut on past the limit: the power curve was 34 % off
  // and its interval held in none of 300. On power truths nothing changes.
  const auto play = [](const std::function<double(double)>& truth, double checkpoint_sd,
                       int trials) {
    struct {
      int held = 0, levelling = 0, estimated = 0;
      double bias = 0;
    } out;
    for (int trial = 0; trial < trials; ++trial) {
      stats::Random random(515, std::uint64_t(trial));
      std::vector<LogReading> readings;
      for (int c = 0; c < 11; ++c) {
        const double n = std::round(780 * std::pow(c / 10.0, 1.8));
        const double shift = checkpoint_sd * random.normal();
        for (int i = 0; i < 3; ++i)
          readings.push_back(
              {n, std::log(100 * truth(n / 300)) + shift + 0.04 * random.normal(), 1});
      }
      const auto chosen = choose_curve(readings);
      out.levelling += chosen->fit.curve.model == CurveModel::levelling;
      const auto cuts = cuts_to_threshold(chosen->fit, collapse(readings), 300);
      if (!cuts.estimate) continue;
      ++out.estimated;
      out.bias += std::log(*cuts.estimate / 300);
      out.held += cuts.low && cuts.high && *cuts.low <= 300 && 300 <= *cuts.high;
    }
    out.bias /= out.estimated;
    return out;
  };
  const double top = 3.4, s = 1.6, tau = std::pow(-std::log(1 - 2 / (top - 1)), -1 / s);
  const auto saturating = [&](double x) {
    return 1 + (top - 1) * (1 - std::exp(-std::pow(x / tau, s)));
  };
  const auto saturates = play(saturating, 0, 100);
  EXPECT_NEAR(saturates.bias, 0, 0.03);
  EXPECT_GE(saturates.held, 90);
  EXPECT_GE(saturates.levelling, 90);
  const auto power = play([](double x) { return 1 + 2 * std::pow(x, 0.7); }, 0.05, 100);
  EXPECT_NEAR(power.bias, 0, 0.03);
  EXPECT_GE(power.held, 86);
  EXPECT_LE(power.levelling, 5);
}
