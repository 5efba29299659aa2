#include <algorithm>
#include <sstream>

#include "commands.h"
#include "output.h"
#include "readings_source.h"
#include "report/card_page.h"
#include "store/readings_export.h"
#include "workflow/card_source.h"

namespace {

int export_card(const ExportOptions& options) {
  const bool html = options.target.ends_with(".html"), pdf = options.target.ends_with(".pdf");
  if (!html && !pdf) throw CommandEnd(kUsage, "--to " + options.target + ": an edge card is written as .html or .pdf");
  const bq::SourceResult source = source_from(options.source, false);
  const auto run = std::find_if(source.trial.runs.begin(), source.trial.runs.end(), [&](const bq::Run& r) { return r.facts.name == options.card; });
  if (run == source.trial.runs.end()) throw CommandEnd(kRefused, "There is no run " + options.card + ". Nothing was written.");
  const auto card = bq::card_of_run(source.trial, std::size_t(run - source.trial.runs.begin()), options.threshold.empty() ? source.threshold : options.threshold,
                                    options.inclusive ? bq::AngleConvention::inclusive : bq::AngleConvention::per_side);
  if (!card) throw CommandEnd(kRefused, "--threshold: " + card.refusal().reason);
  write_whole(options.target, html ? bq::card_html(*card) : bq::card_pdf(*card));
  return kDone;
}

}  // namespace

int run_export(const ExportOptions& options) {
  if (!options.card.empty()) return export_card(options);
  const bool csv = options.target.ends_with(".csv"), json = options.target.ends_with(".json");
  if (!csv && !json)
    throw CommandEnd(kUsage, "--to " + options.target + ": the ending decides the format; .csv and .json are there");
  const bq::SourceResult source = source_from(options.source, false);
  const bq::Trial& trial = source.trial;
  std::ostringstream text;
  if (csv) bq::write_readings_csv(trial, text);
  else text << bq::trial_json(trial, source.plans);
  write_whole(options.target, text.str());
  int bare = 0;
  for (const auto& item : trial.runs) bare += item.readings.empty();
  if (csv && bare)
    say(std::to_string(bare) + " runs have no readings and are not in the table (they are in .json).");
  return kDone;
}
