#include "bluntness/useful_life.h"

#include <cmath>

#include "bluntness/cuts_to_threshold.h"
#include "stats/distributions.h"

namespace bq {

ForceParts force_at(const ForceCurve& edge, const ForceSplit& split, double cuts) {
  return {split.severing_N_per_reading * edge.run->curve->fit.curve.at(cuts), split.stiffness_N_per_mm3 * edge.parting_index};
}

UsefulLife life_to_force(const ForceCurve& edge, const ForceSplit& split, double limit_N, double level) {
  UsefulLife out;
  const double s = split.severing_N_per_reading, parting = split.stiffness_N_per_mm3 * edge.parting_index;
  out.reading_at_limit = s > 0 ? (limit_N - parting) / s : 0;
  if (!(out.reading_at_limit > 0)) {
    out.censoring = Censoring::left;
    out.high = 0;
    return out;
  }
  const CutsToThreshold cuts = cuts_to_threshold(edge.run->curve->fit, edge.run->table, out.reading_at_limit, level);
  out.censoring = cuts.censoring;
  out.estimate = cuts.estimate;
  out.low = cuts.low;
  out.high = cuts.high;
  if (cuts.censoring != Censoring::none) return out;
  // Half-widths back to standard errors by the normal quantile: with few strokes that errs on the wide side.
  const double wide = 2 * stats::normal_quantile(0.975);
  const double s_se = (split.severing_high - split.severing_low) / wide, k_se = (split.stiffness_high - split.stiffness_low) / wide;
  const double slope = edge.run->curve->fit.curve.slope(*cuts.estimate);  // dg/dn there
  const double reading_variance = std::pow(out.reading_at_limit / s * s_se, 2) + std::pow(edge.parting_index / s * k_se, 2);
  const double by_force = slope > 0 ? reading_variance / std::pow(slope * *cuts.estimate, 2) : 0;
  const double z = stats::normal_quantile(0.5 + level / 2);
  const double half_low = cuts.low ? std::log(*cuts.estimate / std::max(*cuts.low, 1e-9)) : 0, half_high = cuts.high ? std::log(*cuts.high / *cuts.estimate) : 0;
  if (cuts.low) out.low = *cuts.estimate * std::exp(-std::hypot(half_low, z * std::sqrt(by_force)));
  if (cuts.high) out.high = *cuts.estimate * std::exp(std::hypot(half_high, z * std::sqrt(by_force)));
  return out;
}

ForceLead lead_over(const ForceCurve& edge, const ForceCurve& other, const ForceSplit& split) {
  ForceLead out;
  out.other_fresh_N = force_at(other, split, 0).total_N();
  out.lead = life_to_force(edge, split, out.other_fresh_N);
  return out;
}

}  // namespace bq
