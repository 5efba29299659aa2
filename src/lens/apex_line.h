#pragma once

#include <optional>
#include <vector>

#include "lens/straight_line.h"

namespace bq::inline lens {

/// The apex in a picture: where the dark surround meets the bevel, point by point along a straight
/// line.
struct ApexTrace {
  StraightLine line;  ///< fitted to the sound parts
  Spot inward;        ///< unit vector from the apex into the blade
  double bend = 0;    ///< a belly: the sound apex lies bend·s² behind the line, s px from
                      ///< line.at; 0: straight as far as can be told
  std::vector<double> along_px;    ///< places on the line, every unit_px, rising
  std::vector<double> inward_px;   ///< depth of the apex below the sound one there: > 0 metal is
                                   ///< missing, < 0 something stands out
  std::vector<double> brightness;  ///< at the apex: mean of the first two units inside
  std::vector<double> deeper;      ///< mean of the fourth to seventh unit inside
  std::vector<double> width_px;    ///< width of the bright band at the apex; 0 where there is none
  double scatter_px = 0;           ///< robust SD of the sound parts' depth
  double error_px = 0;             ///< standard error of the line's place
  double soft_px = 0;              ///< 10 to 90 % width of the apex in the picture
  double unit_px = 1;  ///< the picture was looked at so much coarser, for it is that much softer
  double surround = 0, bevel = 0;  ///< grey levels outside and on the bevel
  bool side_told = false;  ///< which side is metal was told or is clear from its scratches; else
                           ///< the brighter one was taken
  /// The sound apex at a place along the line, and `depth_px` behind it.
  [[nodiscard]] Spot spot(double at_px, double depth_px = 0) const {
    return line.at + at_px * line.along + (depth_px + bend * at_px * at_px) * inward;
  }
  /// Standard error that widths of the bright band share: both its ends are found in brightness
  /// that is blurred alike in every column.
  [[nodiscard]] double band_common_px() const;
  /// How far the belly's middle stands before its ends.
  [[nodiscard]] double sag_px() const;
};
struct ApexOptions {
  /// An apex is looked for so far from the line; where it goes deeper, twice as far, up to 1600 px.
  double reach_px = 60;
  std::optional<Spot> metal;  ///< a point on the blade; empty: the side with scratches, else the
                              ///< brighter one
};
/// Follows the apex from one point to another, both near it: at every pixel along the line the
/// first lasting change over a third of the way from surround to bevel, seen from outside (linear
/// between samples; mean of three columns). A picture softer than 4 px (10 to 90 %) is looked at as
/// much coarser. Chips and burrs do not bend the line (Huber), nor a belly, which is a parabola
/// where that fits clearly better. Refused: points closer than 20 px or outside the picture, no
/// difference in brightness.
Checked<ApexTrace> trace_apex(const GreyImage& image, Spot from, Spot to,
                              const ApexOptions& options = {});

/// How straight the apex is over the traced length.
struct Straightness {
  double rms_px = 0;    ///< of all depths about the line, or about the belly
  double range_px = 0;  ///< largest minus smallest
  double length_px = 0;
};
Straightness straightness(const ApexTrace& trace);

/// A place where metal is missing.
struct ChipFound {
  double from_px = 0, to_px = 0;  ///< along the line
  double width_px = 0, depth_px = 0;
  double width_error_px = 0, depth_error_px = 0;    ///< standard errors
  double width_common_px = 0, depth_common_px = 0;  ///< and the parts of them that repeats share
};
/// The chip that covers (or lies nearest to) `at_px`; its walls are carried to the line along their
/// lowest part. Blur takes the tip of a chip: where straight walls that meet, or a bowl, blurred as
/// the apex is, come close to what is seen, their depth counts and what they add is half in doubt.
/// Empty where nothing is deeper than four times the scatter (at least 2 units).
std::optional<ChipFound> chip_at(const ApexTrace& trace, double at_px);
/// All of them, in order.
std::vector<ChipFound> chips_of(const ApexTrace& trace);

}  // namespace bq::inline lens
