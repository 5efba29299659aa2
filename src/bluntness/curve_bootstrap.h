#pragma once

#include <cstdint>
#include <optional>
#include <span>

#include "bluntness/curve_fit.h"
#include "stats/parallel.h"

namespace bq::inline bluntness {

/// Percentile interval of the cuts to a threshold from refits; a picture, not the answer (it covers
/// about 90 % where 95 % is claimed). An end is empty where that percentile is censored.
struct CurveBootstrap {
  std::optional<double> low;
  std::optional<double> high;
  int refits = 0;    ///< refits made (a flat valley counts where it was left)
  int censored = 0;  ///< of these, refits whose curve stayed below the threshold
};

struct BootstrapOptions {
  int refits = 1000;
  std::uint64_t seed = 1;
  std::uint64_t stream = 0;  ///< told apart per run, so that runs do not share their draws
  double level = 0.95;
  double threshold = 0;
};

/// Refits on resampled data: checkpoint deviations and deviations within checkpoints are drawn
/// separately, so the scatter between checkpoints is carried. The same seed gives the same result
/// for any worker count: each block of refits has its own random stream and its own slots.
/// Empty when stopped.
std::optional<CurveBootstrap> bootstrap_curve(const CurveFit& fit,
                                              std::span<const LogReading> readings,
                                              const BootstrapOptions& options,
                                              const stats::Work& work);

}  // namespace bq::inline bluntness
