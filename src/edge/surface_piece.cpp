#include "edge/surface_piece.h"

#include <algorithm>
#include <cmath>

namespace bq::inline edge {
namespace {

using Shape = SurfacePiece::Shape;

/// +1 where the arc lies above its centre (bulged), −1 below (hollow).
double sign_of(const SurfacePiece& arc) { return arc.shape == Shape::bulged ? 1 : -1; }

void add_if_inside(Crossings& found, double h, double a, double b) {
  const double margin = 1e-13 * std::max(1.0, std::abs(b));
  if (!(h > a + margin && h < b - margin) || found.count == 2) return;
  if (found.count == 1 && std::abs(found.at_mm[0] - h) <= margin) return;
  found.at_mm[found.count++] = h;
}

/// The two roots of q2·x² + 2·q1·x + q0, without cancellation.
void add_roots(Crossings& found, double q2, double q1, double q0, double shift, double a,
               double b) {
  const double discriminant = q1 * q1 - q2 * q0;
  if (discriminant < 0) return;
  const double far = q1 > 0 ? -q1 - std::sqrt(discriminant) : -q1 + std::sqrt(discriminant);
  double one = far / q2, two = far != 0 ? q0 / far : one;
  if (one > two) std::swap(one, two);
  add_if_inside(found, one + shift, a, b);
  add_if_inside(found, two + shift, a, b);
}

/// Keeps the places where the half circles themselves, not their mirrored halves, agree.
Crossings verified(const Crossings& raw, const SurfacePiece& one, const SurfacePiece& other) {
  Crossings kept;
  for (int i = 0; i < raw.count; ++i) {
    const double h = raw.at_mm[i], y = one.y(h);
    if (std::abs(y - other.y(h)) <=
        1e-7 * std::max({1.0, std::abs(y), one.radius_mm, other.radius_mm}))
      kept.at_mm[kept.count++] = h;
  }
  return kept;
}

Crossings line_with_arc(const SurfacePiece& line, const SurfacePiece& arc, double a, double b) {
  // x = h − centre: (x² + (line − yc)²) = R².
  const double at_centre = line.y(arc.centre_h_mm) - arc.centre_y_mm, m = line.slope;
  Crossings found;
  add_roots(found, 1 + m * m, m * at_centre, at_centre * at_centre - arc.radius_mm * arc.radius_mm,
            arc.centre_h_mm, a, b);
  return verified(found, line, arc);
}

Crossings arc_with_arc(const SurfacePiece& one, const SurfacePiece& other, double a, double b) {
  const double dh = other.centre_h_mm - one.centre_h_mm, dy = other.centre_y_mm - one.centre_y_mm;
  const double square = dh * dh + dy * dy;
  Crossings found;
  if (square == 0) return found;
  const double along =
      (square + one.radius_mm * one.radius_mm - other.radius_mm * other.radius_mm) / (2 * square);
  const double rest = one.radius_mm * one.radius_mm / square - along * along;
  if (rest < 0) return found;
  const double base = one.centre_h_mm + along * dh, step = std::sqrt(rest) * std::abs(dy);
  add_if_inside(found, base - step, a, b);
  add_if_inside(found, base + step, a, b);
  return verified(found, one, other);
}

}  // namespace

SurfacePiece SurfacePiece::straight(double from, double to, double anchor, double y_at_anchor,
                                    double slope, int made_by) {
  SurfacePiece piece;
  piece.from_mm = from;
  piece.to_mm = to;
  piece.anchor_mm = anchor;
  piece.y0_mm = y_at_anchor;
  piece.slope = slope;
  piece.made_by = made_by;
  return piece;
}

SurfacePiece SurfacePiece::arc(double h1, double y1, double h2, double y2, double radius,
                               Shape shape, int made_by) {
  SurfacePiece piece;
  piece.from_mm = h1;
  piece.to_mm = h2;
  piece.shape = shape;
  piece.radius_mm = radius;
  piece.made_by = made_by;
  const double chord_h = h2 - h1, chord_y = y2 - y1, half = 0.5 * std::hypot(chord_h, chord_y);
  const double to_centre = std::sqrt(std::max(0.0, radius * radius - half * half));
  // Unit normal of the chord, outward (positive y).
  const double nh = -chord_y / (2 * half), ny = chord_h / (2 * half);
  const double side = shape == Shape::hollow ? 1 : -1;
  piece.centre_h_mm = 0.5 * (h1 + h2) + side * to_centre * nh;
  piece.centre_y_mm = 0.5 * (y1 + y2) + side * to_centre * ny;
  return piece;
}

double SurfacePiece::y(double h) const {
  if (shape == Shape::straight) return y0_mm + slope * (h - anchor_mm);
  const double x = h - centre_h_mm;
  return centre_y_mm + sign_of(*this) * std::sqrt(std::max(0.0, (radius_mm - x) * (radius_mm + x)));
}

double SurfacePiece::slope_at(double h) const {
  if (shape == Shape::straight) return slope;
  const double x = h - centre_h_mm;
  return -sign_of(*this) * x / std::sqrt(std::max(1e-300, (radius_mm - x) * (radius_mm + x)));
}

double SurfacePiece::area(double a, double b) const {
  if (shape == Shape::straight) return (b - a) * y(0.5 * (a + b));
  // The chord's trapezium and the circular segment between chord and arc.
  const double ya = y(a), yb = y(b), angle = length(a, b) / radius_mm;
  // angle − sin(angle) loses its figures where the angle is small.
  const double excess =
      angle < 0.05 ? angle * angle * angle / 6 * (1 - angle * angle / 20 * (1 - angle * angle / 42))
                   : angle - std::sin(angle);
  return 0.5 * (ya + yb) * (b - a) + sign_of(*this) * 0.5 * radius_mm * radius_mm * excess;
}

double SurfacePiece::length(double a, double b) const {
  if (shape == Shape::straight) return (b - a) * std::sqrt(1 + slope * slope);
  const double chord = std::hypot(b - a, y(b) - y(a));
  return 2 * radius_mm * std::asin(std::min(1.0, chord / (2 * radius_mm)));
}

double SurfacePiece::support(double straightedge_slope) const {
  double best =
      std::max(y(from_mm) - straightedge_slope * from_mm, y(to_mm) - straightedge_slope * to_mm);
  if (shape == Shape::bulged) {
    const double h = centre_h_mm - radius_mm * straightedge_slope /
                                       std::sqrt(1 + straightedge_slope * straightedge_slope);
    if (h > from_mm && h < to_mm) best = std::max(best, y(h) - straightedge_slope * h);
  }
  return best;
}

Crossings crossings(const SurfacePiece& one, const SurfacePiece& other, double a, double b) {
  const bool first = one.shape == Shape::straight, second = other.shape == Shape::straight;
  if (first && second) {
    Crossings found;
    const double apart = one.slope - other.slope;
    if (apart != 0) add_if_inside(found, a + (other.y(a) - one.y(a)) / apart, a, b);
    return found;
  }
  if (first) return line_with_arc(one, other, a, b);
  if (second) return line_with_arc(other, one, a, b);
  return arc_with_arc(one, other, a, b);
}

}  // namespace bq::inline edge
