#include "bluntness/run_fits.h"

#include <cmath>

#include "quantity/number.h"
#include "trial/median.h"

namespace bq::inline bluntness {
RunFit fit_run(const Run& run, Unit unit, const CurveOptions& options) {
  RunFit out;
  out.run = run.facts.name;
  out.readings = log_readings(run, unit);
  if (out.readings.empty()) {
    out.why_not = "no readings yet";
    return out;
  }
  out.table = collapse(out.readings);
  auto chosen = choose_curve(out.readings, options);
  if (chosen)
    out.curve = *chosen;
  else
    out.why_not = chosen.refusal().reason;
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
  return fits;
}

std::optional<double> median_fresh_reading(const std::vector<RunFit>& fits) {
  std::vector<double> medians;
  for (const auto& fit : fits) {
    std::vector<double> fresh;
    for (const auto& reading : fit.readings)
      if (reading.cuts == 0) fresh.push_back(std::exp(reading.log_value));
    if (!fresh.empty()) medians.push_back(median_of(fresh));
  }
  if (medians.empty()) return std::nullopt;
  return median_of(medians);
}

Checked<Threshold> parse_threshold(std::string_view text, Unit unit,
                                   const std::vector<RunFit>& fits, bool bare_number_allowed) {
  auto leading = parse_leading_number(text);
  if (!leading) return leading.refusal();
  if (!(leading->number > 0)) return Refusal{"the threshold must be above zero"};
  if (leading->rest == "x" || leading->rest == "×") {
    const auto fresh = median_fresh_reading(fits);
    if (!fresh)
      return Refusal{
          "a threshold in multiples of the fresh reading needs readings at 0 cuts, and "
          "no run has any"};
    return Threshold{leading->number * *fresh, unit,
                     print_number(leading->number) + " × the median fresh reading"};
  }
  auto measure =
      parse_measure(text, kind_of(unit), bare_number_allowed ? std::optional(unit) : std::nullopt);
  if (!measure) return measure.refusal();
  return Threshold{convert(measure->value, measure->unit, unit), unit, ""};
}

}  // namespace bq::inline bluntness
