#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace bq::inline edge {

/// Where testers customarily start for a kind of work: a convention, not evidence of this bench.
/// Authors differ; the spread holds what is commonly said, the range the middle of it. Angles per
/// side at the apex; finishes as particle size. All round figures.
struct StartingRange {
  std::string_view work;  ///< "slicing fibrous or abrasive sheet"
  std::string_view mode;  ///< "slice", "push", "chop": as cut modes are named
  double angle_from_deg, angle_to_deg, angle_least_deg, angle_most_deg;
  double finish_from_um, finish_to_um, finish_least_um, finish_most_um;
  std::string_view words;  ///< why, and what the other school says
};
/// In the order shown.
const std::vector<StartingRange>& starting_ranges();

}  // namespace bq::inline edge
