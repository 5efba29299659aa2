#pragma once

#include <Eigen/Core>
#include <vector>

namespace bq::stats {

/// A term of a model: the columns of X that belong to it, and the terms it may only follow
/// (an interaction comes after its main effects).
struct ModelTerm {
  std::vector<int> columns;
  std::vector<int> after;  ///< indices of other terms
};

/// The variance (divisor n) of `fitted` that each term contributes: the rise of the variance
/// explained when the term enters, averaged over all orders the hierarchy allows
/// (Lindeman, Merenda & Gold 1980). Column 0 of X is the constant. The parts add up to the variance
/// of `fitted`. At most 8 terms (orders are enumerated).
std::vector<double> averaged_contributions(const Eigen::MatrixXd& X, const Eigen::VectorXd& fitted,
                                           const std::vector<ModelTerm>& terms);

}  // namespace bq::stats
