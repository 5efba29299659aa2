#pragma once

#include <optional>
#include <vector>

#include "lens/apex_line.h"
#include "lens/registration.h"

namespace bq::inline lens {

/// The bright band just behind the apex, along a stretch: a worn apex that reflects, a roll, or a
/// burr that lies over.
struct BrightBand {
  double share = 0;                       ///< of the length that has one, (0, 1]
  double mean_px = 0, mean_error_px = 0;  ///< width where there is one; standard error
  double median_px = 0, ninth_px = 0;     ///< half of it, nine tenths of it are narrower
  double most_px = 0, most_error_px = 0;  ///< median of nine columns; standard error
  bool operator==(const BrightBand&) const = default;
};
/// What a traced stretch of apex shows along its length; pixels.
struct EdgeAlong {
  double length_px = 0;
  std::vector<ChipFound> chips;
  double wander_px = 0;  ///< root mean square of the sound apex about its line or belly, the
                         ///< tracing's own noise taken out
  double wander_error_px = 0;
  double cutoff_px = 0;                   ///< parts waviness from raggedness
  double wavy_px = 0, wavy_error_px = 0;  ///< root mean square of what is longer than that
  /// And of what is shorter, down to a tenth of it; empty where the picture is too coarse or too
  /// soft to show that.
  std::optional<double> ragged_px;
  double ragged_error_px = 0;
  std::optional<BrightBand> band;  ///< empty: none as long as six pixels
  double belly_px = 0;             ///< how far its middle stands before its ends
  double chipped_share = 0;        ///< of the length
  std::vector<double>
      depth_px;  ///< of the apex, evenly along it, for a small drawing (at most 400)
};
/// Wander: variance of the depths outside chips less that of their noise, which is what neighbours
/// differ in as their distance goes to nothing; its standard error from eight pieces of the
/// stretch. Waviness and raggedness: the same depths, chips bridged, parted by the Gaussian profile
/// filter of ISO 16610-21; `cutoff_px` at most a fifth of the length, 0: a fifth. A dark bevel's
/// band cannot be told from bright ground: there is none.
EdgeAlong along_edge(const ApexTrace& trace, double cutoff_px = 0);

/// A burr that stands: its rim is ragged, and a straight line of changing brightness behind it is
/// where it stands on the apex. Heights from that line (turned by up to 4° against the rim's) to
/// the rim, which is the traced apex; share: of the length outside chips that is two units high or
/// more. Empty where the rim is as straight as a sound apex, no such line shows, or it lies evenly
/// far behind (a facet's; an even burr is measured as a height).
std::optional<BrightBand> standing_burr(const GreyImage& image, const ApexTrace& trace);

/// How far the apex fell back between two pictures of one place; pixels of the earlier one.
struct Recession {
  double mean_px = 0, mean_error_px = 0;    ///< over the stretch seen in both; standard error
  double most_px = 0, most_error_px = 0;    ///< at its worst place (mean over nine columns)
  double most_at_px = 0;                    ///< along the earlier trace's line
  double area_px2 = 0, area_error_px2 = 0;  ///< metal lost: what receded, times the length
  double length_px = 0;                     ///< seen in both
  std::vector<double> depth_px;             ///< evenly along it, at most 400
};
/// `map` leads from the later picture into the earlier one, and is right within `map_error_px`
/// (standard error, across the edge; all places share it). What is softer or differently lit shifts
/// the apex that is found: a tenth of each softness is in the error. Refused: less than 40 px seen
/// in both, the blade on different sides.
Checked<Recession> recession(const ApexTrace& earlier, const ApexTrace& later,
                             const Similarity& map, double map_error_px);

}  // namespace bq::inline lens
