#include "stats/dense.h"

#include <Eigen/Cholesky>
#include <Eigen/Eigenvalues>
#include <Eigen/LU>
#include <Eigen/QR>
#include <Eigen/SVD>
#include <cmath>
#include <limits>

namespace bq::stats {

Eigen::VectorXd solve_symmetric(const Eigen::MatrixXd& a, const Eigen::VectorXd& b) {
  return a.ldlt().solve(b);
}

Eigen::MatrixXd inverse_symmetric(const Eigen::MatrixXd& a) {
  return a.ldlt().solve(Eigen::MatrixXd::Identity(a.rows(), a.cols()));
}

std::optional<Eigen::MatrixXd> inverse_if_positive(const Eigen::MatrixXd& a) {
  const Eigen::LDLT<Eigen::MatrixXd> factor(a);
  if (!factor.isPositive()) return std::nullopt;
  return factor.solve(Eigen::MatrixXd::Identity(a.rows(), a.cols()));
}

Eigen::MatrixXd inverse_positive(const Eigen::MatrixXd& a) {
  return a.llt().solve(Eigen::MatrixXd::Identity(a.rows(), a.cols()));
}

double log_determinant_symmetric(const Eigen::MatrixXd& a) {
  constexpr double kNothing = -std::numeric_limits<double>::infinity();
  const Eigen::LDLT<Eigen::MatrixXd> factor(a);
  if (factor.info() != Eigen::Success) return kNothing;
  const auto diagonal = factor.vectorD();
  const double largest = diagonal.cwiseAbs().maxCoeff();
  double sum = 0;
  for (const double d : diagonal) {
    if (!(d > 1e-11 * largest)) return kNothing;
    sum += std::log(d);
  }
  return sum;
}

Eigen::MatrixXd root_of_symmetric(const Eigen::MatrixXd& a) {
  const Eigen::LDLT<Eigen::MatrixXd> parts(a);
  const Eigen::VectorXd roots = parts.vectorD().cwiseMax(0).cwiseSqrt();
  const Eigen::MatrixXd lower = parts.matrixL();
  return parts.transpositionsP().transpose() * (lower * roots.asDiagonal()).eval();
}

std::optional<Eigen::MatrixXd> inverse_if_regular(const Eigen::MatrixXd& a) {
  if (a.rows() == 0) return std::nullopt;
  const Eigen::FullPivLU<Eigen::MatrixXd> factor(a);
  if (!factor.isInvertible()) return std::nullopt;
  return factor.inverse();
}

Eigen::VectorXd least_squares_solution(const Eigen::MatrixXd& X, const Eigen::VectorXd& y) {
  return X.colPivHouseholderQr().solve(y);
}

PivotedSolution pivoted_solution(const Eigen::MatrixXd& X, const Eigen::VectorXd& y) {
  const Eigen::ColPivHouseholderQR<Eigen::MatrixXd> factor(X);
  const Eigen::Index p = X.cols();
  const Eigen::MatrixXd R = factor.matrixR().topLeftCorner(p, p).triangularView<Eigen::Upper>();
  const Eigen::MatrixXd inverse =
      R.triangularView<Eigen::Upper>().solve(Eigen::MatrixXd::Identity(p, p));
  const Eigen::MatrixXd permuted = factor.colsPermutation() * inverse;
  return {factor.solve(y), permuted * permuted.transpose()};
}

Eigen::MatrixXd orthonormal_basis(const Eigen::MatrixXd& columns, double threshold) {
  Eigen::ColPivHouseholderQR<Eigen::MatrixXd> factor(columns);
  if (threshold > 0) factor.setThreshold(threshold);
  return Eigen::MatrixXd(factor.householderQ()).leftCols(factor.rank());
}

Eigen::MatrixXd plane_square_to(const Eigen::VectorXd& direction) {
  const Eigen::MatrixXd frame = Eigen::HouseholderQR<Eigen::MatrixXd>(direction).householderQ();
  return frame.rightCols(direction.size() - 1);
}

double largest_singular_value(const Eigen::MatrixXd& a) {
  return Eigen::JacobiSVD<Eigen::MatrixXd>(a).singularValues()[0];
}

SymmetricSpectrum symmetric_spectrum(const Eigen::MatrixXd& a) {
  const Eigen::SelfAdjointEigenSolver<Eigen::MatrixXd> solver(a);
  return {solver.eigenvalues(), solver.eigenvectors().row(0).transpose()};
}

}  // namespace bq::stats
