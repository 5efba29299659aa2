#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bluntness/life_model.h"

namespace bq {

/// What the edge must do. Absent limits do not bind.
struct RecommendLimits {
  std::string medium;                        ///< empty: the one with most runs
  std::vector<std::string> steels;           ///< empty: all
  std::optional<double> least_angle_deg;     ///< per side, at the apex
  std::optional<double> largest_angle_deg;
  std::optional<double> finest_finish_um;
  std::optional<double> coarsest_finish_um;
  std::optional<double> least_life;          ///< cuts, for the next edge
  double angle_step_deg = 1;                 ///< of interpolated angles between tested ones
};

struct RankedEdge {
  std::string steel;
  double angle_deg = 0;                     ///< per side, symmetric, at the apex
  std::optional<double> finish_um;
  bool tested = false;                      ///< else interpolated between tested angles
  double life = 0;                          ///< median cuts to the threshold
  double life_mean_low = 0, life_mean_high = 0;  ///< 95 % interval of the mean edge
  double life_low = 0;                      ///< 95 % lower prediction limit for the next edge
  std::optional<double> fresh_reading;      ///< median of the evidence runs, trial's unit
  std::vector<std::string> reasons;
  std::vector<std::string> evidence_runs;
};

struct NextBestRun {
  std::string steel;
  double angle_deg = 0;
  std::optional<double> finish_um;
  double interval_shrinks_to = 1;  ///< width of the contrast's interval after it, as a share
  std::string reason;
};

struct Recommendation {
  std::string medium;
  std::vector<RankedEdge> ranked;   ///< best first
  int candidates = 0;               ///< before the limits
  std::optional<NextBestRun> next_best;
  double run_to_run_sd = 0;
  std::vector<LeftOut> left_out;
};

/// Ranks tested and interpolated edges by the lower 95 % prediction limit of life; nothing outside
/// the tested angles of a steel or its tested finishes is offered. Damage is not judged here.
/// Refused: when the life model cannot be fitted, or no run is in the medium.
Checked<Recommendation> recommend(const Trial& trial, const std::vector<RunFit>& fits,
                                  double threshold, const RecommendLimits& limits);

}  // namespace bq
