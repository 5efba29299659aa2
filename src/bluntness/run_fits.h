#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bluntness/curve_bootstrap.h"
#include "bluntness/curve_choice.h"
#include "bluntness/cuts_to_threshold.h"
#include "quantity/shared_list.h"
#include "stats/parallel.h"
#include "trial/trial.h"

namespace bq::inline bluntness {

/// One run with its blunting curve, or the reason why there is none.
struct RunFit {
  std::string run;
  SharedList<LogReading> readings;     ///< sorted by cuts, in the trial's unit
  std::optional<double> first_median;  ///< of the readings at the earliest checkpoint
  CheckpointTable table;
  std::optional<ChosenCurve> curve;
  std::string why_not;  ///< "not enough to fit: …"
  /// p of the checkpoints lying as far from the curve as they do, by the scatter of the bench
  /// (settle_on_bench); empty where the bench knows none.
  std::optional<double> lack_of_fit_p;
  bool interpolated = false;  ///< no curve fits: cuts to a limit are read between the checkpoints
};

/// The curve's name; "interpolated" where none fits, "" without one.
std::string curve_name(const RunFit& run);

/// The reading after so many cuts as a picture draws it: of the curve, or between the checkpoints
/// where none fits. The run must have a curve; 0 <= cuts <= last checkpoint.
double drawn_reading(const RunFit& run, double cuts);

/// The cuts of a run to a threshold: by its curve or, where none fits, between its checkpoints
/// (monotone means, ln of the reading straight in the cuts). The run must have a curve.
CutsToThreshold cuts_to_threshold(const RunFit& run, double threshold, double level = 0.95,
                                  IntervalMethod method = IntervalMethod::delta);

/// A threshold as the command line and the window take it.
struct Threshold {
  double value = 0;  ///< in `unit`
  Unit unit = Unit::gf;
  std::string origin;  ///< "" or how it came about ("3 × the median fresh reading")
};

/// Why a run whose readings fall with the cuts has no curve.
inline constexpr const char* kFallingReadings =
    "its readings fall as cuts are made; here lower is sharper, and cutting does not sharpen. A "
    "response that falls as the edge dulls (cut depth, say) is not analysed: enter its reciprocal";

/// The run's curve. Refused (why_not): no readings, not enough of them, or readings that fall
/// beyond doubt.
RunFit fit_run(const Run& run, Unit unit, const CurveOptions& options = {});

/// Every run, in order, on work.workers threads, settled with each other (settle_on_bench) unless
/// the fit is robust; nothing when stopped.
std::optional<std::vector<RunFit>> fit_runs(const Trial& trial, const CurveOptions& options,
                                            const stats::Work& work);

/// Median over the runs of each run's median reading at 0 cuts; empty when no run has one.
std::optional<double> median_fresh_reading(const std::vector<RunFit>& fits);
/// The same of every run's earliest checkpoint, whenever it was read; empty without readings.
std::optional<double> median_first_reading(const std::vector<RunFit>& fits);

/// Reads "450gf", "450 gf", "3x" (that many times the median fresh reading) or, when `bare` is
/// given, a number. Refused: a unit of another kind than the trial's, zero and below, "3x" when no
/// run was read at 0 cuts.
Checked<Threshold> parse_threshold(std::string_view text, Unit unit,
                                   const std::vector<RunFit>& fits, bool bare_number_allowed);

}  // namespace bq::inline bluntness
