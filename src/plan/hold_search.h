#pragma once

#include <cstdint>
#include <optional>

#include "quantity/checked.h"

namespace bq::inline plan {

/// A search for the slimmest edge that holds the roughest use, as it is planned: it begins slim,
/// goes a step steeper after damage, and ends with a clean block and a clean confirmation of one
/// geometry (DOMAIN §9; the Bench runs it by `propose`).
struct HoldSearch {
  double start_deg = 10;  ///< per side, 1 … 45
  double step_deg = 2;    ///< 0.1 … 15
  std::int64_t rough_cuts = 50;
  std::int64_t confirm_cuts = 300;  ///< 0: a clean block is enough
  /// An edge holds that is damaged less than once in so many cuts of the roughest use.
  std::int64_t wanted_cuts = 300;
  double expected_deg = 14;  ///< the slimmest per side that is thought to hold; 1 … 45
  /// SD of ln of the side load from cut to cut: 0.6 is the virtual bench's (DOMAIN §12).
  double load_sd = 0.6;
  bool operator==(const HoldSearch&) const = default;
};

/// What such a search comes to. Angles are those of its own stairs.
struct HoldChance {
  double slimmest = 0;   ///< chance that it ends at the slimmest angle that holds
  double too_slim = 0;   ///< … at one that does not hold
  double too_steep = 0;  ///< … at a steeper one than is needed, or at none up to 45°
  double blocks = 0;     ///< blocks that are cut, confirmations among them, on average
  double cuts = 0;       ///< of the roughest use, on average
};

/// The chances by formula: cuts are independent, each draws its side load log-normally, a plain
/// wedge bears a load in proportion to tan² of its angle, damage is seen when it is there. The true
/// slimmest angle is taken to lie anywhere within half a step of `expected_deg`. Refused: a value
/// outside its range.
Checked<HoldChance> hold_chance(const HoldSearch& search);

/// The length of the confirmation, of a ladder of round figures up to 20 × wanted_cuts, with the
/// best chance to end at the slimmest angle. Refused as hold_chance.
Checked<std::int64_t> best_confirmation(const HoldSearch& search);

}  // namespace bq::inline plan
