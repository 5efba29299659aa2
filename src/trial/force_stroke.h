#pragma once

#include <cstdint>
#include <string>
#include <vector>

namespace bq::inline trial {

/// One stroke of the force cell, whole.
struct ForceStroke {
  std::int64_t id = 0;
  double rate_hz = 1000;
  double resolution_N =
      0.01;               ///< of the cell; samples are kept in steps of it, exactly as they came
  double capacity_N = 0;  ///< 0: not known
  int lost = 0;           ///< lines that could not be read; the sample before stands in their place
  bool cut_off = false;   ///< the line fell silent before the force had come back
  std::vector<float> force_N;
  bool operator==(const ForceStroke&) const = default;
};

}  // namespace bq::inline trial
