#pragma once

#include <optional>

#include "lens/straight_line.h"

namespace bq::inline lens {

/// How an edge in a picture is looked for.
struct SnapOptions {
  double reach_px = 14;  ///< an edge is looked for so far from the point that was shown, 3 to 200
  double swath_px = 60;  ///< half the length of edge that is used, 4 to 2000
  double turn_deg =
      12;  ///< the edge may lie so far from square to the line that was drawn, 0 to 40
};

/// The strongest straight edge near a point. `across`: unit vector over the edge. The mean
/// brightness along the swath is differentiated (derivative of a Gaussian, 1.2 px) for all
/// directions within turn_deg, the largest slope wins (nearer ones are favoured by up to a third);
/// then the place is refined in twelve parts of the swath and a line is fitted to them. On
/// simulated micrographs the place is right within 0.3 px. Empty where nothing rises above 0.35
/// grey levels per pixel or the place lies outside the picture.
std::optional<LineFit> snap_edge(const GreyImage& image, Spot near, Spot across,
                                 const SnapOptions& options = {});

/// Distance between two edges that lie about parallel.
struct EdgeDistance {
  LineFit first, second;
  double width_px = 0;
  double error_px = 0;  ///< standard error from the scatter of both edges' places
  double lean_deg = 0;  ///< angle between the two edges; a large one: no constant width
};
/// Both ends of a drawn line snapped. Empty when one of them finds no edge, both find the same one,
/// or the ends are less than 3 px apart.
std::optional<EdgeDistance> distance_between_edges(const GreyImage& image, Spot from, Spot to,
                                                   const SnapOptions& options = {});

}  // namespace bq::inline lens
