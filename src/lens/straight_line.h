#pragma once

#include <optional>
#include <vector>

#include "lens/grey_image.h"

namespace bq::inline lens {

/// A straight line in a picture: through `at`, along the unit vector `along`.
struct StraightLine {
  Spot at, along;
  /// Signed distance (px) of a point, positive to the side of turned(along).
  [[nodiscard]] double off(Spot p) const { return dot(p - at, turned(along)); }
  [[nodiscard]] double angle_deg() const;  ///< of `along`, in (-90°, 90°]
};

/// A line through points by Huber's weights (1.5 × robust SD of the distances), least squares of
/// the distances square to it.
struct LineFit {
  StraightLine line;
  double scatter_px = 0;  ///< SD of the distances of the points that weigh fully
  double error_px = 0;    ///< standard error of the line's place at the middle of the points
  int points = 0;
};
/// Empty with fewer than three points or when they coincide.
std::optional<LineFit> fit_line(const std::vector<Spot>& points);

/// A parabola through points: y = at_0 + slope·x + bend·x².
struct BendFit {
  double at_0 = 0, slope = 0, bend = 0;
  double error_at_0 = 0, error_bend = 0;  ///< standard errors, points taken as independent
  double scatter = 0;                     ///< robust SD about it
};
/// By weights of Huber's kind that leave out what lies beyond four robust SDs. Empty with fewer
/// than six points, or all at one place.
std::optional<BendFit> fit_bend(const std::vector<Spot>& points);

/// Median (upper of two); empty input gives 0.
double upper_median(std::vector<double> values);

}  // namespace bq::inline lens
