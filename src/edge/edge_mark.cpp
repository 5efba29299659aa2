#include "edge/edge_mark.h"

#include <algorithm>
#include <cmath>

#include "quantity/angle.h"

namespace bq::inline edge {
namespace {

constexpr double kTipShare = 0.30;  // of the height

/// Tooth height (share of the mark's) for a finish.
double tooth_share(double finish_um) {
  if (finish_um < 2) return 0;
  return std::clamp(0.018 * std::log2(finish_um), 0.0, 0.085);
}

double drawn_tangent(double per_side_deg) {
  return std::tan(radians(std::min(2 * per_side_deg, 78.0)));
}

/// One side from the apex up to the top, to the right.
std::vector<EdgeMark::Point> side_points(double height, double half_width, double edge_deg,
                                         std::optional<double> micro_deg, double finish_um) {
  std::vector<EdgeMark::Point> points{{0, 0}};
  double x = 0, h = 0;
  const double tip_tangent = drawn_tangent(micro_deg.value_or(edge_deg));
  const double tooth = tooth_share(finish_um) * height;
  const double tip_end = std::min(kTipShare * height, half_width / tip_tangent);
  // Teeth along the tip, then smooth steel.
  const int count = tooth > 0 ? std::max(3, int(tip_end / (1.1 * tooth))) : 1;
  for (int i = 0; i < count; ++i) {
    // A tooth stands a little proud of the bevel, then drops back to it.
    if (tooth > 0 && i > 0) points.emplace_back(x + 0.55 * tooth, h + 0.1 * tooth);
    h = tip_end * (i + 1) / count;
    x = h * tip_tangent;
    points.emplace_back(x, h);
  }
  const double rest = std::max(0.0, half_width - x) / drawn_tangent(edge_deg);
  const double top = std::min(height, h + rest);
  x = std::min(x + (top - h) * drawn_tangent(edge_deg), half_width);
  points.emplace_back(x, top);
  points.emplace_back(x, height);
  return points;
}

}  // namespace

EdgeMark edge_mark(const EdgeGeometry& geometry, const std::optional<Finish>& finish, double width,
                   double height) {
  const double half = width / 2;
  const auto& micro = geometry.micro();
  const auto left = side_points(height, half, geometry.edge().left_deg,
                                micro ? std::optional(micro->left_deg) : std::nullopt,
                                finish ? finish->left_um : 0);
  const auto right = side_points(height, half, geometry.edge().right_deg,
                                 micro ? std::optional(micro->right_deg) : std::nullopt,
                                 finish ? finish->right_um : 0);
  EdgeMark out;
  for (auto point = left.rbegin(); point != left.rend(); ++point)
    out.outline.emplace_back(-point->first, point->second);
  out.outline.insert(out.outline.end(), right.begin() + 1, right.end());
  if (micro) {
    const auto where = [&](double deg) {
      const double x = std::min(half, kTipShare * height * drawn_tangent(deg));
      return EdgeMark::Point{x, x / drawn_tangent(deg)};
    };
    const EdgeMark::Point l = where(micro->left_deg), r = where(micro->right_deg);
    out.micro = std::pair(EdgeMark::Point{-l.first, l.second}, r);
  }
  return out;
}

}  // namespace bq::inline edge
