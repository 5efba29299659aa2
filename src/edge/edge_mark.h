#pragma once

#include <optional>
#include <utility>
#include <vector>

#include "edge/edge_geometry.h"

namespace bq::inline edge {

/// The program's mark of an edge, in the window and on paper: a small cross-section, apex down.
/// Angles are drawn doubled so that 12° and 16° differ at a glance; the micro-bevel is the steeper
/// tip; the finish shows as teeth along the apex, larger for a coarser finish, none below 2 µm.
struct EdgeMark {
  using Point = std::pair<double, double>;  ///< right of the apex, above it
  std::vector<Point> outline;  ///< from the upper left over the apex to the upper right
  std::optional<std::pair<Point, Point>> micro;  ///< the line where the micro-bevel begins
};
/// In a box of this size (> 0, any unit), the apex in the middle of its foot.
EdgeMark edge_mark(const EdgeGeometry& geometry, const std::optional<Finish>& finish, double width,
                   double height);

}  // namespace bq::inline edge
