#pragma once

#include <span>
#include <string_view>
#include <vector>

#include "quantity/checked.h"

namespace bq::inline edge {

struct OutlinePoint {
  double x_mm = 0, y_mm = 0;
  bool operator==(const OutlinePoint&) const = default;
};

/// A place on the cutting edge seen from the side, with the unit tangent there.
struct EdgePoint {
  double x_mm = 0, y_mm = 0;
  double tangent_x = 1, tangent_y = 0;
};

/// The cutting edge in the blade's plane: x along the blade from the heel, y across it. Smooth and
/// without corners.
class EdgeOutline {
 public:
  /// A smooth curve through points: cubic splines of x and y over the chord length, third
  /// derivative continuous at the second and the last but one point (not-a-knot). Position is off
  /// by O(h⁴), the tangent by O(h³) of the spacing h: on an arc of 300 mm radius with points 5 mm
  /// apart the clamp angle is off by less than 1e-6°. Refused: fewer than 2 points, more than 5000,
  /// equal neighbours, numbers that are not finite, a line that crosses itself.
  static Checked<EdgeOutline> through(std::span<const OutlinePoint> points);
  /// A straight edge, exact.
  static EdgeOutline straight(OutlinePoint from, OutlinePoint to);
  /// An arc, exact; angles from the x axis in degrees, counter-clockwise.
  static EdgeOutline arc(OutlinePoint centre, double radius_mm, double from_deg, double to_deg);

  /// Place at a share of the way, 0 (heel) to 1 (tip); by chord length for point outlines.
  [[nodiscard]] EdgePoint at(double share) const;
  /// First place from the heel with this x. Refused when the edge does not reach it.
  [[nodiscard]] Checked<EdgePoint> at_x(double x_mm) const;
  /// `count` >= 2 places at even shares.
  [[nodiscard]] std::vector<EdgePoint> sample(int count) const;
  [[nodiscard]] const std::vector<OutlinePoint>& points() const { return points_; }

 private:
  EdgeOutline() = default;
  enum class Shape { points, straight, arc };
  Shape shape_ = Shape::points;
  std::vector<OutlinePoint> points_;
  std::vector<double> knots_;            ///< chord length up to each point
  std::vector<double> bend_x_, bend_y_;  ///< second derivatives at the knots
  OutlinePoint centre_;
  double radius_mm_ = 0, from_rad_ = 0, to_rad_ = 0;
};

/// Side profiles to start from; made-up proportions over a length, x from 0 (heel) to length (tip).
enum class ProfilePreset { straight, drop, belly, recurve, hooked };
std::string_view name_of(ProfilePreset preset);
std::vector<OutlinePoint> preset_outline(ProfilePreset preset, double length_mm);

/// Points of the first path in an SVG document or of bare path data: commands M, L, H, V, C, S, Q,
/// T, Z, absolute and relative; curves are cut into 16 steps. Units are taken as mm times `scale`;
/// y is turned to point up. Refused with the place: anything else.
Checked<std::vector<OutlinePoint>> outline_from_svg(std::string_view text, double scale);
/// Two columns x, y in mm, separated by comma, semicolon, tab or blanks; a first line of words is a
/// head. Refused with the line.
Checked<std::vector<OutlinePoint>> outline_from_table(std::string_view text);

}  // namespace bq::inline edge
