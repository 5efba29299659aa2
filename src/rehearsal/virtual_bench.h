#pragma once

#include <cstdint>

#include "rehearsal/recipe.h"

namespace bq::inline rehearsal {

/// Plays a recipe on virtual blades and returns the trial it leaves. Run i draws from its own
/// random stream (seed, i), so adding a run at the end changes no other. Runs that are planned only
/// come without readings. Readings are rounded to the gauge's resolution, at least one step.
Trial play(const Recipe& recipe, std::uint64_t seed);

/// The virtual blade of a run, its wear scaled by `run_factor`.
VirtualBlade blade_of(const Recipe& recipe, const RecipeRun& run, double run_factor);

}  // namespace bq::inline rehearsal
