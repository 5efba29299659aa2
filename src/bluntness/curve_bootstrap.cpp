#include "bluntness/curve_bootstrap.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "stats/random.h"

namespace bq::inline bluntness {
namespace {

constexpr int kBlock = 50;  // refits per piece of work

/// What is drawn from: deviations scaled so that their variances are those of the two levels.
struct Pools {
  std::vector<double> between, within;
};

Pools make_pools(const CurveFit& fit, std::span<const LogReading> readings,
                 const CheckpointTable& table) {
  Pools pools;
  std::size_t i = 0;
  double between_squares = 0, within_squares = 0;
  for (std::size_t c = 0; c < table.checkpoints; ++c) {
    pools.between.push_back(table.mean_log[c] - std::log(fit.curve.at(table.cuts[c])));
    between_squares += pools.between.back() * pools.between.back();
    for (; i < readings.size() && readings[i].cuts == table.cuts[c]; ++i) {
      if (table.weight[c] < 2) continue;
      pools.within.push_back(readings[i].log_value - table.mean_log[c]);
      within_squares += pools.within.back() * pools.within.back();
    }
  }
  const auto rescale = [](std::vector<double>& pool, double squares, double variance) {
    if (pool.empty() || squares <= 0) return;
    const double factor = std::sqrt(variance * double(pool.size()) / squares);
    for (double& value : pool) value *= factor;
  };
  const bool split = within_squares > 0;
  rescale(pools.within, within_squares, fit.within_variance);
  // Without repeats nothing can be told apart: all scatter is drawn once per reading.
  if (!split) {
    pools.within = pools.between;
    rescale(pools.within, between_squares, fit.within_variance);
  }
  rescale(pools.between, between_squares, split ? fit.checkpoint_variance : 0.0);
  return pools;
}

}  // namespace

std::optional<CurveBootstrap> bootstrap_curve(const CurveFit& fit,
                                              std::span<const LogReading> readings,
                                              const BootstrapOptions& options,
                                              const stats::Work& work) {
  const CheckpointTable table = collapse(readings);
  const Pools pools = make_pools(fit, readings, table);
  std::vector<double> fitted_log(table.checkpoints);
  for (std::size_t c = 0; c < table.checkpoints; ++c)
    fitted_log[c] = std::log(fit.curve.at(table.cuts[c]));

  constexpr double kFailed = -1;
  std::vector<double> lives(std::size_t(options.refits), kFailed);
  const auto blocks = std::size_t((options.refits + kBlock - 1) / kBlock);
  const bool finished = stats::for_each_piece(blocks, work, [&](std::size_t block) {
    stats::Random random(options.seed, options.stream * 1000003ULL + block);
    CheckpointTable drawn = table;
    const auto end = std::min(lives.size(), (block + 1) * kBlock);
    for (std::size_t refit = block * kBlock; refit < end; ++refit) {
      for (std::size_t c = 0; c < table.checkpoints; ++c) {
        const double shift = pools.between[random.below(pools.between.size())];
        const int m = std::max(1, int(std::lround(table.weight[c])));
        double sum = 0;
        for (int j = 0; j < m; ++j) sum += pools.within[random.below(pools.within.size())];
        drawn.mean_log[c] = fitted_log[c] + shift + sum / m;
      }
      const CurveSolution again = resolve_curve(fit.curve, drawn);
      if (!std::isfinite(again.between_sum)) continue;
      const Curve& curve = again.curve;
      if (curve.at(0) >= options.threshold)
        lives[refit] = 0;
      else if (const auto n = curve.reaches(options.threshold, table.last_cuts()))
        lives[refit] = *n;
      else
        lives[refit] = std::numeric_limits<double>::infinity();
    }
  });
  if (!finished) return std::nullopt;

  std::erase(lives, kFailed);
  CurveBootstrap out;
  out.refits = int(lives.size());
  if (lives.empty()) return out;
  std::sort(lives.begin(), lives.end());
  out.censored =
      int(std::count_if(lives.begin(), lives.end(), [](double n) { return std::isinf(n); }));
  const auto percentile = [&](double q) -> std::optional<double> {
    const double place = q * double(lives.size() - 1);
    const auto below = std::size_t(place);
    const double low = lives[below], high = lives[std::min(below + 1, lives.size() - 1)];
    if (std::isinf(high))
      return std::isinf(low) || place > double(below) ? std::nullopt : std::optional(low);
    return low + (place - double(below)) * (high - low);
  };
  out.low = percentile(0.5 - options.level / 2);
  out.high = percentile(0.5 + options.level / 2);
  return out;
}

}  // namespace bq::inline bluntness
