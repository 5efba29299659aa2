#pragma once

#include <string_view>
#include <vector>

#include "lens/apex_line.h"

namespace bq::inline lens {

enum class ApexDamage { chip, roll, glint };
std::string_view name_of(ApexDamage kind);
std::optional<ApexDamage> parse_apex_damage(std::string_view text);

/// A figure may be suggested, and go into a record: its 95 % half-width is at most half of it.
inline bool sure_to_half(double value, double error) { return 1.96 * error <= 0.5 * value; }

/// Something on the apex that the tester may want to accept.
struct DamageHint {
  ApexDamage kind = ApexDamage::chip;
  double from_px = 0, to_px = 0;  ///< along the apex line
  double size_px = 0;             ///< chip: depth; roll and glint: width of the bright band
  double length_error_px = 0, size_error_px = 0;  ///< standard errors
  double strength = 0;  ///< how far above its limit, 1 … ; larger is clearer
  Spot at;              ///< its middle in the picture
  [[nodiscard]] bool length_sure() const { return sure_to_half(to_px - from_px, length_error_px); }
  [[nodiscard]] bool size_sure() const { return sure_to_half(size_px, size_error_px); }
};

/// Chips (chips_of), then stretches that are brighter than the rest of the apex by 15 grey levels
/// or three times its scatter (means over nine pixels along it), at least 6 px long: bright four to
/// seven pixels inside is a roll, at the apex only a glint. It suggests and never decides: how
/// often it is right on simulated pictures stands in docs/methods.md.
std::vector<DamageHint> find_damage(const ApexTrace& trace);

/// Ends of the apex line: the straight edge that most of twenty columns (or rows) of the picture
/// agree on, else the belly (a parabola), else the ragged rim of a burr (within 18 of 640 px of a
/// line). Empty where fewer than three in five do.
std::optional<std::pair<Spot, Spot>> find_apex(const GreyImage& image);

}  // namespace bq::inline lens
