#pragma once

#include <string>
#include <vector>

#include "edge/section.h"
#include "edge/steel_strength.h"

namespace bq::inline edge {

/// A sideways load on the buried part of the edge.
struct SideLoad {
  double line_N_per_mm = 0;  ///< force per mm of edge, > 0
  double depth_mm = 0;       ///< buried depth 2·h₀ over which it is spread evenly, > 0
  /// Of edge that it acts on, mm: toward the spine the moment spreads by as much on either side as
  /// it goes up (45°, the usual rule for plates). 0: all of the edge, nothing spreads.
  double length_mm = 0;
};

/// Bending moment per mm of edge (N) at a distance h (mm) from the apex: f·h²/(4·h₀) down to the
/// buried depth 2·h₀, f·(h − h₀) beyond (DOMAIN §1); times l/(l + 2·h) for a load on a length l.
double bending_moment_N(const SideLoad& load, double h_mm);

struct StressPoint {
  double at_mm = 0;       ///< from the apex
  double stress_MPa = 0;  ///< 6·M/t²
};

enum class WeakPlace {
  apex_zone,  ///< within the buried depth
  neck,       ///< behind a steep facet, weaker than the apex zone in front of it
  behind      ///< beyond the buried depth in a section without such a neck
};

struct WeakestPlace {
  double peak_MPa = 0;
  double at_mm = 0;         ///< from the apex; of a stretch (from_apex) its end toward the spine
  double thickness_mm = 0;  ///< of the section there
  /// The stress is within a twentieth of the peak from where it can be told at all to at_mm: a
  /// stretch, in which no place is weaker than another.
  bool from_apex = false;
  WeakPlace place = WeakPlace::apex_zone;
  int facet_made_by = kMadeByBlank;  ///< the grind whose facet lies there (left side)
  double apex_zone_MPa = 0;          ///< largest stress within the buried depth, for comparison
  std::vector<StressPoint> scan;     ///< for drawing, rising distance
};

/// Scans σ(h) = 6·M(h)/t(h)² over the ground part of the section (estimate), from where it is 1 µm
/// thick: nearer the apex no plate bends, and no finish leaves an apex thinner. A peak behind the
/// apex is refined to a relative 1e-9 of its place. Refused: a load that is not positive, a section
/// with a sharp apex that no facet explains (t = 0 over a stretch).
Checked<WeakestPlace> weakest_place(const Section& section, const SideLoad& load);

/// Least angle per side (degrees) of a plain symmetric wedge that this load does not bring over the
/// limit: atan √(0.375·f/(h₀·σ)).
double least_wedge_angle_deg(const SideLoad& load, double limit_MPa);

/// Stress (MPa) of a plain symmetric wedge, constant down to the buried depth.
double wedge_stress_MPa(const SideLoad& load, double angle_deg);

/// "bends flat at 120 µm from the apex, 50 µm thick: a weak neck behind a strong apex", "holds;
/// weakest from the apex on, to 80 µm from it: the buried apex", without the load's size.
std::string describe(const WeakestPlace& place, const StrengthLimits& limits);

}  // namespace bq::inline edge
