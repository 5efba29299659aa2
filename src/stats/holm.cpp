#include "stats/holm.h"

#include <algorithm>
#include <numeric>

namespace bq::stats {

std::vector<double> holm(const std::vector<double>& p) {
  std::vector<std::size_t> order(p.size());
  std::iota(order.begin(), order.end(), std::size_t(0));
  std::stable_sort(order.begin(), order.end(),
                   [&](std::size_t a, std::size_t b) { return p[a] < p[b]; });
  std::vector<double> out(p.size());
  double before = 0;
  for (std::size_t i = 0; i < order.size(); ++i) {
    before = std::max(before, std::min(1.0, p[order[i]] * double(order.size() - i)));
    out[order[i]] = before;
  }
  return out;
}

}  // namespace bq::stats
