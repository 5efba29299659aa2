
#include "bluntness/run_fits.h"
#include "commands.h"
#include "output.h"
#include "quantity/number.h"
#include "readings_source.h"
#include "workflow/sentences.h"

namespace {

Json censored_word(bq::Censoring censoring) {
  switch (censoring) {
    case bq::Censoring::right:
      return "right";
    case bq::Censoring::left:
      return "left";
    case bq::Censoring::none:
      break;
  }
  return false;
}

Json describe(const bq::RunFit& fit, const std::optional<bq::CutsToThreshold>& cuts) {
  Json item{{"run", fit.run}};
  if (!fit.curve) {
    item["model"] = nullptr;
    item["parameters"] = Json::object();
    item["sigma_log"] = nullptr;
    item["aicc"] = nullptr;
    item["n"] = fit.readings.size();
    item["converged"] = false;
    item["early_collapse"] = false;
    item["cuts_to_threshold"] = nullptr;
    item["why_not"] = fit.why_not;
    return item;
  }
  const auto& curve = fit.curve->fit;
  item["model"] = bq::curve_name(fit);
  const auto names = parameter_names(curve.curve.model);
  item["parameters"] = Json::object();
  for (int i = 0; !fit.interpolated && i < curve.parameters(); ++i)
    item["parameters"][std::string(names[std::size_t(i)])] = curve.curve.parameters[std::size_t(i)];
  item["sigma_log"] = number_or_null(curve.sigma_log);
  item["aicc"] = number_or_null(curve.aicc);
  item["n"] = curve.readings;
  item["converged"] = curve.converged;
  item["early_collapse"] = fit.curve->early_collapse;
  item["checkpoint_sd"] = std::sqrt(curve.checkpoint_variance);
  item["lack_of_fit"] = {{"p", number_or_null(fit.lack_of_fit_p)}};
  item["candidates"] = Json::array();
  for (std::size_t i = 0; i < fit.curve->candidates.size(); ++i) {
    const auto& candidate = fit.curve->candidates[i];
    item["candidates"].push_back({{"model", name_of(candidate.curve.model)},
                                  {"aicc", number_or_null(candidate.aicc)},
                                  {"weight", number_or_null(fit.curve->weight(i))}});
  }
  item["suspects"] = Json::array();
  for (const auto& suspect : fit.curve->suspects) {
    const auto& reading = fit.readings[suspect.reading_index];
    item["suspects"].push_back({{"cuts", reading.cuts},
                                {"reading", std::exp(reading.log_value)},
                                {"studentised", suspect.studentised}});
  }
  item["cuts_to_threshold"] = {{"estimate", number_or_null(cuts->estimate)},
                               {"low", number_or_null(cuts->low)},
                               {"high", number_or_null(cuts->high)},
                               {"at_least", cuts->at_least},
                               {"level", cuts->level},
                               {"censored", censored_word(cuts->censoring)}};
  return item;
}

/// The scatter that the runs have in common; null where there are too few of them.
Json pooled_of(const std::vector<bq::RunFit>& fits) {
  for (const auto& fit : fits)
    if (fit.curve && fit.curve->fit.bench) {
      const bq::ScatterSums& scatter = *fit.curve->fit.bench;
      return {{"reading_sd", std::sqrt(scatter.within_variance())},
              {"checkpoint_sd", std::sqrt(scatter.checkpoint_variance())},
              {"autocorrelation", scatter.correlation}};
    }
  return nullptr;
}

}  // namespace

int run_fit(const FitOptions& options) {
  const bq::CurveOptions curve = curve_options_from(options.model, options.robust);
  bq::Trial trial = trial_from(options.source, options.skip_bad);
  // "3x" speaks of all runs, so the threshold is found before one run is picked.
  auto fits = fits_of(trial, curve);
  const bq::Threshold threshold = threshold_from(options.threshold, trial, fits);
  if (!options.run.empty()) {
    std::erase_if(fits, [&](const bq::RunFit& fit) { return fit.run != options.run; });
    if (fits.empty())
      throw CommandEnd(kUsage, "--run " + options.run + ": there is no such run in the source");
  }
  Json out{{"threshold", {{"value", threshold.value}, {"unit", sign_of(threshold.unit)}}}};
  out["pooled"] = pooled_of(fits);
  out["runs"] = Json::array();
  TextTable table(
      {"run", "model", "readings", "cuts to threshold", "low", "high", "sigma_log", "remarks"});
  bq::stats::Work work;
  work.workers = options.threads ? options.threads : bq::stats::core_count();
  const auto method =
      options.interval == "profile" ? bq::IntervalMethod::profile : bq::IntervalMethod::delta;
  bool any = false;
  for (std::size_t i = 0; i < fits.size(); ++i) {
    const auto& fit = fits[i];
    std::optional<bq::CutsToThreshold> cuts;
    if (fit.curve) cuts = cuts_to_threshold(fit, threshold.value, options.level, method);
    any = any || (cuts && cuts->estimate);
    Json item = describe(fit, cuts);
    if (options.bootstrap > 0 && fit.curve) {
      const auto boot = bq::bootstrap_curve(
          fit.curve->fit, fit.readings,
          {options.bootstrap, options.seed, i, options.level, threshold.value}, work);
      item["bootstrap"] = {{"low", number_or_null(boot->low)},
                           {"high", number_or_null(boot->high)},
                           {"refits", boot->refits}};
    }
    out["runs"].push_back(std::move(item));
    const auto end = [](const std::optional<double>& v) {
      return v ? bq::print_number(*v, 4) : std::string();
    };
    table.add({fit.run, fit.curve ? bq::curve_name(fit) : "–", std::to_string(fit.readings.size()),
               cuts ? bq::cuts_short(*cuts) : "", cuts && cuts->estimate ? end(cuts->low) : "",
               cuts && cuts->estimate ? end(cuts->high) : "",
               fit.curve ? bq::print_fixed(fit.curve->fit.sigma_log, 4) : "",
               bq::fit_remarks(fit)});
  }
  if (options.json) {
    print_json(out);
  } else {
    std::printf("threshold %s%s\n", bq::print_measure(threshold.value, threshold.unit).c_str(),
                threshold.origin.empty() ? "" : (" (" + threshold.origin + ")").c_str());
    table.print();
  }
  return any ? kDone : kNotDeterminable;
}
