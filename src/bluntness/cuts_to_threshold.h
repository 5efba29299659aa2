#pragma once

#include <optional>

#include "bluntness/curve_fit.h"

namespace bq::inline bluntness {

enum class Censoring {
  none,
  right,  ///< below the threshold at the last checkpoint: life is more than `low` cuts
  left    ///< at or above it at the first: life is less than `high` cuts
};

/// Cuts that a run makes until its response reaches a threshold.
struct CutsToThreshold {
  Censoring censoring = Censoring::none;
  std::optional<double> estimate;  ///< empty when censored
  std::optional<double> low;       ///< lower end; the last checkpoint when right-censored
  std::optional<double> high;      ///< upper end; see above when left-censored
  double level = 0.95;
  double log_variance = 0;  ///< of ln(estimate), from the curve fit
};

enum class IntervalMethod { delta, profile };

/// Where the fitted curve reaches `threshold` (response unit, > 0). Nothing is extrapolated beyond
/// the last checkpoint. A run that is at or above it at 0 cuts (or at its first checkpoint, when it
/// has none at 0) is left-censored: its life is below the first checkpoint after 0.
/// Default interval: delta method on ln n with the fit's variance and degrees of freedom; the
/// alternative is the profile likelihood, made by holding the curve to (n, threshold).
/// 0.5 <= level < 1. `table` is what the fit was made from.
CutsToThreshold cuts_to_threshold(const CurveFit& fit, const CheckpointTable& table,
                                  double threshold, double level = 0.95,
                                  IntervalMethod method = IntervalMethod::delta);

}  // namespace bq::inline bluntness
