#include "stats/bounded_pairs.h"

#include <algorithm>
#include <boost/math/distributions/binomial.hpp>
#include <cmath>

#include "quantity/said.h"
#include "stats/distributions.h"
#include "stats/mixed_regression.h"

namespace bq::stats {
namespace {

constexpr double kFarthest = 8;  ///< of ln ratio: nobody compares what differs by more

struct Responses {
  std::vector<Bounds> y;
  std::vector<int> pair;
};

Responses responses_of(const std::vector<BoundedPair>& pairs, double shift) {
  Responses out;
  const auto shifted = [&](Bounds y) { return Bounds{y.low - shift, y.high - shift}; };
  for (std::size_t i = 0; i < pairs.size(); ++i) {
    out.y.push_back(pairs[i].first);
    out.y.push_back(shifted(pairs[i].second));
    out.pair.insert(out.pair.end(), 2, int(i));
  }
  return out;
}

/// The largest log-likelihood with ln ratio held at `value`; −∞ where there is none.
double held_at(const std::vector<BoundedPair>& pairs, double value) {
  const Responses at = responses_of(pairs, value);
  const auto fit =
      mixed_regression(Eigen::MatrixXd::Ones(Eigen::Index(at.y.size()), 1), at.y, at.pair);
  return fit ? fit->log_likelihood : -std::numeric_limits<double>::infinity();
}

Checked<BoundedPairs> by_model(const std::vector<BoundedPair>& pairs, double level,
                               BoundedPairs out) {
  const Responses all = responses_of(pairs, 0);
  Eigen::MatrixXd X = Eigen::MatrixXd::Ones(Eigen::Index(all.y.size()), 2);
  for (Eigen::Index i = 0; i < X.rows(); ++i) X(i, 1) = double(i % 2);
  const auto fit = mixed_regression(X, all.y, all.pair);
  if (!fit) return fit.refusal();
  const Eigen::VectorXd ratio = Eigen::VectorXd::Unit(2, 1);
  out.log_ratio = fit->coefficients[1];
  const int m = out.complete;
  const auto deviance = [&](double value) {
    return std::max(0.0, 2 * (fit->log_likelihood - held_at(pairs, value)));
  };
  const auto ends = profile_interval(deviance, out.log_ratio, 0.5 * fit->standard_error(ratio),
                                     out.log_ratio - kFarthest, out.log_ratio + kFarthest,
                                     profile_cutoff(m, 1, level));
  out.low = ends.low;
  out.high = ends.high;
  out.p = t_two_sided_p(std::sqrt((m - 1) * std::expm1(deviance(0) / m)), m - 1);
  return out;
}

Checked<BoundedPairs> by_order(const std::vector<BoundedPair>& pairs, double level,
                               BoundedPairs out) {
  out.by_order = true;
  std::vector<double> lows, highs;
  int above = 0, below = 0;
  for (const auto& pair : pairs) {
    lows.push_back(pair.second.low - pair.first.high);
    highs.push_back(pair.second.high - pair.first.low);
    above += lows.back() > 0;
    below += highs.back() < 0;
  }
  std::sort(lows.begin(), lows.end());
  std::sort(highs.begin(), highs.end());
  const std::size_t n = pairs.size();
  const double low = 0.5 * (lows[(n - 1) / 2] + lows[n / 2]),
               high = 0.5 * (highs[(n - 1) / 2] + highs[n / 2]);
  if (!std::isfinite(low) && !std::isfinite(high))
    return Refusal{said("in most pairs it is open which part lasted longer")};
  out.log_ratio = !std::isfinite(low) ? high : !std::isfinite(high) ? low : 0.5 * (low + high);
  const boost::math::binomial_distribution<double> coin(double(n), 0.5);
  // The k-th smallest is below the median with a chance of 1 − P(fewer than k of n heads).
  std::size_t k = 0;
  while (k < n / 2 && 2 * cdf(coin, double(k)) <= 1 - level) ++k;
  if (k > 0 && std::isfinite(lows[k - 1])) out.low = lows[k - 1];
  if (k > 0 && std::isfinite(highs[n - k])) out.high = highs[n - k];
  const int most = std::max(above, below);
  out.p = most == 0 ? 1 : std::min(1.0, 2 * cdf(complement(coin, double(most - 1))));
  return out;
}

}  // namespace

Checked<BoundedPairs> bounded_pairs(const std::vector<BoundedPair>& pairs, double level) {
  if (pairs.size() < 2) return Refusal{said("fewer than two pairs")};
  BoundedPairs out;
  int exact = 0;
  for (const auto& pair : pairs) {
    exact += int(pair.first.is_exact()) + int(pair.second.is_exact());
    out.complete += pair.first.is_exact() && pair.second.is_exact();
  }
  if (exact == 0) return Refusal{said("no part reached the limit")};
  // The order of few pairs bounds nothing at all; two complete ones know little, and say so.
  const bool order_tells = pairs.size() > 5;
  if (out.complete >= (order_tells ? kCompletePairs : 2))
    if (const auto model = by_model(pairs, level, out)) return model;
  return by_order(pairs, level, out);
}

}  // namespace bq::stats
