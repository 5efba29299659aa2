#include "stats/least_squares.h"
#include "quantity/said.h"
#include "stats/dense.h"

#include <cmath>

namespace bq::stats {

double LinearFit::sigma() const {
  return std::sqrt(residual_sum_of_squares / degrees_of_freedom());
}

double LinearFit::standard_error(int coefficient) const {
  return sigma() * std::sqrt(unscaled_covariance(coefficient, coefficient));
}

int first_dependent_column(const Eigen::MatrixXd& X) {
  // Gram–Schmidt twice over, column by column, so that the culprit can be named.
  Eigen::MatrixXd basis(X.rows(), 0);
  for (int j = 0; j < X.cols(); ++j) {
    Eigen::VectorXd rest = X.col(j);
    const double size = rest.norm();
    for (int pass = 0; pass < 2; ++pass) rest -= basis * (basis.transpose() * rest);
    if (!(rest.norm() > 1e-9 * size) || size == 0) return j;
    basis.conservativeResize(Eigen::NoChange, basis.cols() + 1);
    basis.col(basis.cols() - 1) = rest.normalized();
  }
  return -1;
}

Checked<LinearFit> least_squares(const Eigen::MatrixXd& X, const Eigen::VectorXd& y) {
  if (!X.allFinite() || !y.allFinite()) return Refusal{said("a value in the model is not finite")};
  if (X.rows() <= X.cols())
    return Refusal{said("there are not more observations than coefficients")};
  if (const int column = first_dependent_column(X); column >= 0)
    return Refusal{said("a column is determined by the columns before it"), std::size_t(column)};
  const PivotedSolution found = pivoted_solution(X, y);
  LinearFit fit;
  fit.observations = int(X.rows());
  fit.parameters = int(X.cols());
  fit.coefficients = found.coefficients;
  fit.fitted = X * fit.coefficients;
  fit.residual_sum_of_squares = (y - fit.fitted).squaredNorm();
  fit.unscaled_covariance = found.unscaled_covariance;
  return fit;
}

}  // namespace bq::stats
