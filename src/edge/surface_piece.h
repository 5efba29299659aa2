#pragma once

namespace bq::inline edge {

/// Who made a piece of surface: a grind's place in the list (0, 1, …) or one of these.
inline constexpr int kMadeByBlank = -1, kMadeByMeasurement = -2;

/// A piece of one side of a section: the half-thickness y (mm, outward from the centre plane, may
/// be negative where a grind crossed it) over h (mm, from the blank's lower edge toward the spine).
/// Either straight or a circular arc; exact at any magnification.
struct SurfacePiece {
  enum class Shape { straight, hollow, bulged };
  double from_mm = 0, to_mm = 0;  ///< from < to
  Shape shape = Shape::straight;
  double y0_mm = 0, slope = 0;  ///< straight: y = y0 + slope·(h − anchor)
  double anchor_mm = 0;
  double centre_h_mm = 0, centre_y_mm = 0, radius_mm = 0;  ///< arcs
  int made_by = kMadeByBlank;

  static SurfacePiece straight(double from, double to, double anchor, double y_at_anchor,
                               double slope, int made_by);
  /// The arc of this radius through (h1, y1) and (h2, y2), h1 < h2: hollow sinks below the chord,
  /// bulged rises above it. The chord must not be longer than the diameter.
  static SurfacePiece arc(double h1, double y1, double h2, double y2, double radius, Shape shape,
                          int made_by);

  [[nodiscard]] double y(double h) const;
  [[nodiscard]] double slope_at(double h) const;
  /// ∫ y dh over [a, b] (mm²); exact.
  [[nodiscard]] double area(double a, double b) const;
  /// Length along the face over [a, b] (mm).
  [[nodiscard]] double length(double a, double b) const;
  /// Largest y − h·slope over the piece: where a straightedge of this slope first touches it.
  [[nodiscard]] double support(double straightedge_slope) const;
};

/// Where two pieces have the same y strictly inside (a, b): up to two places, rising.
struct Crossings {
  int count = 0;
  double at_mm[2] = {0, 0};
};
Crossings crossings(const SurfacePiece& one, const SurfacePiece& other, double a, double b);

}  // namespace bq::inline edge
