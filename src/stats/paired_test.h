#pragma once

#include <optional>
#include <span>

#include "quantity/checked.h"

namespace bq::stats {

struct Pair {
  double before = 0, after = 0;  ///< both > 0
};

/// A change that happens by a factor, from pairs that share everything else.
struct PairedTest {
  int n = 0;                            ///< pairs
  double ratio = 1;                     ///< geometric mean of after/before
  std::optional<double> low, high;      ///< of the ratio; empty with one pair
  std::optional<double> t;              ///< empty with one pair, and where all ratios are alike
  int df = 0;                           ///< n − 1
  std::optional<double> p;              ///< two-sided, of t
  std::optional<double> signed_rank_p;  ///< two-sided Wilcoxon; empty when every pair is unchanged
  bool signed_rank_exact = true;        ///< false above kExactPairs changed pairs
  int unchanged = 0;                    ///< pairs the signed rank test has to leave out
};

/// Up to here the signed rank p is exact; above, the normal approximation with ties and continuity
/// corrected (error below 1e-3).
inline constexpr int kExactPairs = 200;

/// t test and signed rank test on ln(after/before). 0 < level < 1.
/// The signed rank distribution is the exact permutation distribution of the mid-ranks that
/// occurred (every one of the 2^m sign patterns equally likely), counted by convolution; changed
/// pairs only (Wilcoxon's rule; `unchanged` says how many were left out). Two-sided p = twice the
/// smaller tail, at most 1. Logs that differ by less than 1e-12 of the largest are ties. Refused:
/// no pair, a value that is not positive and finite.
Checked<PairedTest> paired_test(std::span<const Pair> pairs, double level = 0.95);

/// The exact two-sided p alone, for differences that are not 0. Used by paired_test.
double signed_rank_p(std::span<const double> differences);

}  // namespace bq::stats
