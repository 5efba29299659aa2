#pragma once

#include <optional>
#include <string>
#include <vector>

#include "quantity/checked.h"
#include "trial/bench_event.h"
#include "trial/force_stroke.h"

namespace bq::inline bluntness {

/// What is read off one stroke. Its zero is the median before the cut; the cut is where the force
/// lies above a tenth of the peak.
struct StrokeFigures {
  double zero_N = 0;        ///< before the cut
  double zero_drift_N = 0;  ///< after the cut less before it; 0 where nothing was recorded after it
  double peak_N =
      0;  ///< above the zero; of the force smoothed over 5 ms, so that one spike is no peak
  double mean_N = 0;             ///< over the cut
  double work_J = 0;             ///< mean × length of the stroke; 0 where the length is not said
  double seconds = 0;            ///< of the cut
  std::size_t from = 0, to = 0;  ///< the cut, as samples [from, to)
  std::vector<std::string> troubles;  ///< in words; empty: the stroke can be used
};

struct StrokeLimits {
  double stroke_mm = 0;        ///< wished length; 0: not said
  double least_seconds = 0.1;  ///< shorter: too short
  double most_drift = 0.03;    ///< of the peak
  double most_lost = 0.01;     ///< share of the samples
};
/// Refused: fewer than 20 samples, or no sample above the zero.
Checked<StrokeFigures> stroke_figures(const ForceStroke& stroke, const StrokeLimits& limits);

/// What is kept of a stroke beside its samples; its row is not known yet.
StrokeEvent stroke_event(const StrokeFigures& figures);

/// One checkpoint with a stroke: mean force, the gauge's median there, and the parting index of its
/// section.
struct StrokePoint {
  std::string run;
  double reading = 0;  ///< median of the gauge, any unit but one for all
  double mean_N = 0;
  double parting_index =
      0;  ///< force per mm of edge at K = 1 (parting.h), times the engaged length (mm)
};

/// Severing and parting taken apart (DOMAIN §8): mean force = s·reading + K·index.
struct ForceSplit {
  double severing_N_per_reading = 0, severing_low = 0, severing_high = 0;  ///< s with its interval
  double stiffness_N_per_mm3 = 0, stiffness_low = 0, stiffness_high = 0;   ///< K with its interval
  int runs = 0, points = 0, geometries = 0;
  double run_sd_N = 0;  ///< of the runs about the fit
  /// Standard errors of s, and of K at a given s; dK/ds: an s too large makes K too small.
  double severing_se = 0, stiffness_se = 0, stiffness_by_severing = 0;
};
/// First s from the changes within runs (whose parting stays the same), then K through the origin
/// from the runs' remainders: the run is the unit of replication, intervals are t with runs − 1 (K)
/// and points − runs − 1 (s) degrees of freedom at `level`. Refused in words: fewer than two
/// geometries whose index differs by a tenth, no run with two checkpoints, fewer than 3 runs.
Checked<ForceSplit> split_force(const std::vector<StrokePoint>& points, double level = 0.95);

}  // namespace bq::inline bluntness
