#include "bluntness/checkpoint_table.h"

#include <algorithm>
#include <cmath>

namespace bq {

std::vector<LogReading> log_readings(const Run& run, Unit unit) {
  std::vector<LogReading> out;
  out.reserve(run.readings.size());
  for (const auto& reading : run.readings)
    if (!reading.excluded)
      out.push_back({double(reading.cuts), std::log(convert(reading.value, reading.unit, unit)), 1});
  std::stable_sort(out.begin(), out.end(),
                   [](const LogReading& a, const LogReading& b) { return a.cuts < b.cuts; });
  return out;
}

CheckpointTable collapse(std::span<const LogReading> readings) {
  CheckpointTable table;
  table.readings = int(readings.size());
  std::size_t distinct = readings.empty() ? 0 : 1;
  for (std::size_t i = 1; i < readings.size(); ++i) distinct += readings[i].cuts != readings[i - 1].cuts;
  std::vector<double> logs;
  for (auto* column : {&table.cuts, &table.log_cuts, &table.positive, &table.weight, &table.mean_log, &logs})
    column->reserve((distinct + 3) / 4 * 4);
  double log_sum = 0;
  std::size_t positives = 0;
  for (std::size_t i = 0; i < readings.size();) {
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
    table.cuts.push_back(readings[i].cuts);
    table.weight.push_back(weight);
    table.mean_log.push_back(mean);
    if (readings[i].cuts > 0) {
      logs.push_back(std::log(readings[i].cuts));
      log_sum += logs.back();
      ++positives;
    } else {
      logs.push_back(0);
    }
    i = end;
  }
  table.checkpoints = table.cuts.size();
  table.log_reference = positives ? log_sum / double(positives) : 0;
  table.reference_cuts = std::exp(table.log_reference);
  const std::size_t padded = (table.checkpoints + 3) / 4 * 4;
  table.cuts.resize(padded, 0);
  table.weight.resize(padded, 0);
  table.mean_log.resize(padded, 0);
  table.log_cuts.resize(padded, 0);
  table.positive.resize(padded, 0);
  for (std::size_t i = 0; i < table.checkpoints; ++i)
    if (table.cuts[i] > 0) {
      table.log_cuts[i] = logs[i] - table.log_reference;
      table.positive[i] = 1;
    }
  return table;
}

}  // namespace bq
