#include "lens/straight_line.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <numbers>

namespace bq::inline lens {

double StraightLine::angle_deg() const {
  double deg = std::atan2(along.y, along.x) * 180 / std::numbers::pi;
  if (deg > 90) deg -= 180;
  if (deg <= -90) deg += 180;
  return deg;
}

double upper_median(std::vector<double> values) {
  if (values.empty()) return 0;
  const auto middle = values.begin() + std::ptrdiff_t(values.size() / 2);
  std::nth_element(values.begin(), middle, values.end());
  return *middle;
}

std::optional<LineFit> fit_line(const std::vector<Spot>& points) {
  if (points.size() < 3) return std::nullopt;
  std::vector<double> weights(points.size(), 1), off(points.size());
  LineFit out;
  out.points = int(points.size());
  for (int round = 0; round < 12; ++round) {
    double w = 0, sx = 0, sy = 0;
    for (std::size_t i = 0; i < points.size(); ++i) {
      w += weights[i];
      sx += weights[i] * points[i].x;
      sy += weights[i] * points[i].y;
    }
    const Spot middle{sx / w, sy / w};
    double xx = 0, xy = 0, yy = 0;
    for (std::size_t i = 0; i < points.size(); ++i) {
      const Spot d = points[i] - middle;
      xx += weights[i] * d.x * d.x;
      xy += weights[i] * d.x * d.y;
      yy += weights[i] * d.y * d.y;
    }
    if (xx + yy < 1e-9) return std::nullopt;
    const double turn = 0.5 * std::atan2(2 * xy, xx - yy);
    out.line = {middle, {std::cos(turn), std::sin(turn)}};
    std::vector<double> sizes(points.size());
    for (std::size_t i = 0; i < points.size(); ++i) {
      off[i] = out.line.off(points[i]);
      sizes[i] = std::abs(off[i]);
    }
    const double sd = std::max(1.4826 * upper_median(sizes), 1e-6), bend = 1.5 * sd;
    for (std::size_t i = 0; i < points.size(); ++i)
      weights[i] = sizes[i] > 3.5 * sd && round > 3 ? 0 : sizes[i] <= bend ? 1 : bend / sizes[i];
  }
  double sum = 0;
  int whole = 0;
  for (std::size_t i = 0; i < points.size(); ++i)
    if (weights[i] > 0) {
      sum += off[i] * off[i];
      ++whole;
    }
  out.scatter_px = whole > 2 ? std::sqrt(sum / (whole - 2)) : 0;
  out.error_px = out.scatter_px / std::sqrt(double(std::max(1, whole)));
  return out;
}

std::optional<BendFit> fit_bend(const std::vector<Spot>& points) {
  if (points.size() < 6) return std::nullopt;
  // In units of the points' own spread: squares of thousands of pixels would lose digits.
  double farthest = 0;
  for (const Spot& p : points) farthest = std::max(farthest, std::abs(p.x));
  if (farthest < 1e-9) return std::nullopt;
  Eigen::MatrixXd x(Eigen::Index(points.size()), 3);
  Eigen::VectorXd y(x.rows());
  for (Eigen::Index i = 0; i < x.rows(); ++i) {
    const double place = points[std::size_t(i)].x / farthest;
    x.row(i) << 1, place, place * place;
    y(i) = points[std::size_t(i)].y;
  }
  Eigen::VectorXd weights = Eigen::VectorXd::Ones(x.rows());
  Eigen::Vector3d fitted = Eigen::Vector3d::Zero();
  Eigen::Matrix3d inverse;
  double sd = 0;
  for (int round = 0; round < 10; ++round) {
    const Eigen::Matrix3d normal = x.transpose() * weights.asDiagonal() * x;
    inverse = normal.inverse();
    if (!inverse.allFinite()) return std::nullopt;
    fitted = inverse * (x.transpose() * weights.asDiagonal() * y);
    const Eigen::VectorXd off = (y - x * fitted).cwiseAbs();
    sd = std::max(0.02, 1.4826 * upper_median({off.data(), off.data() + off.size()}));
    for (Eigen::Index i = 0; i < off.size(); ++i)
      weights(i) = off(i) <= 1.5 * sd ? 1 : off(i) > 4 * sd && round > 2 ? 0 : 1.5 * sd / off(i);
  }
  const double square = farthest * farthest;
  return BendFit{fitted(0),
                 fitted(1) / farthest,
                 fitted(2) / square,
                 sd * std::sqrt(inverse(0, 0)),
                 sd * std::sqrt(inverse(2, 2)) / square,
                 sd};
}

}  // namespace bq::inline lens
