#pragma once

#include <algorithm>
#include <vector>

namespace bq::inline trial {

/// Median of at least one value; the mean of the two middle ones when their number is even.
inline double median_of(std::vector<double> values) {
  const auto middle = values.begin() + std::ptrdiff_t(values.size() / 2);
  std::nth_element(values.begin(), middle, values.end());
  if (values.size() % 2 == 1) return *middle;
  return 0.5 * (*middle + *std::max_element(values.begin(), middle));
}

}  // namespace bq::inline trial
