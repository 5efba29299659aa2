#pragma once

#include <optional>

#include "bluntness/rough_use.h"

/// The side load that a damage search has met, from what it bent and what it left alone (DOMAIN
/// §9). All loads are N per mm of edge, spread over the buried depth; estimates.
namespace bq::inline bluntness {

/// Load that brings a section to the limit where it is `thickness_um` thick: what bent it up to
/// there. limit_MPa, depth_mm > 0, thickness_um > 0.
double load_to_thickness(const ApexProfile& section, double limit_MPa, double depth_mm,
                         double thickness_um);
/// Least load that brings it to the limit anywhere between kApexFloor_um of thickness and 2 mm from
/// the apex: what leaves it clean lies below.
double first_yield_load(const ApexProfile& section, double limit_MPa, double depth_mm);
/// Largest thickness (µm) up to which a load takes a section over the limit; 0: it bears it.
double yield_thickness_um(const ApexProfile& section, double load_N_per_mm, double limit_MPa,
                          double depth_mm);
/// Thinner than this no plate bends, and no look tells.
inline constexpr double kApexFloor_um = 3;

/// The hardest side load of a rough block, with its 95 % range.
struct SearchLoad {
  double best_N_per_mm = 0, low_N_per_mm = 0, high_N_per_mm = 0;
  int damaged = 0, clean = 0;  ///< blocks it rests on
};
/// A block that damaged up to a thickness gives the load (the thickness is read to kReadError of
/// itself), one whose damage was not measured a lower bound, a clean one an upper bound. Blocks
/// differ by a factor e^s; s is not known and is averaged over, 0.05 to 0.5, all loads equally
/// likely beforehand. Empty: no damaged block, so nothing bounds the load from below.
std::optional<SearchLoad> calibrated_load(const DamageSearch& search, double limit_MPa,
                                          double depth_mm);
inline constexpr double kReadError = 0.1;

}  // namespace bq::inline bluntness
