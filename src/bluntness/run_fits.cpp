#include "bluntness/run_fits.h"

#include <cmath>

#include "bluntness/bench_scatter.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/distributions.h"
#include "trial/median.h"

namespace bq::inline bluntness {
namespace {

/// Whether the checkpoint means fall over a scale of the cuts: the slope is below 0 (99.75 %), and
/// they lose more than 15 % by it.
template <class Scale>
bool falls_over(const CheckpointTable& table, const Scale& scale) {
  const std::size_t n = table.checkpoints;
  double sum = 0, mean_x = 0, mean_y = 0;
  const auto x = [&](std::size_t i) { return scale(table.cuts[i]); };
  for (std::size_t i = 0; i < n; ++i) {
    sum += table.weight[i];
    mean_x += table.weight[i] * x(i);
    mean_y += table.weight[i] * table.mean_log[i];
  }
  mean_x /= sum;
  mean_y /= sum;
  double xx = 0, xy = 0, yy = 0;
  for (std::size_t i = 0; i < n; ++i) {
    const double dx = x(i) - mean_x, dy = table.mean_log[i] - mean_y;
    xx += table.weight[i] * dx * dx;
    xy += table.weight[i] * dx * dy;
    yy += table.weight[i] * dy * dy;
  }
  const double slope = xy / xx, left = std::max(0.0, yy - slope * xy) / double(n - 2);
  return slope * (x(n - 1) - x(0)) < std::log(0.85) &&
         slope < -stats::t_quantile(0.9975, double(n - 2)) * std::sqrt(left / xx);
}

/// Whether the readings fall with the cuts beyond doubt (99.5 %): early in the run, or all along.
bool falls(const CheckpointTable& table) {
  return table.checkpoints >= 4 &&
         (falls_over(table, [](double cuts) { return std::log1p(cuts); }) ||
          falls_over(table, [](double cuts) { return cuts; }));
}

double first_median_of(const SharedList<LogReading>& readings) {
  std::vector<double> first;
  for (const auto& reading : readings) {
    if (reading.cuts != readings.front().cuts) break;  // sorted
    first.push_back(std::exp(reading.log_value));
  }
  return median_of(std::move(first));
}

}  // namespace

RunFit fit_run(const Run& run, Unit unit, const CurveOptions& options) {
  RunFit out;
  out.run = run.facts.name;
  out.readings = log_readings(run, unit);
  if (out.readings.empty()) {
    out.why_not = said("no readings yet");
    return out;
  }
  out.first_median = first_median_of(out.readings);
  out.table = collapse(out.readings);
  if (falls(out.table)) {
    out.why_not = kFallingReadings;
    return out;
  }
  auto chosen = choose_curve(out.readings, options);
  if (chosen) {
    out.curve = *chosen;
    if (!options.robust) add_residuals(out);
  } else {
    out.why_not = chosen.refusal().reason;
  }
  return out;
}

std::optional<std::vector<RunFit>> fit_runs(const Trial& trial, const CurveOptions& options,
                                            const stats::Work& work) {
  std::vector<RunFit> fits(trial.runs.size());
  const Unit unit = trial.unit();
  if (!stats::for_each_piece(trial.runs.size(), work, [&](std::size_t i) {
        fits[i] = fit_run(trial.runs[i], unit, options);
      }))
    return std::nullopt;
  if (!options.robust) settle_on_bench(fits, work_of_runs(trial));
  return fits;
}

std::string curve_name(const RunFit& run) {
  if (!run.curve) return "";
  return run.interpolated ? "interpolated" : std::string(name_of(run.curve->fit.curve.model));
}

double drawn_reading(const RunFit& run, double cuts) {
  return run.interpolated ? interpolated_reading(run.table, cuts) : run.curve->fit.curve.at(cuts);
}

CutsToThreshold cuts_to_threshold(const RunFit& run, double threshold, double level,
                                  IntervalMethod method) {
  if (run.interpolated)
    return interpolated_cuts(run.table, *run.curve->fit.bench, threshold, level);
  return cuts_to_threshold(run.curve->fit, run.table, threshold, level, method);
}

namespace {

/// Median over runs of the median reading at the earliest checkpoint.
std::optional<double> median_start(const std::vector<RunFit>& fits, bool at_zero_only) {
  std::vector<double> medians;
  for (const auto& fit : fits) {
    if (!fit.first_median || (at_zero_only && fit.readings.front().cuts != 0)) continue;
    medians.push_back(*fit.first_median);
  }
  if (medians.empty()) return std::nullopt;
  return median_of(medians);
}

}  // namespace

std::optional<double> median_fresh_reading(const std::vector<RunFit>& fits) {
  return median_start(fits, true);
}

std::optional<double> median_first_reading(const std::vector<RunFit>& fits) {
  return median_start(fits, false);
}

Checked<Threshold> parse_threshold(std::string_view text, Unit unit,
                                   const std::vector<RunFit>& fits, bool bare_number_allowed) {
  auto leading = parse_leading_number(text);
  if (!leading) return leading.refusal();
  if (!(leading->number > 0)) return Refusal{said("the threshold must be above zero")};
  if (leading->rest == "x" || leading->rest == "×") {
    if (const auto fresh = median_fresh_reading(fits))
      return Threshold{
          leading->number * *fresh, unit,
          said("{number} × the median fresh reading", {{"number", print_number(leading->number)}})};
    // Nobody read a fresh edge: the earliest readings stand in for it, and that is said.
    const auto first = median_first_reading(fits);
    if (!first)
      return Refusal{
          said("a threshold in multiples of the fresh reading needs readings, and there are none")};
    return Threshold{leading->number * *first, unit,
                     said("{number} × the median first reading (no run was read at 0 cuts)",
                          {{"number", print_number(leading->number)}})};
  }
  auto measure =
      parse_measure(text, kind_of(unit), bare_number_allowed ? std::optional(unit) : std::nullopt);
  if (!measure) return measure.refusal();
  return Threshold{convert(measure->value, measure->unit, unit), unit, ""};
}

}  // namespace bq::inline bluntness
