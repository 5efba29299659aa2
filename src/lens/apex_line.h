#pragma once

#include <optional>
#include <vector>

#include "lens/straight_line.h"

namespace bq::inline lens {

/// The apex in a picture: where the dark surround meets the bevel, point by point along a straight
/// line.
struct ApexTrace {
  StraightLine line;              ///< fitted to the sound parts
  Spot inward;                    ///< unit vector from the apex into the blade
  std::vector<double> along_px;   ///< places on the line, every pixel, rising
  std::vector<double> inward_px;  ///< depth of the apex below the line there: > 0 metal is missing,
                                  ///< < 0 something stands out
  std::vector<double> brightness;  ///< at the apex: mean of the first two pixels inside
  std::vector<double> deeper;      ///< mean of the fourth to seventh pixel inside
  std::vector<double> width_px;    ///< width of the bright band at the apex; 0 where there is none
  double scatter_px = 0;           ///< robust SD of the sound parts' depth
  double error_px = 0;             ///< standard error of the line's place
  double surround = 0, bevel = 0;  ///< grey levels outside and on the bevel
};
/// Follows the apex from one point to another (both near it, the bevel on the darker-to-lighter
/// side within `reach_px`): at every pixel along the line the first lasting rise over a third of
/// the way from surround to bevel, seen from outside (linear between samples; mean of three
/// columns). Chips and burrs do not bend the line (Huber). Refused: points closer than 20 px or
/// outside the picture, no difference in brightness.
Checked<ApexTrace> trace_apex(const GreyImage& image, Spot from, Spot to, double reach_px = 60);

/// How straight the apex is over the traced length.
struct Straightness {
  double rms_px = 0;    ///< of all depths about the line
  double range_px = 0;  ///< largest minus smallest
  double length_px = 0;
};
Straightness straightness(const ApexTrace& trace);

/// A place where metal is missing.
struct ChipFound {
  double from_px = 0, to_px = 0;  ///< along the line
  double width_px = 0, depth_px = 0;
  double width_error_px = 0, depth_error_px = 0;
};
/// The chip that covers (or lies nearest to) `at_px`; its walls are carried to the line along their
/// lowest part. Empty where nothing is deeper than four times the scatter (at least 2 px).
std::optional<ChipFound> chip_at(const ApexTrace& trace, double at_px);
/// All of them, in order.
std::vector<ChipFound> chips_of(const ApexTrace& trace);

}  // namespace bq::inline lens
