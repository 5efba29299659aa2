#pragma once

#include <optional>

#include "bluntness/curve_fit.h"

namespace bq::inline bluntness {

enum class Censoring {
  none,
  right,  ///< below the threshold at the last checkpoint: life is more than `low`, its at_least
  left    ///< at or above it at the first: life is less than `high` cuts
};

/// Cuts that a run makes until its response reaches a threshold.
struct CutsToThreshold {
  Censoring censoring = Censoring::none;
  std::optional<double> estimate;  ///< empty when censored
  std::optional<double> low;       ///< lower end; at_least when right-censored
  std::optional<double> high;      ///< upper end; see above when left-censored
  /// What may be promised: with 95 % confidence the life is no less (one-sided). At most the last
  /// checkpoint; 0 for a run that is past the threshold from the start.
  double at_least = 0;
  double read_to = 0;  ///< the last checkpoint
  double level = 0.95;
  double log_variance = 0;  ///< of ln(estimate), from the curve fit
  /// Right-censored beyond doubt: `at_least` is all the cuts there were.
  [[nodiscard]] bool surely_not_reached() const {
    return censoring == Censoring::right && at_least >= read_to;
  }
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

/// The same where no curve fits: the checkpoint means made to rise (weighted pool of neighbours),
/// ln of the reading straight in the cuts between two of them, the interval from the scatter of the
/// bench, and at least a tenth of the gap; half of it where the gap rises twice as steeply as those
/// beside it (the edge gave way somewhere in it).
CutsToThreshold interpolated_cuts(const CheckpointTable& table, const ScatterSums& bench,
                                  double threshold, double level = 0.95);

/// The reading after so many cuts, read likewise between the checkpoints.
double interpolated_reading(const CheckpointTable& table, double cuts);

}  // namespace bq::inline bluntness
