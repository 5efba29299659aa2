#include "stats/control_chart.h"

#include <cmath>

#include "quantity/said.h"

namespace bq::stats {

Checked<IndividualsChart> individuals_chart(std::span<const double> values) {
  if (values.size() < 2) return Refusal{said("a control chart needs at least two values")};
  IndividualsChart chart;
  chart.n = int(values.size());
  for (std::size_t i = 0; i < values.size(); ++i) {
    if (!std::isfinite(values[i]))
      return Refusal{said("value {i} is not a number", {{"i", std::to_string(i + 1)}}), i};
    chart.centre += values[i] / chart.n;
    if (i > 0) chart.mean_range += std::abs(values[i] - values[i - 1]) / (chart.n - 1);
  }
  const double reach = 3 / kRangeMean * chart.mean_range;
  chart.lower = chart.centre - reach;
  chart.upper = chart.centre + reach;
  chart.range_upper = (1 + 3 * kRangeSd / kRangeMean) * chart.mean_range;
  return chart;
}

}  // namespace bq::stats
