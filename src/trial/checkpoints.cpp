#include "trial/checkpoints.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

#include "quantity/number.h"
#include "quantity/said.h"
#include "trial/median.h"

namespace bq::inline trial {
double Checkpoint::median() const { return median_of(values); }

double Checkpoint::mean() const {
  return std::accumulate(values.begin(), values.end(), 0.0) / double(values.size());
}

double Checkpoint::cv() const {
  if (values.size() < 2) return 0;
  const double centre = mean();
  double sum = 0;
  for (const double value : values) sum += (value - centre) * (value - centre);
  return std::sqrt(sum / double(values.size() - 1)) / centre;
}

std::vector<Checkpoint> checkpoints_of(const Run& run, Unit unit) {
  std::map<std::int64_t, Checkpoint> by_cuts;
  for (std::size_t i = 0; i < run.readings.size(); ++i) {
    const Reading& reading = run.readings[i];
    if (reading.excluded) continue;
    Checkpoint& checkpoint = by_cuts[reading.cuts];
    checkpoint.cuts = reading.cuts;
    checkpoint.values.push_back(convert(reading.value, reading.unit, unit));
    checkpoint.indices.push_back(i);
  }
  std::vector<Checkpoint> out;
  out.reserve(by_cuts.size());
  for (auto& [cuts, checkpoint] : by_cuts) out.push_back(std::move(checkpoint));
  return out;
}

std::optional<double> median_at(const Run& run, std::int64_t cuts, Unit unit) {
  std::vector<double> values;
  for (const auto& reading : run.readings)
    if (reading.cuts == cuts && !reading.excluded)
      values.push_back(convert(reading.value, reading.unit, unit));
  return values.empty() ? std::nullopt : std::optional(median_of(std::move(values)));
}

std::vector<Suspect> suspects_of(const Run& run) {
  if (run.readings.empty()) return {};
  const auto checkpoints = checkpoints_of(run, run.readings.front().unit);
  std::vector<double> deviations;
  double correction = 0;
  for (const auto& checkpoint : checkpoints) {
    if (checkpoint.values.size() < 2) continue;
    const double centre = std::log(checkpoint.median());
    const double m = double(checkpoint.values.size());
    for (const double value : checkpoint.values)
      deviations.push_back(std::fabs(std::log(value) - centre));
    correction += m * std::sqrt(m / (m - 1));
  }
  if (deviations.size() < 3) return {};
  correction /= double(deviations.size());
  // With three readings a checkpoint one deviation is zero by construction; the quantile above the
  // median keeps the robust SD from collapsing.
  const auto place = deviations.begin() + std::ptrdiff_t(double(deviations.size()) * 0.6827);
  std::nth_element(deviations.begin(), place, deviations.end());
  const double pooled_sd = std::max(kLeastPooledSd, *place * correction);

  std::vector<Suspect> out;
  for (const auto& checkpoint : checkpoints) {
    if (checkpoint.values.size() < 3) continue;
    const double centre = checkpoint.median();
    for (std::size_t i = 0; i < checkpoint.values.size(); ++i) {
      const double distance = std::fabs(std::log(checkpoint.values[i] / centre)) / pooled_sd;
      if (distance <= 3.5) continue;
      out.push_back(
          {checkpoint.indices[i], distance,
           said("{centre} % from the median of its checkpoint, {distance} × the run's usual spread",
                {{"centre", print_number(100 * (checkpoint.values[i] / centre - 1), 2)},
                 {"distance", print_number(distance, 2)}})});
    }
  }
  return out;
}

}  // namespace bq::inline trial
