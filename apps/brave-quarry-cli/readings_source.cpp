#include "readings_source.h"

#include <iostream>

#include "commands.h"
#include "output.h"
#include "quantity/number.h"

namespace {

void tell(const bq::SourceResult& result) {
  for (const auto& note : result.notes) say(note);
  for (const auto& problem : result.problems) say(problem);
  if (result.problem_count > std::int64_t(result.problems.size()))
    say("… and " + std::to_string(result.problem_count - std::int64_t(result.problems.size())) +
        " more");
}

}  // namespace

bq::SourceResult source_from(const std::string& source, bool skip_bad) {
  auto result = bq::read_source(source, std::cin, {skip_bad});
  accept_or_end(result, "computed");
  if (result.skipped) say(std::to_string(result.skipped) + " bad rows were skipped.");
  return result;
}

bq::Trial trial_from(const std::string& source, bool skip_bad) {
  return std::move(source_from(source, skip_bad).trial);
}

bq::ProjectFile project_from(const std::string& path) {
  std::vector<std::string> notes;
  bq::ProjectFile project = bq::open_to_read(path, notes);
  for (const auto& note : notes) say(note);
  return project;
}

void accept_or_end(const bq::SourceResult& result, const std::string& done) {
  tell(result);
  if (result.refused)
    throw CommandEnd(kRefused, std::to_string(result.problem_count) +
                                   (result.problem_count == 1 ? " problem" : " problems") +
                                   "; nothing was " + done + ".");
}

bq::SourceResult tables_from(const std::vector<std::string>& paths, bool skip_bad) {
  auto result = bq::read_tables(paths, std::cin, {skip_bad});
  accept_or_end(result, "imported");
  return result;
}

bq::CurveOptions curve_options_from(const std::string& model, bool robust) {
  bq::CurveOptions options;
  options.robust = robust;
  if (model == "best") return options;
  options.model = bq::parse_curve_model(model);
  if (!options.model)
    throw CommandEnd(
        kUsage, "--model " + model + ": power, linear, wear-area, two-phase, levelling or best");
  return options;
}

std::vector<bq::RunFit> fits_of(const bq::Trial& trial, const bq::CurveOptions& options) {
  bq::stats::Work work;
  work.workers = bq::stats::core_count();
  return *bq::fit_runs(trial, options, work);
}

bq::Threshold threshold_from(const std::string& text, const bq::Trial& trial,
                             const std::vector<bq::RunFit>& fits) {
  const auto threshold = bq::parse_threshold(text, trial.unit(), fits, true);
  if (!threshold) {
    const bool input = text.ends_with("x") &&
                       bq::parse_number(text.substr(0, text.size() - 1)).ok() &&
                       *bq::parse_number(text.substr(0, text.size() - 1)) > 0;
    throw CommandEnd(input ? kRefused : kUsage,
                     "--threshold " + text + ": " + threshold.refusal().reason);
  }
  return *threshold;
}
