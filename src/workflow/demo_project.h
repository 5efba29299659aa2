#pragma once

#include <filesystem>

#include "store/project_file.h"
#include "rehearsal/recipe.h"

namespace bq {

/// Makes a project from a recipe's planned runs and a readings table that the recipe gave: every
/// run gets its plan, runs that are planned only are added without readings. Throws StoreError.
/// Returns the counts of what was put in.
ImportCounts make_demo_project(const std::filesystem::path& path, const Recipe& recipe,
                               const Trial& readings);

}  // namespace bq
