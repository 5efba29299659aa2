#include "bluntness/cuts_to_threshold.h"

#include <algorithm>
#include <cmath>

#include "quantity/limit.h"
#include "stats/censored_regression.h"
#include "stats/distributions.h"

namespace bq::inline bluntness {
namespace {

/// The curve must pass through (cuts, threshold): a checkpoint with overwhelming weight there.
CheckpointTable held_to(const CheckpointTable& table, double cuts, double threshold) {
  std::vector<LogReading> points;
  for (std::size_t i = 0; i < table.checkpoints; ++i)
    points.push_back({table.cuts[i], table.mean_log[i], table.weight[i]});
  points.push_back({cuts, std::log(threshold), 1e7 * double(table.readings)});
  std::stable_sort(points.begin(), points.end(),
                   [](const LogReading& a, const LogReading& b) { return a.cuts < b.cuts; });
  CheckpointTable held = collapse(points);
  held.readings = table.readings + 1;
  held.within_sum = table.within_sum;
  return held;
}

void profile_ends(const CurveFit& fit, const CheckpointTable& table, double threshold,
                  CutsToThreshold& answer, double start_step) {
  const double n = fit.readings;
  const double cutoff = stats::profile_cutoff(fit.readings, fit.parameters(), answer.level);
  const auto deviance = [&](double log_cuts) {
    const CurveSolution held =
        resolve_curve(fit.curve, held_to(table, std::exp(log_cuts), threshold));
    return n * std::log((held.between_sum + table.within_sum) / fit.sum_of_squares);
  };
  const double centre = std::log(*answer.estimate);
  const auto ends =
      stats::profile_interval(deviance, centre, start_step, centre - 10, centre + 10, cutoff);
  answer.low = ends.low ? std::optional(std::exp(*ends.low)) : std::nullopt;
  answer.high = ends.high ? std::optional(std::exp(*ends.high)) : std::nullopt;
}

constexpr double kPromise = 0.95;
/// Of a gap between two checkpoints: how well a place in it is known at best and at worst.
constexpr double kLeastUnknown = 0.1, kMostUnknown = 0.5;

/// The most cuts at which the curve's upper limit is still below the threshold.
double promised(const CurveFit& fit, double threshold, double last) {
  const auto above = [&](double cuts) {
    const auto g = fit.curve.log_gradient(cuts, fit.reference_cuts);
    const auto v = fit.variance_of(Eigen::Vector4d(g[0], g[1], g[2], g[3]));
    if (!std::isfinite(v.variance) || !(v.degrees_of_freedom > 0)) return 1.0;
    return std::log(fit.curve.at(cuts) / threshold) +
           stats::t_quantile(kPromise, v.degrees_of_freedom) * std::sqrt(std::max(0.0, v.variance));
  };
  if (above(last) <= 0) return last;
  if (above(0) >= 0) return 0;
  double low = 0, high = last;
  for (int i = 0; i < 60; ++i) {
    const double middle = 0.5 * (low + high);
    (above(middle) <= 0 ? low : high) = middle;
  }
  return low;
}

/// Means that rise, by pooling neighbours that do not (weighted).
std::vector<double> rising_means(const CheckpointTable& table) {
  struct Pool {
    double sum = 0, weight = 0;
    std::size_t count = 0;
  };
  std::vector<Pool> pools;
  for (std::size_t i = 0; i < table.checkpoints; ++i) {
    pools.push_back({table.weight[i] * table.mean_log[i], table.weight[i], 1});
    while (pools.size() > 1) {
      const Pool& last = pools.back();
      Pool& before = pools[pools.size() - 2];
      if (before.sum * last.weight < last.sum * before.weight) break;
      before.sum += last.sum;
      before.weight += last.weight;
      before.count += last.count;
      pools.pop_back();
    }
  }
  std::vector<double> out;
  for (const auto& pool : pools) out.insert(out.end(), pool.count, pool.sum / pool.weight);
  return out;
}

}  // namespace

double interpolated_reading(const CheckpointTable& table, double cuts) {
  const std::vector<double> means = rising_means(table);
  std::size_t next = 1;
  while (next + 1 < means.size() && table.cuts[next] < cuts) ++next;
  const double share = std::clamp(
      (cuts - table.cuts[next - 1]) / (table.cuts[next] - table.cuts[next - 1]), 0.0, 1.0);
  return std::exp(means[next - 1] + share * (means[next] - means[next - 1]));
}

CutsToThreshold interpolated_cuts(const CheckpointTable& table, const ScatterSums& bench,
                                  double threshold, double level) {
  CutsToThreshold answer;
  answer.level = level;
  answer.read_to = table.last_cuts();
  const std::vector<double> means = rising_means(table);
  const double limit = std::log(threshold);
  const auto reaches = [&](double mean) { return reaches_limit(std::exp(mean), threshold); };
  const auto sd_at = [&](std::size_t i) {
    return std::sqrt(bench.checkpoint_variance() + bench.within_variance() / table.weight[i]);
  };
  const auto t_of = [&](double share) { return stats::t_quantile(share, bench.between_dof); };
  if (reaches(means.front())) {
    answer.censoring = Censoring::left;
    answer.high = table.cuts[0] > 0 || table.checkpoints < 2 ? table.cuts[0] : table.cuts[1];
    return answer;
  }
  std::size_t after = 1;
  while (after < means.size() && !reaches(means[after])) ++after;
  // Where a level between two checkpoints is met, going along the means.
  const auto cuts_at = [&](double value) {
    std::size_t next = 1;
    while (next + 1 < means.size() && means[next] < value) ++next;
    const double rise = means[next] - means[next - 1];
    const double share = rise > 0 ? (value - means[next - 1]) / rise : 1;
    return table.cuts[next - 1] +
           std::clamp(share, 0.0, 1.0) * (table.cuts[next] - table.cuts[next - 1]);
  };
  if (after == means.size()) {
    answer.censoring = Censoring::right;
    const double sd = sd_at(means.size() - 1);
    answer.at_least = cuts_at(limit - t_of(kPromise) * sd);
    if (means.back() + t_of(kPromise) * sd <= limit) answer.at_least = answer.read_to;
    answer.low = answer.at_least;
    return answer;
  }
  const double before_cuts = table.cuts[after - 1], gap = table.cuts[after] - before_cuts;
  const double share =
      std::min(1.0, (limit - means[after - 1]) / (means[after] - means[after - 1]));
  answer.estimate = before_cuts + share * gap;
  const double sd =
      std::sqrt(std::pow((1 - share) * sd_at(after - 1), 2) + std::pow(share * sd_at(after), 2) +
                2 * share * (1 - share) * bench.correlation * bench.checkpoint_variance());
  // Where a gap rises more steeply than those beside it the edge gave way in it, nobody knows
  // where.
  const auto slope = [&](std::size_t i) {
    return (means[i] - means[i - 1]) / (table.cuts[i] - table.cuts[i - 1]);
  };
  double beside = 0;
  if (after > 1) beside = std::max(beside, slope(after - 1));
  if (after + 1 < means.size()) beside = std::max(beside, slope(after + 1));
  const double steeper = beside > 0 ? std::clamp(slope(after) / beside - 1, 0.0, 1.0) : 1;
  const double unknown = (kLeastUnknown + (kMostUnknown - kLeastUnknown) * steeper) * gap;
  const auto end = [&](double direction, double quantile) {
    const double reading = cuts_at(limit + direction * quantile * sd);
    const double place = *answer.estimate + direction * unknown;
    return direction < 0 ? std::min(reading, std::max(place, before_cuts))
                         : std::max(reading, std::min(place, before_cuts + gap));
  };
  const double t = t_of(0.5 + level / 2);
  answer.low = end(-1, t);
  if (limit + t * sd <= means.back()) answer.high = end(1, t);
  answer.at_least = end(-1, t_of(kPromise));
  const double half = std::log(*answer.estimate / std::max(*answer.low, 1e-3 * gap)) / t;
  answer.log_variance = half * half;
  return answer;
}

CutsToThreshold cuts_to_threshold(const CurveFit& fit, const CheckpointTable& table,
                                  double threshold, double level, IntervalMethod method) {
  CutsToThreshold answer;
  answer.level = level;
  const double first = table.cuts[0];
  const double last = table.last_cuts();
  answer.read_to = last;
  if (reaches_limit(fit.curve.at(first), threshold)) {
    answer.censoring = Censoring::left;
    answer.high = first > 0 || table.checkpoints < 2 ? first : table.cuts[1];
    return answer;
  }
  const auto reached = fit.curve.reaches(threshold, last);
  if (!reached) {
    answer.censoring = Censoring::right;
    answer.at_least = promised(fit, threshold, last);
    answer.low = answer.at_least;
    return answer;
  }
  answer.estimate = *reached;
  // F(ln θ, ln n) = ln g = ln T along the answer, so ∂ ln n/∂ ln θ = −(∂ ln g/∂ ln θ)/(∂ ln g/∂ ln
  // n).
  const auto g = fit.curve.log_gradient(*reached, fit.reference_cuts);
  const double steepness = fit.curve.slope(*reached) * *reached / fit.curve.at(*reached);
  const Eigen::Vector4d gradient = -Eigen::Vector4d(g[0], g[1], g[2], g[3]) / steepness;
  const VarianceEstimate variance = fit.variance_of(gradient);
  answer.log_variance = variance.variance;
  if (!std::isfinite(variance.variance)) return answer;
  answer.at_least = *reached * std::exp(-stats::t_quantile(kPromise, variance.degrees_of_freedom) *
                                        std::sqrt(variance.variance));
  const double half = stats::t_quantile(0.5 + level / 2, variance.degrees_of_freedom) *
                      std::sqrt(variance.variance);
  if (method == IntervalMethod::profile) {
    profile_ends(fit, table, threshold, answer, std::max(half / 2, 1e-6));
    return answer;
  }
  answer.low = *reached * std::exp(-half);
  answer.high = *reached * std::exp(half);
  return answer;
}

}  // namespace bq::inline bluntness
