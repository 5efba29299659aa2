#pragma once

#include <optional>

#include "quantity/checked.h"

namespace bq::stats {

/// Chance that a two-sided t test at 1 − level rejects when the statistic is non-central t with
/// this noncentrality: P(T > t) + P(T < −t). 0 < level < 1, degrees_of_freedom > 0. Accuracy about
/// 1e-9 (Boost.Math's non-central t); beyond a noncentrality of 37 the answer is 1.
double t_power(double noncentrality, double degrees_of_freedom, double level);

/// The same for an F test with `numerator` and `denominator` degrees of freedom.
double f_power(double noncentrality, double numerator, double denominator, double level);

/// Chance to see a life ratio between two groups of `runs_each` runs (>= 2) whose ln life has the
/// between-run SD `sd` (> 0). ratio > 0; at 1 it is 1 − level, the share of false alarms.
/// Refused: values outside these ranges.
Checked<double> two_group_power(int runs_each, double sd, double ratio, double level);

/// Chance to see a mean change `ratio` in n pairs whose ln ratios have the SD `sd`.
Checked<double> paired_power(int pairs, double sd, double ratio, double level);

/// Chance that the interval at `level` of a mean ln ratio lies inside ±ln margin, so that the two
/// can be called the same for practical purposes (two one-sided tests; each at (1 − level)/2). The
/// true ratio is `ratio`. margin > 1. Computed from the joint law of mean and SD by quadrature,
/// error below 1e-8.
Checked<double> sameness_power(int pairs, double sd, double margin, double ratio, double level);

/// The noncentrality at which t_power reaches `power`; between the false alarm rate and 1.
double noncentrality_for(double power, double degrees_of_freedom, double level);

/// A share seen in repeated trials with its exact interval (Clopper & Pearson 1934).
struct Share {
  double value = 0, low = 0, high = 1;
};
/// 0 <= hits <= of; of = 0 gives 0 with the interval 0 … 1.
Share share_of(long hits, long of, double level = 0.95);

/// Readings needed so that the interval at `level` of a checkpoint's mean is no wider than
/// ±precision (both relative): the least m with t(m − 1)·cv/√m <= precision (DOMAIN §5), searched
/// on t itself. cv >= 0, precision > 0. Empty beyond `most`.
std::optional<int> readings_needed(double cv, double precision, double level, int most = 1000);

}  // namespace bq::stats
