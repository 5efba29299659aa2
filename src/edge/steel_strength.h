#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "quantity/checked.h"

namespace bq::inline edge {

/// Vickers hardness (kgf/mm²) for Rockwell C, straight between the entries of ASTM E140 table 1
/// (non-austenitic steels). Refused outside 20…68 HRC.
Checked<double> vickers_of(double hardness_hrc);
/// The inverse; refused outside 238…940 HV.
Checked<double> rockwell_c_of(double vickers);
/// Yield strength (MPa), estimate: a third of the Vickers hardness, 1 kgf/mm² = 9.80665 MPa.
Checked<double> yield_MPa(double hardness_hrc);

/// How readily an edge breaks out instead of bending.
enum class Toughness { tough, middling, brittle };
std::string_view name_of(Toughness toughness);
std::optional<Toughness> parse_toughness(std::string_view text);
/// Bend strength (MPa) taken where none was entered: 4500, 3500, 2500. Round figures of this
/// program for hardened tool steels, to be replaced by the steel's own.
double default_bend_strength_MPa(Toughness toughness);

/// What an edge bends or breaks at. Absent: not known.
struct StrengthLimits {
  std::optional<double> yield_MPa;          ///< bends flat
  std::optional<double> bend_strength_MPa;  ///< breaks out
};
enum class Failure { bends_flat, breaks_out };
std::string_view name_of(Failure failure);
/// The smaller limit that is known, and what happens there.
struct LeadingLimit {
  double limit_MPa = 0;
  Failure failure = Failure::bends_flat;
};
std::optional<LeadingLimit> leading_limit(const StrengthLimits& limits);

}  // namespace bq::inline edge
