#include <filesystem>

#include "commands.h"
#include "output.h"
#include "readings_source.h"
#include "store/project_file.h"

int run_import(const ImportOptions& options) {
  namespace fs = std::filesystem;
  auto tables = tables_from(options.tables, options.skip_bad);
  bq::ImportCounts counts;
  std::error_code ignored;
  if (fs::exists(options.project, ignored)) {
    counts = bq::ProjectFile::open(options.project, bq::ProjectFile::Access::write)
                 .import(tables.trial, options.append);
  } else {
    // A project that cannot be filled must not stay behind empty.
    try {
      auto project =
          bq::ProjectFile::create(options.project, fs::path(options.project).stem().string());
      counts = project.import(tables.trial, options.append);
    } catch (const bq::StoreError& error) {
      if (error.problem() != bq::StoreProblem::exists) fs::remove(options.project, ignored);
      throw;
    }
  }
  if (options.json)
    print_json({{"runs", counts.runs}, {"readings", counts.readings}, {"skipped", tables.skipped}});
  else
    std::printf("%d runs and %lld readings imported, %lld rows skipped\n", counts.runs,
                static_cast<long long>(counts.readings), static_cast<long long>(tables.skipped));
  return kDone;
}
