#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "quantity/checked.h"

namespace bq::inline quantity {

/// How an angle is said. Stored angles are always per side.
enum class AngleConvention { per_side, inclusive };

/// Largest angle per side that the program takes, exclusive (degrees); the least is 0, exclusive.
inline constexpr double kAngleLimit_deg = 80.0;

/// True when the angle per side lies in (0°, 80°).
[[nodiscard]] bool angle_in_range(double per_side_deg);

double radians(double degrees);
double degrees(double radians);

/// Reads what a person types for a symmetric edge: "12", "12°", "12 deg", "24 inclusive",
/// "12 per side". A bare number is read in `bare`; without `bare` it is refused as ambiguous.
/// Returns degrees per side; refused outside (0°, 80°) per side.
Checked<double> parse_angle(std::string_view text, std::optional<AngleConvention> bare);

/// "12° per side" or "24° inclusive".
std::string print_angle(double per_side_deg, AngleConvention convention);

/// The number alone, in the convention: 12 per side -> "24" inclusive.
std::string print_angle_number(double per_side_deg, AngleConvention convention);

/// "per side" or "inclusive".
std::string_view name_of(AngleConvention convention);
std::string words_of(AngleConvention convention);  ///< the same in the desk's language

}  // namespace bq::inline quantity
