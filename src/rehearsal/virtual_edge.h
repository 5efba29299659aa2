#pragma once

#include <string>
#include <string_view>

#include "rehearsal/recipe.h"
#include "stats/random.h"

namespace bq::inline rehearsal {

/// An edge of DOMAIN §12 as it lies before the instruments: what the stand-ins measure. The file
/// that hands it to them is JSON (docs/instruments.md).
struct VirtualEdge {
  std::string run;              ///< its name decides the run's own random numbers
  std::uint64_t sharpened = 0;  ///< counts up with every sharpening of the run: another draw
  EdgeGeometry geometry = *EdgeGeometry::make({15, 15}, std::nullopt);
  Finish finish{6, 6};
  double wear_factor =
      1;  ///< steel × everything that is no geometry, without the run's own scatter
  double residual_burr_um = 0;
  VirtualMedium medium;
  VirtualGauge gauge;
  VirtualScatter scatter;
  std::uint64_t seed = 1;
  std::int64_t cuts = 0;
  std::optional<double>
      check_weight;  ///< in the gauge's unit: it lies on the gauge instead of the edge
  double severing_N_per_um = 2.5;  ///< of effective apex width
  double stiffness_N_per_mm3 = 0.1, friction = 0.3, depth_mm = 5,
         engaged_mm = 25;  ///< of the parting
};

std::string virtual_edge_json(const VirtualEdge& edge);
/// Refused with the place: no JSON, a missing or wrong value.
Checked<VirtualEdge> parse_virtual_edge(std::string_view json);

/// One run of a recipe as it lies before the instruments at `cuts`.
VirtualEdge virtual_edge(const Recipe& recipe, const RecipeRun& run, std::uint64_t seed,
                         std::int64_t cuts);

/// The wear multiplied by what this run happens to be (exp of the run's SD times its own draw).
double run_factor(const VirtualEdge& edge);
/// The edge without scatter of checkpoints and readings; with the run's own factor.
VirtualBlade blade_of(const VirtualEdge& edge);
/// Reading number `index` (0, 1, …) at the present cuts, in the gauge's unit, rounded to its
/// resolution. The same numbers on every machine.
double gauge_reading(const VirtualEdge& edge, int index);
/// Severing and parting force (N) of a standard stroke now, without noise.
struct StrokeForce {
  double severing_N = 0, parting_N = 0;
};
StrokeForce stroke_force(const VirtualEdge& edge);

}  // namespace bq::inline rehearsal
