#pragma once

#include <Eigen/Core>
#include <vector>

namespace bq::stats {

/// A normal distribution of a vector with the logarithm of its weight (up to a constant) and the
/// value of what is averaged over.
struct WeightedNormal {
  double log_weight = 0;
  double at = 0;
  Eigen::VectorXd mean;
  Eigen::MatrixXd covariance;
};

/// Mean and covariance of the mixture (the covariance has the spread of the means in it), and the
/// weighted mean of `at`. `parts` is not empty, all of one size.
WeightedNormal mixture_of(const std::vector<WeightedNormal>& parts);

}  // namespace bq::stats
