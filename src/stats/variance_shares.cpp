#include "stats/variance_shares.h"
#include "stats/dense.h"

#include <cassert>

namespace bq::stats {
namespace {

double explained_variance(const Eigen::MatrixXd& X, const Eigen::VectorXd& fitted,
                          const std::vector<ModelTerm>& terms, unsigned subset) {
  std::vector<int> columns{0};
  for (std::size_t t = 0; t < terms.size(); ++t)
    if (subset >> t & 1u)
      columns.insert(columns.end(), terms[t].columns.begin(), terms[t].columns.end());
  const Eigen::MatrixXd part = X(Eigen::all, columns);
  const Eigen::VectorXd projected = part * least_squares_solution(part, fitted);
  return (projected.array() - projected.mean()).square().mean();
}

}  // namespace

std::vector<double> averaged_contributions(const Eigen::MatrixXd& X, const Eigen::VectorXd& fitted,
                                           const std::vector<ModelTerm>& terms) {
  assert(terms.size() <= 8);
  const auto count = unsigned(terms.size());
  const unsigned subsets = 1u << count;
  const auto allowed = [&](unsigned before, unsigned term) {
    for (const int needed : terms[term].after)
      if (!(before >> needed & 1u)) return false;
    return true;
  };
  // How many allowed orders lead from nothing to a subset, and from it to the whole.
  std::vector<double> up(subsets, 0), down(subsets, 0), variance(subsets, 0);
  up[0] = 1;
  down[subsets - 1] = 1;
  for (unsigned s = 0; s < subsets; ++s)
    for (unsigned t = 0; t < count; ++t)
      if (!(s >> t & 1u) && allowed(s, t)) up[s | 1u << t] += up[s];
  for (unsigned s = subsets; s-- > 0;)
    for (unsigned t = 0; t < count; ++t)
      if (!(s >> t & 1u) && allowed(s, t)) down[s] += down[s | 1u << t];
  for (unsigned s = 0; s < subsets; ++s)
    if (up[s] > 0) variance[s] = explained_variance(X, fitted, terms, s);

  std::vector<double> parts(count, 0);
  for (unsigned s = 0; s < subsets; ++s)
    for (unsigned t = 0; t < count; ++t)
      if (up[s] > 0 && !(s >> t & 1u) && allowed(s, t)) {
        const unsigned with = s | 1u << t;
        parts[t] += up[s] * down[with] / down[0] * (variance[with] - variance[s]);
      }
  return parts;
}

}  // namespace bq::stats
