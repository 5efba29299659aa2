#include "bluntness/checkpoint_table.h"

#include <algorithm>
#include <cmath>

namespace bq::inline bluntness {

std::vector<LogReading> log_readings(const Run& run, Unit unit) {
  std::vector<LogReading> out;
  out.reserve(run.readings.size());
  for (const auto& reading : run.readings)
    if (!reading.excluded)
      out.push_back(
          {double(reading.cuts), std::log(convert(reading.value, reading.unit, unit)), 1});
  std::stable_sort(out.begin(), out.end(),
                   [](const LogReading& a, const LogReading& b) { return a.cuts < b.cuts; });
  return out;
}

CheckpointTable collapse(std::span<const LogReading> readings) {
  CheckpointTable table;
  table.readings = int(readings.size());
  std::size_t distinct = readings.empty() ? 0 : 1;
  for (std::size_t i = 1; i < readings.size(); ++i)
    distinct += readings[i].cuts != readings[i - 1].cuts;
  table.checkpoints = distinct;
  for (auto* column :
       {&table.cuts, &table.log_cuts, &table.positive, &table.weight, &table.mean_log})
    column->resize((distinct + 3) / 4 * 4);
  double log_sum = 0, positives = 0;
  std::size_t at = 0;
  for (std::size_t i = 0; i < readings.size(); ++at) {
    std::size_t end = i;
    double weight = 0, sum = 0;
    for (; end < readings.size() && readings[end].cuts == readings[i].cuts; ++end) {
      weight += readings[end].weight;
      sum += readings[end].weight * readings[end].log_value;
    }
    const double mean = sum / weight;
    for (std::size_t j = i; j < end; ++j) {
      const double deviation = readings[j].log_value - mean;
      table.within_sum += readings[j].weight * deviation * deviation;
    }
    table.cuts[at] = readings[i].cuts;
    table.weight[at] = weight;
    table.mean_log[at] = mean;
    if (readings[i].cuts > 0) {
      table.log_cuts[at] = std::log(readings[i].cuts);
      table.positive[at] = 1;
      log_sum += table.log_cuts[at];
      ++positives;
    }
    i = end;
  }
  table.log_reference = positives > 0 ? log_sum / positives : 0;
  table.reference_cuts = std::exp(table.log_reference);
  for (std::size_t i = 0; i < table.checkpoints; ++i)
    table.log_cuts[i] -= table.positive[i] * table.log_reference;
  return table;
}

}  // namespace bq::inline bluntness
