#pragma once

#include <Eigen/Core>
#include <string>

#include "quantity/checked.h"

namespace bq::stats {

/// A fitted linear model y = Xβ + e.
struct LinearFit {
  Eigen::VectorXd coefficients;
  Eigen::MatrixXd unscaled_covariance;  ///< (XᵀX)⁻¹
  Eigen::VectorXd fitted;
  double residual_sum_of_squares = 0;
  int observations = 0;
  int parameters = 0;
  [[nodiscard]] int degrees_of_freedom() const { return observations - parameters; }
  /// Residual SD with n − p degrees of freedom.
  [[nodiscard]] double sigma() const;
  [[nodiscard]] double standard_error(int coefficient) const;
};

/// Ordinary least squares by column-pivoted Householder QR (Eigen). X is n × p, y has n rows.
/// Refused: fewer rows than columns + 1, a column that the others determine (its place in
/// Refusal::place), values that are not finite.
Checked<LinearFit> least_squares(const Eigen::MatrixXd& X, const Eigen::VectorXd& y);

/// The first column of X that depends on the columns before it, or -1.
int first_dependent_column(const Eigen::MatrixXd& X);

}  // namespace bq::stats
