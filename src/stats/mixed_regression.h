#pragma once

#include <vector>

#include "stats/censored_regression.h"

namespace bq::stats {

/// A linear model with normal errors and one normal random intercept per group, some responses
/// censored.
struct MixedFit {
  Eigen::VectorXd coefficients;
  double sigma_ml = 0;     ///< within groups
  double group_sd_ml = 0;  ///< between groups; 0 where none is seen
  double log_likelihood = 0;
  Eigen::MatrixXd
      covariance;  ///< of the coefficients, observed information, both SDs estimated, ML scale
  int observations = 0, exact = 0, groups = 0;
  std::vector<bool> between;  ///< per column: constant inside every group
  bool converged = false;
  /// Degrees of freedom of a contrast: between groups (groups − columns that vary only between
  /// them) where any of its columns is constant inside the groups, else within (the rest); at
  /// least 1. The between–within rule (Schluchter & Elashoff 1990).
  [[nodiscard]] int degrees_of_freedom(const Eigen::VectorXd& contrast) const;
  /// Standard error with variance × m/dof, m the groups or the rest of the observations: the ML
  /// variances are too small by about that.
  [[nodiscard]] double standard_error(const Eigen::VectorXd& contrast) const;
  [[nodiscard]] double sigma() const;     ///< with the same factor for within groups
  [[nodiscard]] double group_sd() const;  ///< with the same factor for between groups
};

/// Maximum likelihood. The random intercept of a group is integrated out by adaptive Gauss–Hermite
/// quadrature with 21 nodes (exact for groups without censoring; Pinheiro & Bates 1995);
/// quasi-Newton steps with the analytic gradient (Fisher's identity). `group[i]` in 0 … groups − 1.
/// Refused as censored_regression, and where no group has two observations or the groups are not
/// more than the columns that vary only between them.
Checked<MixedFit> mixed_regression(const Eigen::MatrixXd& X, const std::vector<Bounds>& y,
                                   const std::vector<int>& group);

}  // namespace bq::stats
