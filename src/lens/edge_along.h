#pragma once

#include <optional>
#include <vector>

#include "lens/apex_line.h"
#include "lens/registration.h"

namespace bq::inline lens {

/// What a traced stretch of apex shows along its length; pixels.
struct EdgeAlong {
  double length_px = 0;
  std::vector<ChipFound> chips;
  double wander_px = 0;  ///< root mean square of the sound apex about its line or belly, the
                         ///< tracing's own noise taken out
  double wander_error_px = 0;
  double belly_px = 0;       ///< how far its middle stands before its ends
  double chipped_share = 0;  ///< of the length
  std::vector<double>
      depth_px;  ///< of the apex, evenly along it, for a small drawing (at most 400)
};
/// Wander: variance of the depths outside chips minus that of differences of neighbours (which
/// share no scratch ten units apart less); its standard error from eight pieces of the stretch.
EdgeAlong along_edge(const ApexTrace& trace);

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
