#pragma once

#include <algorithm>
#include <optional>

#include "lens/straight_line.h"

namespace bq::inline lens {

/// How an edge in a picture is looked for.
struct SnapOptions {
  double reach_px = 14;  ///< an edge is looked for so far from the point that was shown, 3 to 200
  double swath_px = 60;  ///< half the length of edge that is used, 4 to 2000
  double turn_deg =
      12;  ///< the edge may lie so far from square to the line that was drawn, 0 to 40
  double softest_px = 10;  ///< an edge may be blurred so far (SD), 1.2 to 30
};

/// An edge found in a picture.
struct FoundEdge {
  LineFit fit;  ///< the line; its error_px is what other places along it would average out. Where
                ///< the edge is bent the line is its tangent at the point that was shown
  double soft_px = 0;    ///< the brightness changes from 10 to 90 % over so much
  double common_px = 0;  ///< standard error that no second taking takes away: where on a soft or
                         ///< rounded change the edge is
  double sag_px =
      0;  ///< how far it bends away from the tangent at the ends of the swath; 0 straight
};

/// The strongest edge near a point. `across`: unit vector over the edge. The mean brightness along
/// the swath is differentiated (derivatives of Gaussians from 1.2 px up to softest_px, weighed by
/// the root of their width so that a step answers best to the one as soft as itself; Lindeberg
/// 1998) for all directions within turn_deg, the largest answer wins (nearer ones are favoured by
/// up to a third); then the place is refined in twelve parts of the swath and a line, or where that
/// fits clearly better a parabola, is laid through them. `common_px` is a tenth of the softness and
/// 0.2 px: docs/methods.md says on which pictures that holds. Empty where nothing rises above 0.35
/// grey levels per pixel or the place lies outside the picture.
std::optional<FoundEdge> snap_edge(const GreyImage& image, Spot near, Spot across,
                                   const SnapOptions& options = {});

/// Distance between two edges that lie about parallel.
struct EdgeDistance {
  FoundEdge first, second;
  double width_px = 0;
  double error_px = 0;   ///< standard error from the scatter of both edges' places
  double common_px = 0;  ///< and that part of it which repeats share
  double lean_deg = 0;   ///< angle between the two edges; a large one: no constant width
  /// The softer edge's 10 to 90 % width.
  [[nodiscard]] double soft_px() const { return std::max(first.soft_px, second.soft_px); }
};
/// Both ends of a drawn line snapped; an edge is looked for no softer than a fifth of the line.
/// Empty when one of them finds no edge, both find the same one, or the ends are less than 3 px
/// apart.
std::optional<EdgeDistance> distance_between_edges(const GreyImage& image, Spot from, Spot to,
                                                   const SnapOptions& options = {});

}  // namespace bq::inline lens
