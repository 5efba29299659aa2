#include <algorithm>
#include <cstdio>
#include <fstream>
#include <iterator>

#include "commands.h"
#include "output.h"
#include "pixels/cut_picture.h"
#include "readings_source.h"
#include "report/card_page.h"
#include "store/readings_export.h"
#include "store/whole_file.h"
#include "store/workbook.h"
#include "trial/making.h"
#include "workflow/bench_study.h"
#include "workflow/card_source.h"
#include "workflow/label_codes.h"
#include "workflow/plan_study.h"
#include "workflow/report_source.h"
#include "workflow/source.h"

namespace {

/// What of its pictures a report of a project shows.
void show_pictures(const std::string& path, bq::SourceResult& source) {
  if (!source.is_project) return;
  std::vector<std::string> said;  // where it was read first
  const auto project = bq::open_to_read(path, said);
  bq::show_whole(source.pictures, source.trial, *project.pictures(), bq::cut_picture);
}

std::size_t blade_named(const bq::Trial& trial, const ExportOptions& options) {
  const bq::Blade* blade = trial.find_blade(options.card_of);
  if (!blade)
    throw CommandEnd(kRefused, "There is no blade " + options.card_of + ". Nothing was written.");
  return std::size_t(blade - trial.blades.data());
}

/// Counted from 1, the edge as it came; 0: the present one.
std::size_t making_asked(const bq::Trial& trial, const ExportOptions& options) {
  const std::size_t count = bq::makings_of(trial, blade_named(trial, options)).all.size();
  if (options.making == 0) return count - 1;
  if (options.making < 0 || std::size_t(options.making) > count)
    throw CommandEnd(kRefused, "--making " + std::to_string(options.making) + ": blade " +
                                   options.card_of + " has had " + std::to_string(count) +
                                   (count == 1 ? " edge" : " edges") +
                                   ", counted from 1. Nothing was written.");
  return std::size_t(options.making) - 1;
}

int export_card(const ExportOptions& options) {
  const bool html = options.target.ends_with(".html"), pdf = options.target.ends_with(".pdf");
  if (!html && !pdf)
    throw CommandEnd(kUsage,
                     "--to " + options.target + ": an edge card is written as .html or .pdf");
  const bq::SourceResult source = source_from(options.source, false);
  const auto angles =
      options.inclusive ? bq::AngleConvention::inclusive : bq::AngleConvention::per_side;
  if (!options.card_of.empty()) {
    bq::CardOptions look;
    look.angles = angles;
    const auto card = bq::edge_card_of_making(source.trial, blade_named(source.trial, options),
                                              making_asked(source.trial, options), look);
    write_whole(options.target, html ? bq::card_html(card) : bq::card_pdf(card));
    return kDone;
  }
  const auto run = std::find_if(source.trial.runs.begin(), source.trial.runs.end(),
                                [&](const bq::Run& r) { return r.facts.name == options.card; });
  if (run == source.trial.runs.end())
    throw CommandEnd(kRefused, "There is no run " + options.card + ". Nothing was written.");
  const auto card =
      bq::card_of_run(source.trial, std::size_t(run - source.trial.runs.begin()),
                      options.threshold.empty() ? source.threshold : options.threshold, angles);
  if (!card) throw CommandEnd(kRefused, "--threshold: " + card.refusal().reason);
  write_whole(options.target, html ? bq::card_html(*card) : bq::card_pdf(*card));
  return kDone;
}

int export_labels(const ExportOptions& options) {
  if (!options.target.ends_with(".pdf"))
    throw CommandEnd(kUsage, "--to " + options.target + ": labels are written as .pdf");
  std::vector<std::string> notes;
  const auto project = bq::open_to_read(options.source, notes);
  for (const auto& note : notes) say(note);
  const std::string tag = project.setting(bq::kLabelTagKey).value_or("");
  if (tag.empty())
    throw CommandEnd(kRefused,
                     "This project has no letters for its labels yet; the window gives them with "
                     "its first labels (menu, Labels). Nothing was written.");
  const bq::Trial trial = project.load();
  const auto labels = bq::labels_of(
      trial, tag, bq::blind_runs(project.setting(bq::kPlanBookKey).value_or("")),
      options.inclusive ? bq::AngleConvention::inclusive : bq::AngleConvention::per_side);
  write_whole(options.target, bq::labels_pdf(labels, trial.title));
  return kDone;
}

int export_report(const ExportOptions& options) {
  bq::SourceResult source = source_from(options.source, false);
  bq::TrialStudyOptions study;
  study.threshold = options.threshold;
  study.angles = options.inclusive ? bq::AngleConvention::inclusive : bq::AngleConvention::per_side;
  const std::string limits =
      options.limits.empty() ? source.verdict_limits : bq::read_text_file(options.limits);
  if (!limits.empty()) {
    const auto parsed = bq::parse_limits(limits);
    if (!parsed)
      throw CommandEnd(kRefused,
                       (options.limits.empty() ? "the limits kept on Verdict" : options.limits) +
                           ": " + parsed.refusal().reason);
    study.limits = *parsed;
    for (const auto& note : parsed->notes) say(options.limits + ": " + note);
  }
  const std::string date = day_or_today(options.date);
  const auto fits = fits_of(source.trial, {});
  const auto answers = bq::study_trial(source, fits, study);
  if (!answers)
    throw CommandEnd(kRefused, "No report: " + answers.refusal().reason + ". Nothing was written.");
  if (options.target.ends_with(".xlsx")) {
    const auto sheets = bq::trial_workbook(source, fits, *answers, study);
    const std::string beside = options.target + ".part";
    try {
      bq::write_workbook(beside, sheets, source.trial.title, date);
      std::ifstream in(beside, std::ios::binary);
      write_whole(options.target, std::string(std::istreambuf_iterator<char>(in), {}));
    } catch (...) {
      std::remove(beside.c_str());
      throw;
    }
    std::remove(beside.c_str());
    return kDone;
  }
  show_pictures(options.source, source);
  const bq::TrialReport report = bq::trial_report(source, *answers, study, date);
  write_whole(options.target,
              options.target.ends_with(".html") ? bq::report_html(report) : bq::report_pdf(report));
  return kDone;
}

}  // namespace

int run_export(const ExportOptions& options) {
  if (options.labels) return export_labels(options);
  if (!options.card.empty() || !options.card_of.empty()) return export_card(options);
  for (const char* ending : {".xlsx", ".html", ".pdf"})
    if (options.target.ends_with(ending)) return export_report(options);
  const bool csv = options.target.ends_with(".csv"), json = options.target.ends_with(".json");
  if (!csv && !json)
    throw CommandEnd(
        kUsage,
        "--to " + options.target +
            ": the ending decides the format; .csv, .json, .xlsx, .html and .pdf are there");
  const bq::SourceResult source = source_from(options.source, false);
  const bq::Trial& trial = source.trial;
  std::vector<std::string> said_already;
  bq::write_whole_file(options.target, bq::Existing::replaced, [&](std::ostream& out) {
    if (csv) {
      bq::write_readings_csv(trial, out);
    } else if (source.is_project) {
      const bq::ProjectFile project = bq::open_to_read(options.source, said_already);
      bq::write_project_json(project, project.load(), out);  // of one moment
    } else {
      bq::write_trial_json(trial, source.plans, out);
    }
  });
  int bare = 0;
  for (const auto& item : trial.runs) bare += item.readings.empty();
  if (csv && bare)
    say(std::to_string(bare) +
        " runs have no readings and are not in the table (they are in .json).");
  return kDone;
}
