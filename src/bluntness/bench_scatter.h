#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bluntness/run_fits.h"

namespace bq::inline bluntness {

/// What the runs of a bench say together about their curves and their scatter.
struct BenchCurves {
  /// The curve that runs follow unless their own readings ask for another.
  CurveModel model = CurveModel::power;
  /// Scatter of the bench, with the correlation of neighbouring checkpoints where it is clear (two
  /// standard errors). Empty with fewer than three runs or eight degrees of freedom between
  /// checkpoints: then each run has its own only.
  std::optional<ScatterSums> scatter;
  double mean_square = 0;  ///< of a checkpoint's deviation in √w that no shape explains
  /// The runs miss every model at the same places (p < 0.001, by more than 4 % of the reading):
  /// cuts are read between the checkpoints.
  bool no_model_fits = false;
};
/// Of those of these fits that are `members`, each with a curve.
BenchCurves curves_of_bench(const std::vector<RunFit>& fits,
                            const std::vector<std::size_t>& members);

/// Fills the residuals of a run's candidates, once: what all that follows is made from.
void add_residuals(RunFit& run);

/// p of a run's checkpoint means lying as far from a curve as they do if the scatter of the bench
/// is all that moves them (F). Empty without degrees of freedom.
std::optional<double> lack_of_fit_p(const CurveFit& fit, const ScatterSums& bench);

/// Chooses the curves of a bench together and gives each run the scatter of all (DOMAIN §6):
/// - a model that most runs prefer to the power curve, and all together clearly, is the bench's;
/// - where runs miss every curve at the same places, all are read between their checkpoints;
/// - a run keeps another where its own readings ask for it;
/// - a run whose checkpoints no curve fits (p < 0.01) is read between its checkpoints instead.
/// From the candidates of each run alone: doing it twice changes nothing, and a run that is fitted
/// anew is settled with the others. A run of much wider reading scatter (p < 0.001) keeps its own.
/// Runs of different `work` (work_of_runs, in order; empty: all alike) know nothing of each other.
/// The result does not hang on the number of `workers` (threads).
void settle_on_bench(std::vector<RunFit>& fits, const std::vector<std::string>& work = {},
                     unsigned workers = 1);

}  // namespace bq::inline bluntness
