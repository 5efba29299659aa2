#pragma once

#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "quantity/checked.h"
#include "rehearsal/virtual_blade.h"

namespace bq::inline rehearsal {

/// A run of a recipe: what it is about, when it is read, and what goes wrong in it.
struct RecipeRun {
  RunFacts facts;
  RunPlan plan;
  std::string by_operator;
  std::vector<std::string> stations;  ///< taken in turn
  double residual_burr_um = 0;
  double wear_scale = 1;            ///< of everything that is no steel: user factors, operators
  bool planned_only = false;        ///< on the run sheet, not yet run
  std::optional<double> played_to;  ///< under way: played to this many cuts of its plan
  struct Slip {                     ///< one reading taken badly
    std::size_t checkpoint = 0;
    int reading = 0;
    double factor = 1;
  };
  std::vector<Slip> slips;
};

/// A made-up trial: media, steels, gauge, scatter and runs (docs/recipe-format.md).
struct Recipe {
  std::string title;
  std::map<std::string, VirtualMedium> media;
  std::map<std::string, VirtualSteel> steels;
  VirtualGauge gauge;
  VirtualScatter scatter;
  std::vector<RecipeRun> runs;
  std::string threshold;  ///< as typed, "" when the recipe names none
  /// A run ends with the first checkpoint whose median has reached this reading of the gauge.
  std::optional<double> stop_at;
};

/// Reads a recipe from JSON. Runs come from "runs" one by one and from "design", which crosses
/// steels, apex angles and finishes and shuffles the order inside blocks by its own seed.
/// Refused with the place ("line:column" or the path of the key): not JSON, a missing or wrong
/// value, an angle outside (0°, 80°), an unknown steel or medium.
Checked<Recipe> parse_recipe(std::string_view json);

}  // namespace bq::inline rehearsal
