#pragma once

#include <string>
#include <vector>

#include "bluntness/run_fits.h"
#include "workflow/source.h"

/// Reads a project or table for an analysis; on refusal prints the problems and throws CommandEnd.
bq::Trial trial_from(const std::string& source, bool skip_bad);

/// The same with what else the project says (its threshold).
bq::SourceResult source_from(const std::string& source, bool skip_bad);

/// Opens a project to be read and prints what is to be known of that. Throws StoreError.
bq::ProjectFile project_from(const std::string& path);

/// Prints what a source said; where it was refused throws CommandEnd: "…; nothing was DONE."
void accept_or_end(const bq::SourceResult& result, const std::string& done);

/// The same for tables to import; `skipped` counts rows left out.
bq::SourceResult tables_from(const std::vector<std::string>& paths, bool skip_bad);

/// "best" or a model's name; throws CommandEnd with usage for anything else.
bq::CurveOptions curve_options_from(const std::string& model, bool robust);

/// Fits every run on all cores.
std::vector<bq::RunFit> fits_of(const bq::Trial& trial, const bq::CurveOptions& options);

/// The threshold as typed, or throws CommandEnd with usage.
bq::Threshold threshold_from(const std::string& text, const bq::Trial& trial,
                             const std::vector<bq::RunFit>& fits);
