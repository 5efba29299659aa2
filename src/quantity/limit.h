#pragma once

namespace bq::inline quantity {

/// A limit is reached by a reading at it or past it, both in one unit. A rounding of a conversion
/// of units, or of a mean of logarithms, is no distance (a relative 1e-9).
[[nodiscard]] constexpr bool reaches_limit(double reading, double limit) {
  return reading >= limit * (1 - 1e-9);
}

}  // namespace bq::inline quantity
