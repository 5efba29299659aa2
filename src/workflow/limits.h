#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "bluntness/recommendation.h"
#include "quantity/checked.h"

namespace bq {

/// What the tester wants of the edge, as written in a limits file.
struct LimitsFile {
  RecommendLimits limits;
  std::string threshold;           ///< as typed, "" when absent
  std::vector<std::string> notes;  ///< keys that are not known here and were not used
};

/// Reads {"threshold": "450 gf", "medium": "…", "steels": […], "least_angle_deg": 12,
/// "largest_angle_deg": 20, "finest_finish_um": 1, "coarsest_finish_um": 15, "least_life": 500,
/// "angle_step_deg": 1}; every key may be absent. Refused: not JSON, a value of the wrong kind or
/// out of range.
Checked<LimitsFile> parse_limits(std::string_view json);

}  // namespace bq
