#pragma once

#include <optional>
#include <string>
#include <vector>

#include "trial/bench_session.h"

namespace bq::inline bluntness {

struct SteadinessOptions {
  double lift_deg = 8;         ///< farther from the target than this: the blade is lifted
  double least_seconds = 0.3;  ///< a shorter touch is no stroke
};

/// Strokes of a trace: stretches within `lift_deg` of the target, at least `least_seconds` long;
/// their first and last 0.1 s (setting down, lifting) are left out.
std::vector<SteadyStroke> strokes_of(const std::vector<float>& trace_deg, double rate_hz,
                                     double target_deg, const SteadinessOptions& options = {});

/// How steady a hand is. The stroke is the unit: samples within one lean on each other.
struct Steadiness {
  int strokes = 0;
  double mean_deg = 0;
  double within_sd_deg = 0;   ///< pooled over the strokes
  double between_sd_deg = 0;  ///< of the strokes' means
  double tail_deg = 0;        ///< mean of the strokes' 95 % points: the angle the apex gets
  std::optional<double> tail_low, tail_high;  ///< its 95 % t interval; from 3 strokes on
  double over_target_deg = 0;                 ///< tail less target
};
/// Empty without strokes.
std::optional<Steadiness> steadiness_of(const SteadinessSession& session);
/// "The steepest moments decide the apex: 16.8° (16.3° to 17.3°), 1.8° over the 15° aimed at. …"
std::string describe(const Steadiness& steadiness, double target_deg);

}  // namespace bq::inline bluntness
