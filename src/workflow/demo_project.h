#pragma once

#include <filesystem>
#include <optional>
#include <string_view>

#include "rehearsal/recipe.h"
#include "store/project_file.h"

namespace bq::inline store {
class JsonFields;
}

namespace bq::inline workflow {

/// Steel and medium cards and dated lines of blades' histories, as demo/fernmoor-rack.json holds
/// them: `steel_cards`, `medium_cards`, `history` (blade, made_at, kind, data as in
/// docs/file-format.md). Puts them into the trial; a blade that is not there is added. Refused with
/// the entry's place.
std::optional<Refusal> add_rack(Trial& trial, std::string_view json);

/// Makes a project from a recipe's planned runs and a readings table that the recipe gave: every
/// run gets its plan, runs that are planned only are added without readings. Throws StoreError.
/// `plan_json` (a plan file) and `claims_json` (a plan book's claims) become its plans;
/// `world_json` (a recipe) is what its stand-in instruments measure; `bench_json` holds `protocol`,
/// `sessions` (kind, made_at, data) and `checks` (made_at, data), all as in docs/file-format.md.
/// Returns the counts of what was put in.
ImportCounts make_demo_project(const std::filesystem::path& path, const Recipe& recipe,
                               const Trial& readings, std::string_view rack_json = {},
                               std::string_view plan_json = {}, std::string_view claims_json = {},
                               std::string_view world_json = {}, std::string_view bench_json = {});

/// "strokes" and "looks" of a bench file: played by the wear simulator's edges on the runs whose
/// names begin as "runs" says. Throws JsonFault, StoreError.
void keep_demo_bench(const JsonFields& file, ProjectFile& project);
/// "pictures" of a bench file: micrographs of one place over the cuts and of sample pieces, made by
/// the simulated microscope, measured as the window would. Throws JsonFault, StoreError.
void keep_demo_pictures(const JsonFields& file, ProjectFile& project);

}  // namespace bq::inline workflow
