#include "workflow/card_source.h"

namespace bq::inline workflow {

Checked<EdgeCard> card_of_run(const Trial& trial, std::size_t run, const std::string& threshold,
                              AngleConvention angles) {
  const std::vector<RunFit> fits = *fit_runs(trial, {}, stats::Work{});
  const auto read = parse_threshold(threshold, trial.unit(), fits, true);
  const bool multiple = threshold.ends_with("x") || threshold.ends_with("×");
  if (!read && (!multiple || median_fresh_reading(fits))) return read.refusal();
  CardOptions options;
  options.angles = angles;
  if (read) options.threshold = *read;
  options.fit = &fits.at(run);
  return edge_card(trial, run, options);
}

EdgeCard card_of_run(const Trial& trial, std::size_t run, const std::vector<RunFit>& fits,
                     std::optional<double> threshold, AngleConvention angles) {
  CardOptions options;
  options.angles = angles;
  if (threshold) options.threshold = Threshold{*threshold, trial.unit(), ""};
  if (run < fits.size()) options.fit = &fits[run];
  return edge_card(trial, run, options);
}

}  // namespace bq::inline workflow
