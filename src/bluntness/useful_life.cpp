#include "bluntness/useful_life.h"

#include <cmath>

#include "bluntness/cuts_to_threshold.h"
#include "stats/distributions.h"

namespace bq::inline bluntness {

ForceParts force_at(const ForceCurve& edge, const ForceSplit& split, double cuts) {
  return {split.severing_N_per_reading * edge.run->curve->fit.curve.at(cuts),
          split.stiffness_N_per_mm3 * edge.parting_index};
}

UsefulLife life_to_force(const ForceCurve& edge, const ForceSplit& split, double limit_N,
                         double level) {
  UsefulLife out;
  const double s = split.severing_N_per_reading,
               parting = split.stiffness_N_per_mm3 * edge.parting_index;
  out.reading_at_limit = s > 0 ? (limit_N - parting) / s : 0;
  if (!(out.reading_at_limit > 0)) {
    out.censoring = Censoring::left;
    out.high = 0;
    return out;
  }
  const CutsToThreshold cuts = cuts_to_threshold(*edge.run, out.reading_at_limit, level);
  out.censoring = cuts.censoring;
  out.estimate = cuts.estimate;
  out.low = cuts.low;
  out.high = cuts.high;
  if (cuts.censoring != Censoring::none) return out;
  const CurveFit& fit = edge.run->curve->fit;
  const auto gradient = fit.curve.log_gradient(*cuts.estimate, fit.reference_cuts);
  const auto curve =
      fit.variance_of(Eigen::Vector4d(gradient[0], gradient[1], gradient[2], gradient[3]));
  const double by_curve =
      std::isfinite(curve.variance)
          ? std::max(0.0, curve.variance) * out.reading_at_limit * out.reading_at_limit
          : 0;
  // The reading of the limit is (F − K·index)/s; K leans on s.
  const double by_severing =
      (out.reading_at_limit + edge.parting_index * split.stiffness_by_severing) / s *
      split.severing_se;
  const double by_force =
      by_severing * by_severing + std::pow(edge.parting_index / s * split.stiffness_se, 2);
  const double t = curve.degrees_of_freedom > 0
                       ? stats::t_quantile(0.5 + level / 2, curve.degrees_of_freedom)
                       : stats::normal_quantile(0.5 + level / 2);
  if (edge.run->interpolated) {
    const double steepness =
        fit.curve.slope(*cuts.estimate) * *cuts.estimate / out.reading_at_limit;
    const double half =
        t * std::sqrt(cuts.log_variance + by_force / std::pow(out.reading_at_limit * steepness, 2));
    out.low = *cuts.estimate * std::exp(-half);
    if (cuts.high) out.high = *cuts.estimate * std::exp(half);
    return out;
  }
  const double half = t * std::sqrt(by_curve + by_force), last = edge.run->table.last_cuts(),
               fresh = fit.curve.at(0);
  out.low = out.reading_at_limit - half <= fresh
                ? std::optional(0.0)
                : fit.curve.reaches(out.reading_at_limit - half, last);
  out.high = fit.curve.reaches(out.reading_at_limit + half, last);  // absent: beyond what was cut
  return out;
}

ForceLead lead_over(const ForceCurve& edge, const ForceCurve& other, const ForceSplit& split) {
  ForceLead out;
  out.other_fresh_N = force_at(other, split, 0).total_N();
  out.lead = life_to_force(edge, split, out.other_fresh_N);
  return out;
}

}  // namespace bq::inline bluntness
