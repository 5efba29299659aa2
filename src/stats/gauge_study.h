#pragma once

#include <optional>
#include <string>
#include <vector>

#include "quantity/checked.h"

namespace bq::stats {

/// One reading of a gauge study.
struct GaugeReading {
  std::string part, by_operator;
  double value = 0;
};

/// Parts × operators × repeats by analysis of variance (two-way, random; AIAG MSA, chapter III).
/// SDs in the readings' unit.
struct GaugeStudy {
  int parts = 0, operators = 0, repeats = 0;
  double repeatability_sd = 0;    ///< one operator, one part, again
  double reproducibility_sd = 0;  ///< between operators, the interaction included
  double operator_sd = 0, interaction_sd = 0;
  double part_sd = 0;
  double gauge_sd = 0;  ///< repeatability and reproducibility together
  double total_sd = 0;
  double study_variation_percent = 0;                    ///< 100·gauge_sd/total_sd
  int distinct_categories = 0;                           ///< ⌊√2·part_sd/gauge_sd⌋, at least 1
  std::optional<double> interaction_p;                   ///< of its F test; empty with one operator
  bool interaction_kept = false;                         ///< p < 0.25
  double repeatability_low = 0, repeatability_high = 0;  ///< 95 %, χ²
};

/// Variance components by moments, those below 0 are 0. With one operator reproducibility is 0 and
/// cannot be judged. Refused: fewer than two parts, not the same number of repeats (two at least)
/// in every cell.
Checked<GaugeStudy> gauge_study(const std::vector<GaugeReading>& readings);

}  // namespace bq::stats
