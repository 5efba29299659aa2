// Coverage of what is concluded from lives: matching angle and finish (also with a quarter
// censored, also with steel × angle), the prediction limit for the next edge, the shares'
// bootstrap. Seeded; printed into docs/methods.md.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <numeric>

#include "bluntness/matching.h"
#include "bluntness/recommendation.h"
#include "stats/random.h"
#include "workflow/answers.h"

using namespace bq;

namespace {

/// A known world: two steels, four angles, two finishes, `each` runs of every combination.
struct World {
  double constant = 5, steel = 0.5, slope = -1, steel_slope = 0, finish = 0.25, sigma = 0.2,
         blade_sd = 0;
  int each = 1;
  double share_censored = 0;  ///< the trial stops at the cuts that so many of its edges pass
  [[nodiscard]] double log_life(bool tough, double angle, double um) const {
    return constant + (tough ? steel : 0) +
           (slope + (tough ? steel_slope : 0)) * std::log(std::tan(radians(angle))) +
           finish * std::log(um);
  }
  [[nodiscard]] LifeTable table(std::uint64_t trial) const {
    stats::Random random(4711, trial);
    LifeTable out;
    std::vector<double> lives;
    for (const bool tough : {false, true})
      for (const double angle : {11.0, 14.0, 18.0, 23.0})
        for (const double um : {3.0, 25.0})
          for (int i = 0; i < each; ++i) {
            LifeRow row;
            row.facts.name = std::to_string(out.rows.size());
            row.facts.steel = tough ? "B" : "A";
            row.facts.geometry = *EdgeGeometry::make(BevelAngles::symmetric(angle));
            row.facts.finish = Finish::both(um);
            lives.push_back(std::exp(log_life(tough, angle, um) + sigma * random.normal()));
            row.cuts.estimate = lives.back();
            out.rows.push_back(row);
          }
    if (share_censored > 0) {
      std::vector<double> sorted = lives;
      std::sort(sorted.begin(), sorted.end());
      const double stop = sorted[std::size_t(double(sorted.size()) * (1 - share_censored))] * 0.999;
      for (auto& row : out.rows)
        if (*row.cuts.estimate > stop) {
          row.cuts.censoring = Censoring::right;
          row.cuts.low = stop;
          row.cuts.estimate.reset();
        }
    }
    return out;
  }
};

/// ln of the angle's tangent, or of the finish, at which A lasts as long as B at `from`.
double true_match(const World& w, MatchKind kind, double from) {
  if (kind == MatchKind::angle)
    return std::log(std::tan(radians(from))) * (w.slope + w.steel_slope) / w.slope +
           w.steel / w.slope;
  // At the middle of ln tan, where the model stands for terms that are not asked about.
  double middle = 0;
  for (const double angle : {11.0, 14.0, 18.0, 23.0})
    middle += std::log(std::tan(radians(angle))) / 4;
  return std::log(from) + (w.steel + w.steel_slope * middle) / w.finish;
}

/// More trials for docs/methods.md: BQ_COVERAGE_TRIALS=1500.
int trials_wanted(int usual) {
  const char* wish = std::getenv("BQ_COVERAGE_TRIALS");
  return wish ? std::atoi(wish) : usual;
}

double match_coverage(const World& world, MatchKind kind, double from, int trials) {
  int held = 0, asked = 0;
  const double truth = true_match(world, kind, from);
  for (int trial = 0; trial < trials; ++trial) {
    LifeSpec spec{{"steel", "angle", "finish"}, {}, 0.95};
    if (world.steel_slope != 0) spec.interactions = {{"steel", "angle"}};
    const auto model = LifeModel::fit(world.table(std::uint64_t(trial)), spec);
    if (!model) continue;
    const auto answer = match(*model, {kind, "B", from, "A", 1, 0.95});
    if (!answer) continue;
    ++asked;
    const auto scale = [&](double v) {
      return kind == MatchKind::angle ? std::log(std::tan(radians(v))) : std::log(v);
    };
    held += (!answer->low || scale(*answer->low) <= truth) &&
            (!answer->high || truth <= scale(*answer->high));
  }
  EXPECT_GE(asked, trials * 98 / 100);
  return double(held) / asked;
}

}  // namespace

TEST(LifeCoverage, OfTheMatchingAngleAndFinish) {
  const int kTrials = trials_wanted(500);
  for (const auto kind : {MatchKind::angle, MatchKind::finish})
    for (const double censored : {0.0, 0.25})
      for (const double interaction : {0.0, 0.4}) {
        World world;
        world.share_censored = censored;
        world.steel_slope = interaction;
        // A coefficient more wants runs more: 32 with the interaction and censoring, 16 without.
        world.each = interaction != 0 && censored > 0 ? 2 : 1;
        const double from = kind == MatchKind::angle ? 18 : 8,
                     share = match_coverage(world, kind, from, kTrials);
        std::printf("coverage of the matching %s, %.0f %% censored, %s, %d runs: %.1f %% of %d\n",
                    kind == MatchKind::angle ? "angle" : "finish", 100 * censored,
                    interaction != 0 ? "with steel x angle" : "one slope", 16 * world.each,
                    100 * share, kTrials);
        EXPECT_GE(share, 0.92);  // 93 % to 97 %, and the error of so many trials
        EXPECT_LE(share, 0.98);
      }
}

TEST(LifeCoverage, OfThePredictionLimitForTheNextEdge) {
  const int kTrials = 2 * trials_wanted(1000);
  for (const double censored : {0.0, 0.25}) {
    World world;
    world.share_censored = censored;
    int held = 0, asked = 0;
    for (int trial = 0; trial < kTrials; ++trial) {
      const auto model = LifeModel::fit(world.table(std::uint64_t(trial)),
                                        {{"steel", "angle", "finish"}, {}, 0.95});
      if (!model) continue;
      LifePoint point;
      point.steel = "B";
      point.mean_tangent = std::tan(radians(14));
      point.finish_um = 25;
      stats::Random next(99, std::uint64_t(trial));
      ++asked;
      held += world.log_life(true, 14, 25) + world.sigma * next.normal() >=
              model->log_prediction_limit(*model->row(point), 0.95);
    }
    std::printf("coverage of the lower limit for the next edge, %.0f %% censored: %.1f %% of %d\n",
                100 * censored, 100.0 * held / asked, asked);
    EXPECT_GE(double(held) / asked, 0.93);
    EXPECT_LE(double(held) / asked, 0.97);
  }
}

// What the shares would be with no error in the fit: reported as it is, not promised.
TEST(LifeCoverage, OfTheSharesByBootstrapIsReportedAsItIs) {
  World world;
  world.each = 2;
  // Contributions of a balanced design: variances of the terms, and the runs' own.
  const auto variance_of = [](const std::vector<double>& values) {
    const double mean = std::accumulate(values.begin(), values.end(), 0.0) / double(values.size());
    double sum = 0;
    for (const double v : values) sum += (v - mean) * (v - mean);
    return sum / double(values.size());
  };
  std::vector<double> angles;
  for (const double angle : {11.0, 14.0, 18.0, 23.0})
    angles.push_back(world.slope * std::log(std::tan(radians(angle))));
  const double steel = world.steel * world.steel / 4, angle = variance_of(angles),
               finish = std::pow(world.finish * std::log(25.0 / 3), 2) / 4,
               own = world.sigma * world.sigma;
  const double all = steel + angle + finish + own;
  const std::vector<double> truth{steel / all, angle / all, finish / all, own / all};
  const int kTrials = trials_wanted(1000) / 6;
  std::vector<int> held(4, 0);
  for (int trial = 0; trial < kTrials; ++trial) {
    const auto shares = bootstrap_shares(world.table(std::uint64_t(trial)),
                                         {{"steel", "angle", "finish"}, {}, 0.95}, 200, 5, 2);
    ASSERT_EQ(shares.size(), 4u);
    for (std::size_t i = 0; i < 4; ++i)
      held[i] += shares[i].low <= truth[i] && truth[i] <= shares[i].high;
  }
  for (std::size_t i = 0; i < 4; ++i) {
    std::printf("coverage of the share of %s by bootstrap, 32 runs: %.1f %% of %d\n",
                std::vector<const char*>{"steel", "angle", "finish", "repeatability"}[i],
                100.0 * held[i] / kTrials, kTrials);
    EXPECT_GE(held[i], kTrials / 2) << i;
  }
}
