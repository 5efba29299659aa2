#include "stats/normal_mixture.h"

#include <algorithm>
#include <cmath>

namespace bq::stats {

WeightedNormal mixture_of(const std::vector<WeightedNormal>& parts) {
  const Eigen::Index n = parts.front().mean.size();
  double most = parts.front().log_weight, total = 0;
  for (const auto& part : parts) most = std::max(most, part.log_weight);
  WeightedNormal out{most, 0, Eigen::VectorXd::Zero(n), Eigen::MatrixXd::Zero(n, n)};
  for (const auto& part : parts) {
    const double weight = std::exp(part.log_weight - most);
    total += weight;
    out.at += weight * part.at;
    out.mean += weight * part.mean;
  }
  out.at /= total;
  out.mean /= total;
  for (const auto& part : parts) {
    const Eigen::VectorXd off = part.mean - out.mean;
    out.covariance +=
        std::exp(part.log_weight - most) / total * (part.covariance + off * off.transpose());
  }
  return out;
}

}  // namespace bq::stats
