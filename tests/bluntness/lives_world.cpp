#include "bluntness/lives_world.h"

#include <algorithm>
#include <cmath>
#include <string>

#include "stats/random.h"

namespace bq::test {
namespace {

constexpr double kRunSd = 0.25;

double rise(double r0, double share) { return r0 + (kLivesLimit - r0) * share; }

/// Mean 0, SD 1.
double standard(RunScatter scatter, stats::Random& random) {
  switch (scatter) {
    case RunScatter::normal:
      return random.normal();
    case RunScatter::skewed: {
      constexpr double kShape = 0.6;
      const double mean = std::exp(kShape * kShape / 2);
      return (std::exp(kShape * random.normal()) - mean) /
             (mean * std::sqrt(std::expm1(kShape * kShape)));
    }
    case RunScatter::heavy: {
      double squares = 0;
      for (int i = 0; i < 3; ++i) squares += std::pow(random.normal(), 2);
      return random.normal() / std::sqrt(squares / 3) / std::sqrt(3.0);
    }
    case RunScatter::weibull: {
      constexpr double kEuler = 0.57721566490153286;
      return (std::log(-std::log(random.uniform())) + kEuler) / (M_PI / std::sqrt(6.0));
    }
  }
  return 0;
}

}  // namespace

const std::vector<LivesWorld>& lives_worlds() {
  static const std::vector<LivesWorld> all{
      {"a power of the cuts",
       [](double r0, double u, double b) { return rise(r0, std::pow(u, b)); }},
      {"root and logarithm",
       [](double r0, double u, double) {
         const auto f = [](double n) { return std::sqrt(n) + std::log1p(n); };
         return rise(r0, f(400 * u) / f(400));
       }},
      {"worn area",
       [](double r0, double u, double) {
         return std::sqrt(r0 * r0 + (kLivesLimit * kLivesLimit - r0 * r0) * u);
       }},
      {"exponential start",
       [](double r0, double u, double) { return r0 * std::exp(std::log(kLivesLimit / r0) * u); }},
      {"a gauge that saturates",
       [](double r0, double u, double) {
         return rise(r0,
                     (1 - std::exp(-std::pow(1.2 * u, 1.6))) / (1 - std::exp(-std::pow(1.2, 1.6))));
       }},
      {"a sudden drop at four fifths of life", [](double r0, double u, double b) {
         return u < 0.8 ? rise(r0, 0.6 * std::pow(u / 0.8, b)) : rise(r0, 0.6 + 2 * (u - 0.8));
       }}};
  return all;
}

PlayedLives play_lives(const LivesWorld& world, const LivesBench& bench, std::uint64_t seed) {
  stats::Random random(seed, 11);
  PlayedLives out;
  const int runs = bench.runs;
  for (int i = 0; i < runs; ++i) {
    bq::Run run;
    run.facts.name = "r" + std::to_string(i);
    run.facts.steel = i % 2 ? "Marl" : "Cairn";
    const double angle = 12 + 3 * ((i / 2) % 3);
    run.facts.geometry = *EdgeGeometry::make(BevelAngles::symmetric(angle), std::nullopt);
    run.facts.medium = "tow";
    const double x = std::log(std::tan(angle * M_PI / 180) / std::tan(15 * M_PI / 180));
    out.log_lives.push_back(std::log(500) + kLivesSteel * (i % 2) + kLivesSlope * x +
                            kRunSd * standard(bench.scatter, random));
    out.trial.runs.push_back(std::move(run));
  }
  std::vector<double> sorted = out.log_lives;
  std::sort(sorted.begin(), sorted.end());
  const auto at = std::min(std::size_t(runs - 1), std::size_t((1 - bench.stopped) * runs));
  const double stop = std::exp(sorted[at]) * (bench.stopped > 0 ? 0.999 : 1.15);
  const int last = bench.checkpoints - 1;
  for (int i = 0; i < runs; ++i) {
    bq::Run& run = out.trial.runs[std::size_t(i)];
    const double life = std::exp(out.log_lives[std::size_t(i)]);
    const double r0 = 100 * std::exp(0.1 * random.normal()),
                 b = 0.7 * std::exp(0.12 * random.normal());
    double deviation = 0;
    for (int k = 0; k <= last; ++k) {
      // Down to a hundredth of the cuts, however many checkpoints there are.
      const double cuts =
          k == 0 ? 0 : std::round(stop * std::pow(2.0, 6.3 * (k - last) / std::max(1, last)));
      const double truth = world.growth(r0, cuts / life, b);
      deviation = k == 0
                      ? random.normal()
                      : bench.correlation * deviation +
                            std::sqrt(1 - bench.correlation * bench.correlation) * random.normal();
      for (int j = 0; j < 3; ++j) {
        Reading reading;
        reading.cuts = std::int64_t(cuts);
        reading.value = truth * std::exp(bench.checkpoint_sd * deviation + 0.05 * random.normal());
        run.readings.push_back(reading);
      }
      run.cuts_done = std::int64_t(cuts);
    }
    out.stopped += life > stop ? 1.0 / runs : 0;
  }
  return out;
}

}  // namespace bq::test
