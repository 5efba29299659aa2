// "Enough runs were made for this", looked at after every finished run: how often is the trial
// ended with an edge that another one outlasts by more than what is worth while? Truths drawn here;
// 240 trials in the suite, 4,000 with BQ_THOROUGH=1.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <cstdlib>

#include "bluntness/recommendation.h"
#include "stats/random.h"
#include "support.h"

using namespace bq;

namespace {

constexpr double kRunSd = 0.16, kLimit = 300;

struct TrueEdge {
  std::string steel;
  double angle = 0, life = 0;
};

/// Three steels at three angles: effects of the steel, a slope over the angle, sometimes a hump
/// that is no line in ln tan, sometimes a steel that takes the angle otherwise.
std::vector<TrueEdge> truth_of(stats::Random& random) {
  std::vector<TrueEdge> out;
  const double slope = -0.5 + 0.6 * random.normal();
  const double hump = random.uniform() < 0.3 ? 0.35 : 0;
  const double own = random.uniform() < 0.3 ? 0.5 : 0;
  for (const char* steel : {"Cairn", "Fen", "Marl"}) {
    const double effect = 0.2 * random.normal(), turn = own * random.normal();
    for (const double angle : {12.0, 15.0, 19.0}) {
      const double x = std::log(std::tan(radians(angle)) / std::tan(radians(15)));
      out.push_back(
          {steel, angle, 400 * std::exp(effect + (slope + turn) * x - (angle < 13 ? hump : 0))});
    }
  }
  return out;
}

bq::Run run_of(const TrueEdge& edge, int number, stats::Random& random) {
  bq::Run run;
  run.facts.name = "r" + std::to_string(number);
  run.facts.steel = edge.steel;
  run.facts.medium = "tow";
  run.facts.geometry = *EdgeGeometry::make(BevelAngles::symmetric(edge.angle));
  const double life = edge.life * std::exp(kRunSd * random.normal());
  for (const int cuts : {0, 40, 100, 200, 350, 600, 1000})
    for (int i = 0; i < 2; ++i) {
      Reading r;
      r.cuts = cuts;
      r.value = 100 * (1 + 2 * std::pow(cuts / life, 0.7)) * std::exp(0.03 * random.normal());
      run.readings.push_back(r);
    }
  run.cuts_done = 1000;
  return run;
}

}  // namespace

TEST(StopRule, HoweverOftenOneLooksAtMostFiveInAHundredEndWrongly) {
  const int trials = std::getenv("BQ_THOROUGH") ? 4000 : 240;
  constexpr int kMost = 45, kFirstLook = 9;
  int wrong = 0, ended = 0, runs = 0;
  for (int trial = 0; trial < trials; ++trial) {
    stats::Random random(77, std::uint64_t(trial));
    const auto edges = truth_of(random);
    const double best =
        std::max_element(edges.begin(), edges.end(), [](const auto& a, const auto& b) {
          return a.life < b.life;
        })->life;
    Trial bench;
    std::vector<RunFit> fits;
    std::vector<std::size_t> order;
    for (int made = 0; made < kMost; ++made) {
      if (order.empty()) {  // a block: every edge once, shuffled
        for (std::size_t e = 0; e < edges.size(); ++e) order.push_back(e);
        for (std::size_t e = order.size(); e > 1; --e)
          std::swap(order[e - 1], order[random.below(e)]);
      }
      Trial one;
      one.runs.push_back(run_of(edges[order.back()], made, random));
      order.pop_back();
      fits.push_back(fit_runs(one, {}, {})->front());
      bench.runs.push_back(one.runs.front());
      if (made + 1 < kFirstLook) continue;
      RecommendLimits limits;
      limits.angle_step_deg = 30;
      const auto answer = recommend(bench, fits, kLimit, limits);
      if (!answer || !answer->enough || answer->enough->more_runs != 0) continue;
      ++ended;
      runs += made + 1;
      const RankedEdge& first = answer->ranked.front();
      for (const auto& edge : edges)
        if (edge.steel == first.steel && edge.angle == std::round(first.angle_deg))
          wrong += edge.life * kWorthwhile < best;
      break;
    }
  }
  std::printf(
      "%d of %d trials ended within %d runs, after %.1f on average; %.2f %% of all wrongly\n",
      ended, trials, kMost, double(runs) / std::max(1, ended), 100.0 * wrong / trials);
  EXPECT_GT(ended, trials / 3) << "a rule that never stops is none";
  EXPECT_LE(wrong, 0.05 * trials + 2 * std::sqrt(0.05 * 0.95 * trials));
}
