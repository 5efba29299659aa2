#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "edge/parting.h"

namespace bq::inline edge {

/// What lies under the edge on a strop, and how hard it is pressed, in words a hand knows.
enum class StropBacking { thin_on_wood, thick, hanging };
inline constexpr int kStropBackings = 3;
std::string_view name_of(StropBacking backing);  ///< "thin leather on wood"
enum class StropPressure { blade_weight, light, firm };
inline constexpr int kStropPressures = 3;
std::string_view name_of(StropPressure pressure);  ///< "the weight of the blade"

/// The substrate and the pressure (MPa) behind the words: round figures of this program, set so
/// that thin leather on wood under the weight of the blade adds about one degree and thick soft
/// leather pressed firmly doubles 14° (DOMAIN §4). A hanging strap gives more than either.
Substrate substrate_of(StropBacking backing);
double pressure_MPa(StropPressure pressure);
/// The word whose pressure, or give under one pressure, is nearest in ratio.
StropBacking nearest_backing(const Substrate& substrate);

/// What a strop does to the angle at the apex (estimate).
struct StropContact {
  double steeper_deg = 0;  ///< per side, over the angle that is held
  double apex_deg = 0;     ///< per side, that the apex meets at `held_deg`
  /// The angle to hold so that the apex meets `held_deg`; empty: the strop gives more than that.
  std::optional<double> hold_deg;
  std::vector<std::string> remedies;  ///< lower lift, less pressure, harder backing: as they apply
  std::string sentence;  ///< "Thin leather on wood under the weight of the blade: the apex …"
};
/// held_deg: per side, 1° to 79°; the spine's lift on the strop.
Checked<StropContact> strop_contact(StropBacking backing, StropPressure pressure, double held_deg);

}  // namespace bq::inline edge
