#pragma once

#include <optional>
#include <vector>

#include "stats/censored_regression.h"

namespace bq::stats {

/// What is known of the logarithms of both parts of a pair.
struct BoundedPair {
  Bounds first, second;
};

/// The ratio second/first within pairs of which some parts are bounds ("more than").
struct BoundedPairs {
  double log_ratio = 0;
  std::optional<double> low, high;  ///< of ln ratio; empty where the pairs do not bound it
  double p = 1;                     ///< two-sided, of a ratio of 1
  int complete = 0;                 ///< pairs with both parts exact
  bool by_order = false;            ///< from the order of the pairs alone; else by the model
};

/// Pairs with which the model is used; with fewer complete ones it cannot know how far pairs
/// differ.
inline constexpr int kCompletePairs = 3;

/// With so many complete pairs: a normal pair effect, normal errors, profile
/// likelihood with the cutoff m·ln(1 + t²/(m − 1)), m the complete pairs only, for a bound tells
/// little of how far pairs differ; with nothing bounded this is the paired t test. Pairs of which
/// both parts are bounds take part: leaving them out would favour short lives.
/// Else the interval for the median ratio by the order of the pairs (binomial, no shape assumed);
/// the estimate is then the median of what is known, and an end is given only where the level can
/// be reached. Refused: fewer than two pairs, no exact part at all, a likelihood without a maximum.
Checked<BoundedPairs> bounded_pairs(const std::vector<BoundedPair>& pairs, double level);

}  // namespace bq::stats
