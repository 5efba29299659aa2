#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bluntness/cuts_to_threshold.h"
#include "bluntness/run_fits.h"

namespace bq::inline bluntness {

/// One model fitted to a run.
struct ModelLine {
  CurveModel model = CurveModel::power;
  bool chosen = false, robust = false;
  double sigma_log = 0, aicc = 0,
         weight = 0;  ///< weight: Akaike's among the candidates; 0 for the robust line
  CutsToThreshold cuts;
};

/// A figure with its 95 % interval.
struct Estimate {
  double value = 0;
  std::optional<double> low, high;
};

/// Everything that can be said of one run's curve.
struct CurveStudy {
  std::vector<ModelLine> models;  ///< candidates as fitted, then the chosen one by Huber loss
  Estimate fresh;                 ///< reading at 0 cuts, fitted
  Estimate at;                    ///< reading at `at_cuts` (delta method on ln g)
  double at_cuts = 0;
  double early_loss_percent =
      0;  ///< rise of the reading over the first tenth of the cuts, % of fresh
  double relative_end_percent =
      0;  ///< relative sharpness at the last checkpoint: reference/reading
  double mean_relative_percent =
      0;  ///< area under relative sharpness up to `at_cuts`, divided by them
  /// Checks of the residuals and against the scatter of the bench, each in words; what speaks
  /// against the curve first.
  std::vector<std::string> checks;
  bool doubts = false;
};

/// `reference`: the reading of the best edge the gauge can show (response unit, > 0). `at_cuts`: 0
/// < n <= last checkpoint, else the last one is taken (nothing is extrapolated). Refused: the run
/// has no curve. Checks: signs of the checkpoints' residuals in order (exact distribution of the
/// number of runs of signs, Wald & Wolfowitz 1940, one-sided); spread against cuts (Spearman's rank
/// correlation of |residual| with the cuts, t approximation); readings beyond the Bonferroni bound.
Checked<CurveStudy> study_curve(const RunFit& run, double threshold, double reference,
                                double at_cuts);

/// Chance of at most `runs` runs of signs among `plus` and `minus` signs in random order. Exact.
double few_runs_chance(int plus, int minus, int runs);

}  // namespace bq::inline bluntness
