#include "stats/paired_test.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <vector>

#include "quantity/said.h"
#include "stats/distributions.h"

namespace bq::stats {
namespace {

/// Twice the mid-rank of each |difference|, so that ranks stay whole numbers.
std::vector<int> doubled_ranks(std::span<const double> differences) {
  std::vector<std::size_t> order(differences.size());
  std::iota(order.begin(), order.end(), std::size_t{0});
  const auto size = [&](std::size_t i) { return std::abs(differences[i]); };
  std::sort(order.begin(), order.end(),
            [&](std::size_t a, std::size_t b) { return size(a) < size(b); });
  const double tie = 1e-12 * (order.empty() ? 0 : size(order.back()));
  std::vector<int> ranks(differences.size());
  for (std::size_t from = 0; from < order.size();) {
    std::size_t to = from + 1;
    while (to < order.size() && size(order[to]) - size(order[to - 1]) <= tie) ++to;
    for (std::size_t i = from; i < to; ++i) ranks[order[i]] = int(from + to + 1);
    from = to;
  }
  return ranks;
}

double exact_p(const std::vector<int>& ranks, int positive) {
  const int total = std::accumulate(ranks.begin(), ranks.end(), 0);
  // share[s]: probability that the positive ranks add up to s.
  std::vector<double> share(std::size_t(total) + 1, 0.0);
  share[0] = 1;
  int reached = 0;
  for (const int rank : ranks) {
    reached += rank;
    for (int s = reached; s >= 0; --s)
      share[std::size_t(s)] =
          0.5 * (share[std::size_t(s)] + (s >= rank ? share[std::size_t(s - rank)] : 0.0));
  }
  double below = 0, above = 0;
  for (int s = 0; s <= total; ++s) {
    if (s <= positive) below += share[std::size_t(s)];
    if (s >= positive) above += share[std::size_t(s)];
  }
  return std::min(1.0, 2 * std::min(below, above));
}

double normal_p(const std::vector<int>& ranks, int positive) {
  double mean = 0, variance = 0;
  for (const int rank : ranks) {
    mean += 0.5 * rank;
    variance += 0.25 * double(rank) * rank;  // mid-ranks carry the tie correction
  }
  const double off = std::max(0.0, std::abs(positive - mean) - 1);  // half a rank, doubled
  return std::min(1.0, 2 * normal_cdf(-off / std::sqrt(variance)));
}

}  // namespace

double signed_rank_p(std::span<const double> differences) {
  const auto ranks = doubled_ranks(differences);
  int positive = 0;
  for (std::size_t i = 0; i < ranks.size(); ++i)
    if (differences[i] > 0) positive += ranks[i];
  return int(ranks.size()) <= kExactPairs ? exact_p(ranks, positive) : normal_p(ranks, positive);
}

Checked<PairedTest> paired_test(std::span<const Pair> pairs, double level) {
  if (pairs.empty()) return Refusal{said("there is no pair")};
  std::vector<double> logs, changed;
  for (std::size_t i = 0; i < pairs.size(); ++i) {
    const auto good = [](double value) { return value > 0 && std::isfinite(value); };
    if (!good(pairs[i].before) || !good(pairs[i].after))
      return Refusal{
          said("pair {i}: both readings must be above 0", {{"i", std::to_string(i + 1)}}), i};
    logs.push_back(std::log(pairs[i].after) - std::log(pairs[i].before));
    if (pairs[i].after != pairs[i].before) changed.push_back(logs.back());
  }
  PairedTest out;
  out.n = int(logs.size());
  out.df = out.n - 1;
  out.unchanged = out.n - int(changed.size());
  const double mean = std::accumulate(logs.begin(), logs.end(), 0.0) / out.n;
  out.ratio = std::exp(mean);
  if (out.n > 1) {
    double squares = 0;
    for (const double value : logs) squares += (value - mean) * (value - mean);
    const double error = std::sqrt(squares / out.df / out.n);
    const double reach = t_quantile(0.5 + level / 2, out.df) * error;
    out.low = std::exp(mean - reach);
    out.high = std::exp(mean + reach);
    if (error > 1e-14 * std::max(1.0, std::abs(mean))) {
      out.t = mean / error;
      out.p = t_two_sided_p(*out.t, out.df);
    }
  }
  if (!changed.empty()) {
    out.signed_rank_p = signed_rank_p(changed);
    out.signed_rank_exact = int(changed.size()) <= kExactPairs;
  }
  return out;
}

}  // namespace bq::stats
