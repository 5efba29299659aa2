#pragma once

#include <span>

#include "quantity/checked.h"

namespace bq::stats {

/// Mean and spread of moving ranges of two: E(range)/σ = 2/√π = 1.128 and SD(range)/σ = √(2 − 4/π)
/// = 0.853 for independent normal values (the constants d₂ and d₃ of ASTM MNL 7 for n = 2).
inline constexpr double kRangeMean = 1.1283791670955126, kRangeSd = 0.8525024664274290;

/// Individuals chart (Shewhart, moving range of two; ASTM MNL 7, part 3).
struct IndividualsChart {
  int n = 0;
  double centre = 0;            ///< mean of the values
  double mean_range = 0;        ///< of neighbouring values
  double lower = 0, upper = 0;  ///< centre ∓ 3/d₂ · mean range (2.659; tables print 2.66)
  double range_upper = 0;       ///< (1 + 3·d₃/d₂) · mean range (3.267)
};

/// Values in the order they were taken. Refused: fewer than two, values that are not finite.
Checked<IndividualsChart> individuals_chart(std::span<const double> values);

}  // namespace bq::stats
