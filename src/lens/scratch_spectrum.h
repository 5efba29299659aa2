#pragma once

#include <optional>

#include "lens/straight_line.h"

namespace bq::inline lens {

/// Scratches that are counted closer together than this are refused: what is finer than about five
/// pixels runs together, and a count of it says too few.
inline constexpr double kFinestScratches_px = 5.5;

/// Scratches that cross the others.
struct CrossingScratches {
  double direction_deg = 0, direction_error_deg = 0;  ///< as in ScratchFinding
  double spacing_px = 0, spacing_error_px = 0;        ///< standard error
  bool operator==(const CrossingScratches&) const = default;
};
/// What a box of a picture says of the scratches in it.
struct ScratchFinding {
  double direction_deg = 0;  ///< of the scratches in the picture, (-90°, 90°]; 0 lies along its
                             ///< rows, positive turns clockwise on the screen
  double direction_error_deg = 0;  ///< standard error from parts of the box
  double spacing_px = 0;           ///< mean distance of neighbouring scratches
  double spacing_error_px = 0;     ///< standard error
  double oneness = 0;  ///< 0: brightness changes alike in all directions … 1: in one only
  double streaks = 0;  ///< share of the scratches at least three times as deep as the median
  int scratches = 0;   ///< about so many lie side by side in the box
  std::optional<CrossingScratches> crossing;  ///< a crosshatch: the weaker of two directions
};

/// Direction from the structure tensor (Bigun & Granlund 1987) of the box, then the one near it in
/// which the mean along the scratches is sharpest. Spacing in two steps:
/// the spectrum across the scratches, as the real part of the cross spectra of neighbouring strips
/// of the profile with its heights pressed together (what strips share are scratches, not noise),
/// gives the rate at which it passes its mean (Rice 1944) and so the fineness to look at; then the
/// grooves in the mean profile are counted. A gap over 1.6 times the median is taken to hide a
/// scratch that is too shallow to be seen. The spectrum alone scatters by 9 % on simulated
/// pictures, the count by 2 % (docs/methods.md). The box is centred at `middle`, `width` × `height`
/// px along the picture's axes; the standard error takes the gaps' own scatter over their number
/// and half a scratch at the ends. A crosshatch is two directions at least 25° apart that
/// brightness changes across: each is counted in the mean along itself, which evens the other out.
/// Refused: a box smaller than 48 px or outside the picture; neither one direction (oneness below
/// 0.15) nor two; fewer than six scratches side by side; scratches closer than kFinestScratches_px.
/// A picture softer than 1.2 px (SD) merges what is wider than that too, and nothing in scratches
/// alone tells it from a sharp one of coarser scratches: where an edge is in the picture its
/// softness tells (take_measure).
Checked<ScratchFinding> find_scratches(const GreyImage& image, Spot middle, double width,
                                       double height);

/// The same along a drawn line, averaged over 24 px along the scratches: the distances along the
/// line are turned into distances across the scratches. Refused besides: a line shorter than 48 px,
/// one that runs along the scratches (closer than 15°), a crosshatch.
Checked<ScratchFinding> find_scratches_along(const GreyImage& image, Spot from, Spot to);

}  // namespace bq::inline lens
