#include <filesystem>

#include "commands.h"
#include "output.h"
#include "readings_source.h"
#include "store/project_file.h"

namespace {

/// A whole project that was exported as JSON becomes a project again.
int import_project(const ImportOptions& options) {
  std::error_code ignored;
  if (std::filesystem::exists(options.project, ignored))
    throw CommandEnd(kRefused, options.project + " is already there: a whole project (" +
                                   options.tables.front() +
                                   ") is made in a new file only. Nothing was changed.");
  constexpr std::size_t kLargest = std::size_t(2) << 30;
  const auto project = bq::ProjectFile::create_from_record(
      options.project, bq::read_text_file(options.tables.front(), kLargest));
  const bq::Trial trial = project.load();
  if (options.json)
    print_json({{"runs", trial.runs.size()}, {"readings", trial.reading_count()}, {"skipped", 0}});
  else
    std::printf("a project with %zu blades, %zu runs and %zu readings made again\n",
                trial.blades.size(), trial.runs.size(), trial.reading_count());
  return kDone;
}

}  // namespace

int run_import(const ImportOptions& options) {
  namespace fs = std::filesystem;
  if (options.tables.size() == 1 && options.tables.front().ends_with(".json"))
    return import_project(options);
  auto tables = tables_from(options.tables, options.skip_bad);
  bq::ImportCounts counts;
  const bq::KnownRuns known_runs = !options.append             ? bq::KnownRuns::refuse
                                   : options.repeats.empty()   ? bq::KnownRuns::further
                                   : options.repeats == "skip" ? bq::KnownRuns::only_new
                                                               : bq::KnownRuns::repeats_too;
  std::error_code ignored;
  if (fs::exists(options.project, ignored)) {
    counts = bq::ProjectFile::open(options.project, bq::ProjectFile::Access::write)
                 .import(tables.trial, known_runs);
  } else {
    // A project that cannot be filled must not stay behind empty.
    try {
      auto project =
          bq::ProjectFile::create(options.project, fs::path(options.project).stem().string());
      counts = project.import(tables.trial, known_runs);
    } catch (const bq::StoreError& error) {
      if (error.problem() != bq::StoreProblem::exists) fs::remove(options.project, ignored);
      throw;
    }
  }
  if (options.json) {
    Json out{{"runs", counts.runs}, {"readings", counts.readings}, {"skipped", tables.skipped}};
    if (!options.repeats.empty()) out["repeats_left_out"] = counts.repeats_left_out;
    print_json(out);
    return kDone;
  }
  std::printf("%d runs and %lld readings imported, %lld rows skipped\n", counts.runs,
              static_cast<long long>(counts.readings), static_cast<long long>(tables.skipped));
  if (counts.repeats_left_out)
    std::printf("%lld readings left out: the project has them\n",
                static_cast<long long>(counts.repeats_left_out));
  return kDone;
}
