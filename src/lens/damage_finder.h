#pragma once

#include <string_view>
#include <vector>

#include "lens/apex_line.h"

namespace bq::inline lens {

enum class ApexDamage { chip, roll, glint };
std::string_view name_of(ApexDamage kind);
std::optional<ApexDamage> parse_apex_damage(std::string_view text);

/// Something on the apex that the tester may want to accept.
struct DamageHint {
  ApexDamage kind = ApexDamage::chip;
  double from_px = 0, to_px = 0;  ///< along the apex line
  double size_px = 0;             ///< chip: depth; roll and glint: width of the bright band
  double strength = 0;            ///< how far above its limit, 1 … ; larger is clearer
  Spot at;                        ///< its middle in the picture
};

/// Chips (chips_of), then stretches that are brighter than the rest of the apex by 15 grey levels
/// or three times its scatter (means over nine pixels along it), at least 6 px long: bright four to
/// seven pixels inside is a roll, at the apex only a glint. It suggests and never decides: how
/// often it is right on simulated pictures stands in docs/methods.md.
std::vector<DamageHint> find_damage(const ApexTrace& trace);

/// Ends of the apex line: the straight edge that most of twenty columns (or rows) of the picture
/// agree on, else the belly (a parabola). Empty where fewer than three in five do.
std::optional<std::pair<Spot, Spot>> find_apex(const GreyImage& image);

}  // namespace bq::inline lens
