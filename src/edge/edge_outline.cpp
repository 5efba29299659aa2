#include "edge/edge_outline.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "quantity/angle.h"
#include "quantity/said.h"

namespace bq::inline edge {
namespace {

/// Second derivatives of the cubic spline through (t, f) with not-a-knot ends; 3 points give the
/// parabola, 2 the straight line.
std::vector<double> spline_bends(const std::vector<double>& t, const std::vector<double>& f) {
  const std::size_t n = t.size();
  std::vector<double> bends(n, 0.0);
  if (n == 2) return bends;
  const auto h = [&](std::size_t i) { return t[i + 1] - t[i]; };
  const auto kink = [&](std::size_t i) {
    return 6 * ((f[i + 1] - f[i]) / h(i) - (f[i] - f[i - 1]) / h(i - 1));
  };
  if (n == 3) {
    const double bend = kink(1) / (3 * (h(0) + h(1)));
    return {bend, bend, bend};
  }
  // Tridiagonal in the inner bends; the outer two are extrapolated straight from their neighbours.
  std::vector<double> lower(n), diagonal(n), upper(n), right(n);
  for (std::size_t i = 1; i + 1 < n; ++i) {
    lower[i] = h(i - 1);
    diagonal[i] = 2 * (h(i - 1) + h(i));
    upper[i] = h(i);
    right[i] = kink(i);
  }
  const double first = h(0) / h(1), last = h(n - 2) / h(n - 3);
  diagonal[1] += lower[1] * (1 + first);
  upper[1] -= lower[1] * first;
  diagonal[n - 2] += upper[n - 2] * (1 + last);
  lower[n - 2] -= upper[n - 2] * last;
  for (std::size_t i = 2; i + 1 < n; ++i) {
    const double factor = lower[i] / diagonal[i - 1];
    diagonal[i] -= factor * upper[i - 1];
    right[i] -= factor * right[i - 1];
  }
  bends[n - 2] = right[n - 2] / diagonal[n - 2];
  for (std::size_t i = n - 2; i-- > 1;)
    bends[i] = (right[i] - upper[i] * bends[i + 1]) / diagonal[i];
  bends[0] = bends[1] - first * (bends[2] - bends[1]);
  bends[n - 1] = bends[n - 2] + last * (bends[n - 2] - bends[n - 3]);
  return bends;
}

double cross(OutlinePoint o, OutlinePoint a, OutlinePoint b) {
  return (a.x_mm - o.x_mm) * (b.y_mm - o.y_mm) - (a.y_mm - o.y_mm) * (b.x_mm - o.x_mm);
}

bool segments_cross(OutlinePoint a, OutlinePoint b, OutlinePoint c, OutlinePoint d) {
  if (std::max(a.x_mm, b.x_mm) < std::min(c.x_mm, d.x_mm) ||
      std::max(c.x_mm, d.x_mm) < std::min(a.x_mm, b.x_mm))
    return false;
  const double one = cross(a, b, c), two = cross(a, b, d), three = cross(c, d, a),
               four = cross(c, d, b);
  return one * two < 0 && three * four < 0;
}

}  // namespace

Checked<EdgeOutline> EdgeOutline::through(std::span<const OutlinePoint> points) {
  if (points.size() < 2) return Refusal{said("an outline needs at least two points")};
  if (points.size() > 5000) return Refusal{said("an outline takes at most 5000 points")};
  EdgeOutline out;
  out.points_.assign(points.begin(), points.end());
  out.knots_.push_back(0);
  for (std::size_t i = 0; i < points.size(); ++i) {
    const std::string which = said("outline point {i}", {{"i", std::to_string(i + 1)}});
    if (!std::isfinite(points[i].x_mm) || !std::isfinite(points[i].y_mm) ||
        std::abs(points[i].x_mm) > 1e4 || std::abs(points[i].y_mm) > 1e4)
      return Refusal{said("{which} is not within 10 m of the origin", {{"which", which}}), i};
    if (i == 0) continue;
    const double step =
        std::hypot(points[i].x_mm - points[i - 1].x_mm, points[i].y_mm - points[i - 1].y_mm);
    if (!(step > 1e-9))
      return Refusal{said("{which} is the same as the one before", {{"which", which}}), i};
    out.knots_.push_back(out.knots_.back() + step);
  }
  for (std::size_t i = 0; i + 1 < points.size(); ++i)
    for (std::size_t j = i + 2; j + 1 < points.size(); ++j)
      if (segments_cross(points[i], points[i + 1], points[j], points[j + 1]))
        return Refusal{said("the outline crosses itself between points {i} and {j}",
                            {{"i", std::to_string(i + 1)}, {"j", std::to_string(j + 2)}}),
                       i};
  std::vector<double> xs, ys;
  for (const auto& point : points) {
    xs.push_back(point.x_mm);
    ys.push_back(point.y_mm);
  }
  out.bend_x_ = spline_bends(out.knots_, xs);
  out.bend_y_ = spline_bends(out.knots_, ys);
  return out;
}

EdgeOutline EdgeOutline::straight(OutlinePoint from, OutlinePoint to) {
  EdgeOutline out;
  out.shape_ = Shape::straight;
  out.points_ = {from, to};
  return out;
}

EdgeOutline EdgeOutline::arc(OutlinePoint centre, double radius_mm, double from_deg,
                             double to_deg) {
  EdgeOutline out;
  out.shape_ = Shape::arc;
  out.centre_ = centre;
  out.radius_mm_ = radius_mm;
  out.from_rad_ = radians(from_deg);
  out.to_rad_ = radians(to_deg);
  for (int i = 0; i <= 64; ++i) {
    const double angle = out.from_rad_ + (out.to_rad_ - out.from_rad_) * i / 64;
    out.points_.push_back(
        {centre.x_mm + radius_mm * std::cos(angle), centre.y_mm + radius_mm * std::sin(angle)});
  }
  return out;
}

EdgePoint EdgeOutline::at(double share) const {
  share = std::clamp(share, 0.0, 1.0);
  if (shape_ == Shape::straight) {
    const auto &a = points_[0], &b = points_[1];
    const double dx = b.x_mm - a.x_mm, dy = b.y_mm - a.y_mm, length = std::hypot(dx, dy);
    return {a.x_mm + share * dx, a.y_mm + share * dy, dx / length, dy / length};
  }
  if (shape_ == Shape::arc) {
    const double angle = from_rad_ + share * (to_rad_ - from_rad_),
                 way = to_rad_ > from_rad_ ? 1 : -1;
    const double c = std::cos(angle), s = std::sin(angle);
    return {centre_.x_mm + radius_mm_ * c, centre_.y_mm + radius_mm_ * s, -way * s, way * c};
  }
  const double t = share * knots_.back();
  auto above = std::upper_bound(knots_.begin() + 1, knots_.end() - 1, t);
  const auto i = std::size_t(above - knots_.begin()) - 1;
  const double h = knots_[i + 1] - knots_[i], b = (t - knots_[i]) / h, a = 1 - b;
  const auto value = [&](double f0, double f1, double m0, double m1) {
    return a * f0 + b * f1 + ((a * a * a - a) * m0 + (b * b * b - b) * m1) * h * h / 6;
  };
  const auto rate = [&](double f0, double f1, double m0, double m1) {
    return (f1 - f0) / h + ((1 - 3 * a * a) * m0 + (3 * b * b - 1) * m1) * h / 6;
  };
  const auto &p = points_[i], &q = points_[i + 1];
  const double dx = rate(p.x_mm, q.x_mm, bend_x_[i], bend_x_[i + 1]),
               dy = rate(p.y_mm, q.y_mm, bend_y_[i], bend_y_[i + 1]);
  const double length = std::hypot(dx, dy);
  return {value(p.x_mm, q.x_mm, bend_x_[i], bend_x_[i + 1]),
          value(p.y_mm, q.y_mm, bend_y_[i], bend_y_[i + 1]), dx / length, dy / length};
}

Checked<EdgePoint> EdgeOutline::at_x(double x_mm) const {
  // Walk from the heel in steps finer than the points, then halve.
  const int steps = std::max(256, 4 * int(points_.size()));
  double from = 0, x_from = at(0).x_mm;
  if (x_from == x_mm) return at(0);
  for (int i = 1; i <= steps; ++i) {
    const double to = double(i) / steps, x_to = at(to).x_mm;
    if ((x_from - x_mm) * (x_to - x_mm) <= 0) {
      double low = from, high = to;
      const bool rising = x_to > x_from;
      for (int k = 0; k < 100 && high - low > 1e-15; ++k) {
        const double middle = 0.5 * (low + high);
        ((at(middle).x_mm < x_mm) == rising ? low : high) = middle;
      }
      return at(0.5 * (low + high));
    }
    from = to;
    x_from = x_to;
  }
  return Refusal{said("the edge does not reach x = {x_mm} mm", {{"x_mm", std::to_string(x_mm)}})};
}

std::vector<EdgePoint> EdgeOutline::sample(int count) const {
  std::vector<EdgePoint> out;
  out.reserve(std::size_t(count));
  for (int i = 0; i < count; ++i) out.push_back(at(double(i) / (count - 1)));
  return out;
}

std::string_view name_of(ProfilePreset preset) {
  return std::array<std::string_view, 5>{"straight", "drop", "belly", "recurve",
                                         "hooked"}[std::size_t(preset)];
}

std::vector<OutlinePoint> preset_outline(ProfilePreset preset, double length_mm) {
  std::vector<OutlinePoint> out;
  for (int i = 0; i <= 40; ++i) {
    const double u = i / 40.0;
    double rise = 0;  // share of the length by which the edge lies above the heel's line
    switch (preset) {
      case ProfilePreset::straight:
        rise = 0;
        break;
      case ProfilePreset::drop:
        rise = u < 0.55 ? 0 : 0.95 * (u - 0.55) * (u - 0.55);
        break;
      case ProfilePreset::belly:
        rise = 0.19 * u * u + 0.05 * u * u * u * u;
        break;
      case ProfilePreset::recurve:
        rise = 0.035 * std::sin(2 * std::numbers::pi * u * 0.9) + 0.08 * u * u * u;
        break;
      case ProfilePreset::hooked:
        rise = -0.16 * u * u * u;
        break;
    }
    out.push_back({u * length_mm, rise * length_mm});
  }
  return out;
}

}  // namespace bq::inline edge
