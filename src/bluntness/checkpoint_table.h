#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "trial/trial.h"

namespace bq::inline bluntness {

/// The readings of one run collapsed for least squares on ln y: per checkpoint the weight (sum of
/// the readings' weights) and the weighted mean of ln y, and once for all the sum of squares within
/// checkpoints. Least squares on these is exactly least squares on the readings (DOMAIN §6).
/// The arrays are padded with zero weights to a multiple of 4 for the kernel.
struct CheckpointTable {
  std::vector<double> cuts;      ///< rising
  std::vector<double> log_cuts;  ///< ln(cuts/reference), 0 where cuts is 0
  std::vector<double> positive;  ///< 1 where cuts > 0, else 0
  std::vector<double> weight;
  std::vector<double> mean_log;
  std::size_t checkpoints = 0;  ///< without padding
  double reference_cuts = 1;    ///< geometric mean of the positive cuts
  double log_reference = 0;
  double within_sum = 0;
  int readings = 0;
  [[nodiscard]] bool has_zero() const { return checkpoints > 0 && cuts[0] == 0; }
  [[nodiscard]] double last_cuts() const { return checkpoints ? cuts[checkpoints - 1] : 0; }
};

/// One reading as the fit sees it.
struct LogReading {
  double cuts = 0;
  double log_value = 0;
  double weight = 1;
};

/// The readings that count in a fit (excluded ones left out), ln of the value in `unit`, sorted
/// by cuts.
std::vector<LogReading> log_readings(const Run& run, Unit unit);

/// Collapses readings sorted by cuts.
CheckpointTable collapse(std::span<const LogReading> readings);

}  // namespace bq::inline bluntness
