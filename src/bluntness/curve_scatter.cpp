// How checkpoints lie about a curve, and what their scatter is worth when it is added up over runs.
#include <algorithm>
#include <cmath>

#include "bluntness/curve_fit.h"

namespace bq::inline bluntness {

ScatterSums& ScatterSums::operator+=(const ScatterSums& other) {
  within_sum += other.within_sum;
  within_dof += other.within_dof;
  between_sum += other.between_sum;
  between_dof += other.between_dof;
  lag_sum += other.lag_sum;
  lag_within += other.lag_within;
  for (std::size_t i = 0; i < kNeighbourGrid.size(); ++i) {
    between_share[i] += other.between_share[i];
    lag_share[i] += other.lag_share[i];
  }
  return *this;
}

double ScatterSums::within_variance() const { return within_dof > 0 ? within_sum / within_dof : 0; }

double ScatterSums::between_share_at() const {
  for (std::size_t i = 1; i < kNeighbourGrid.size(); ++i)
    if (correlation < kNeighbourGrid[i]) {
      const double part =
          (correlation - kNeighbourGrid[i - 1]) / (kNeighbourGrid[i] - kNeighbourGrid[i - 1]);
      return between_share[i - 1] + part * (between_share[i] - between_share[i - 1]);
    }
  return between_share.back();
}

double ScatterSums::checkpoint_variance() const {
  if (!(within_dof > 0) || !(between_dof > 0)) return 0;
  return std::max(
      0.0, (between_sum - within_variance() * between_dof) / std::max(1e-9, between_share_at()));
}

CurveResiduals residuals_about(const CurveFit& fit, const CheckpointTable& table) {
  CurveResiduals all;
  ScatterSums& out = all.sums;
  out.within_sum = table.within_sum;
  out.within_dof = double(table.readings) - double(table.checkpoints);
  const auto m = Eigen::Index(table.checkpoints);
  Eigen::MatrixXd design(m, 4);
  Eigen::VectorXd root(m), residual(m);
  for (Eigen::Index i = 0; i < m; ++i) {
    const auto g = fit.curve.log_gradient(table.cuts[std::size_t(i)], fit.reference_cuts);
    root[i] = std::sqrt(table.weight[std::size_t(i)]);
    design.row(i) = root[i] * Eigen::RowVector4d(g[0], g[1], g[2], g[3]);
    residual[i] = root[i] * (table.mean_log[std::size_t(i)] -
                             std::log(fit.curve.at(table.cuts[std::size_t(i)])));
  }
  // What is left of deviations after the fit, in units of √w.
  const Eigen::MatrixXd left =
      Eigen::MatrixXd::Identity(m, m) - design * fit.inverse_information * design.transpose();
  const Eigen::MatrixXd kept = left * left.transpose();
  out.between_dof = kept.trace();
  out.lag_within = m > 1 ? kept.diagonal(1).sum() : 0;
  out.between_sum = residual.squaredNorm();
  constexpr double kNone = 1e-6;
  for (Eigen::Index i = 0; i < m; ++i)
    all.standardised.push_back(kept(i, i) > kNone ? residual[i] / std::sqrt(kept(i, i)) : 0);
  for (Eigen::Index i = 1; i + 1 < m; ++i) {
    Eigen::RowVectorXd bend = Eigen::RowVectorXd::Zero(m);
    bend[i - 1] = bend[i + 1] = -0.5;
    bend[i] = 1;
    const double expected = bend * kept * bend.transpose();
    if (expected > kNone) all.rough_squares.push_back(std::pow(bend * residual, 2) / expected);
  }
  for (Eigen::Index i = 0; i + 1 < m; ++i) out.lag_sum += residual[i] * residual[i + 1];
  // What deviations with a covariance S leave: Σ(L·S·Lᵀ)ᵢᵢ and Σ(L·S·Lᵀ)ᵢ,ᵢ₊₁, as sums over S, so
  // that every correlation costs m² and not m³. L is symmetric.
  const Eigen::MatrixXd neighbours =
      m > 1 ? Eigen::MatrixXd(left.topRows(m - 1).transpose() * left.bottomRows(m - 1))
            : Eigen::MatrixXd::Zero(m, m);
  std::vector<double> power(static_cast<std::size_t>(m));
  for (std::size_t k = 0; k < kNeighbourGrid.size(); ++k) {
    for (std::size_t d = 0; d < power.size(); ++d)
      power[d] = std::pow(kNeighbourGrid[k], double(d));
    for (Eigen::Index i = 0; i < m; ++i)
      for (Eigen::Index j = 0; j < m; ++j) {
        const double scatter = root[i] * root[j] * power[std::size_t(std::abs(i - j))];
        out.between_share[k] += scatter * kept(i, j);
        out.lag_share[k] += scatter * neighbours(i, j);
      }
  }
  return all;
}

Eigen::Matrix4d correlated_information(const CurveFit& fit, const CheckpointTable& table,
                                       double correlation) {
  std::vector<Eigen::Vector4d> weighted;
  for (std::size_t i = 0; i < table.checkpoints; ++i) {
    const auto g = fit.curve.log_gradient(table.cuts[i], fit.reference_cuts);
    weighted.emplace_back(table.weight[i] * Eigen::Vector4d(g[0], g[1], g[2], g[3]));
  }
  Eigen::Matrix4d out = Eigen::Matrix4d::Zero();
  for (std::size_t i = 0; i < weighted.size(); ++i)
    for (std::size_t j = 0; j < weighted.size(); ++j)
      out += std::pow(correlation, std::fabs(double(i) - double(j))) * weighted[i] *
             weighted[j].transpose();
  return out;
}

}  // namespace bq::inline bluntness
