#include "workflow/card_source.h"

namespace bq::inline workflow {

Checked<EdgeCard> card_of_run(const Trial& trial, std::size_t run, const std::string& threshold,
                              AngleConvention angles) {
  CardOptions options;
  options.angles = angles;
  const bool multiple = threshold.ends_with("x") || threshold.ends_with("×");
  std::vector<RunFit> fits;
  if (multiple)
    if (auto all = fit_runs(trial, {}, stats::Work{})) fits = std::move(*all);
  const auto read = parse_threshold(threshold, trial.unit(), fits, true);
  if (read)
    options.threshold = *read;
  else if (!multiple || median_fresh_reading(fits))
    return read.refusal();
  return edge_card(trial, run, options);
}

}  // namespace bq::inline workflow
