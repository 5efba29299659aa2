#pragma once

#include "lens/straight_line.h"

namespace bq::inline lens {

/// What a known length in a picture is drawn as.
enum class ScaleMarkKind { bar, ruler };

/// A known length found in a picture.
struct ScaleMark {
  ScaleMarkKind kind = ScaleMarkKind::bar;
  Spot from, to;  ///< a bar's outer ends or arrow tips; the middles of a ruler's two lines
  double length_px = 0;
  double error_px = 0;  ///< standard error of the length
};

/// The scale bar whose ends, or the two ruler lines, that were shown within `reach_px`.
///
/// A *bar* is a band that stands out from the ground on both its sides all the way between the
/// points: its axis is found first, then along the axis where the band ends (half-way between its
/// brightness and that beyond). Ticks and arrow heads belong to it: their outer ends count, and
/// half a tick's width goes into the error, for some makers mean its middle. A *ruler's* lines lie
/// square to the drawn line with plain ground beside each: their middles are found over eight
/// stretches and must lean alike (within 3°). Refused in plain words: neither, only one end found,
/// an end as far away as was looked, lines that lean differently.
Checked<ScaleMark> find_scale_mark(const GreyImage& image, Spot from, Spot to,
                                   double reach_px = 10);

}  // namespace bq::inline lens
