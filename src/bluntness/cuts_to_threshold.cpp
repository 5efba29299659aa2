#include "bluntness/cuts_to_threshold.h"

#include <algorithm>
#include <cmath>

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

}  // namespace

CutsToThreshold cuts_to_threshold(const CurveFit& fit, const CheckpointTable& table,
                                  double threshold, double level, IntervalMethod method) {
  CutsToThreshold answer;
  answer.level = level;
  const double first = table.cuts[0];
  const double last = table.last_cuts();
  if (fit.curve.at(first) >= threshold) {
    answer.censoring = Censoring::left;
    answer.high = first > 0 || table.checkpoints < 2 ? first : table.cuts[1];
    return answer;
  }
  const auto reached = fit.curve.reaches(threshold, last);
  if (!reached) {
    answer.censoring = Censoring::right;
    answer.low = last;
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
