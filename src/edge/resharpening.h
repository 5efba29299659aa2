#pragma once

#include <optional>
#include <string>
#include <vector>

#include "edge/section.h"
#include "edge/weakest_place.h"

namespace bq::inline edge {

/// One touch-up, repeated: the apex wears flat to a width, the edge bevel is ground until it is
/// sharp again, then the micro-bevel is renewed.
struct TouchUp {
  double worn_width_um = 5;  ///< apex width at which the edge is taken back, > 0
  /// Angles of one side; a side without an edge bevel (a chisel's back) is not ground.
  struct Side {
    std::optional<double> edge_deg, micro_deg;
  };
  Side left{15, {}}, right{15, {}};
  double micro_facet_um = 50;
  /// The same angles on both sides.
  void set_both(double edge_deg, std::optional<double> micro_deg);
};

/// What a touch-up of this section renews, each side on its own: the face at the apex is a
/// micro-bevel where its grind was cut to a width and another face lies behind it. `grinds`: those
/// the section was made with.
TouchUp touch_up_of(const Section& section, const std::vector<Grind>& grinds, double worn_width_um);

struct TouchUpState {
  int touch_ups = 0;
  double apex_receded_mm = 0;  ///< since the start
  double removed_mm2 = 0;      ///< since the start, wear and grinding together
  double shoulder_thickness_mm =
      0;                     ///< at the upper end of the edge bevel: thickness behind the edge
  double edge_facet_um = 0;  ///< width of the edge bevel, mean of the sides
  double inclusive_deg = 0;
};

/// The section after 0, 1, … count touch-ups. Refused when one of them cannot be ground. count <=
/// 1000.
Checked<std::vector<TouchUpState>> touch_up_series(const Section& start, const TouchUp& touch_up,
                                                   int count);

/// The first touch-up after which the thickness behind the edge is above the limit; empty: never in
/// the series.
std::optional<int> thinning_due(const std::vector<TouchUpState>& series, double limit_mm);

/// Ways to the same thickness behind the edge, from the edge bevel up to the same height.
struct ThinningWish {
  double behind_edge_mm = 0.3;  ///< wished thickness where the thinned face meets the edge bevel
  double blend_mm = 8;          ///< distance from the apex at which the thinned face runs out
  /// Of the wheel of a hollow grind; empty: as the blade was ground, else 125 mm.
  std::optional<double> wheel_radius_mm;
  double convex_turn_deg =
      3;  ///< convex: how much steeper the face is at the edge than at the blend
};
struct ThinningOption {
  GrindShape shape = GrindShape::flat;
  std::string what;  ///< "flat", "flat stone on the shoulders, the hollow stays", …
  Grind grind;
  std::optional<Grind> then;  ///< the shoulders on a flat stone, after the wheel
  Section section;
  double removed_mm2 = 0;
  double parting_N_per_mm = 0;     ///< index at K = 1 down to the blend
  std::optional<double> peak_MPa;  ///< of the load, where one was given
  std::string why_not;  ///< it cannot be ground so: why; the figures are then those of the start
};
/// The radius (mm) of the hollow face nearest the apex; empty where none is hollow.
std::optional<double> hollow_radius_mm(const Section& section);
/// Index of parting (N/mm at K = 1) down to the wish's blend: what thinning is compared by.
double parting_to_blend_N_per_mm(const Section& section, const ThinningWish& wish);
/// Flat (on a hollow grind: the shoulders on a flat stone), hollow, convex, and on a hollow grind
/// the wheel with the shoulders after it. Each on its own: one that cannot be ground says why.
/// Refused with the reason when the wish cannot be ground in any shape.
Checked<std::vector<ThinningOption>> compare_thinning(const Section& start,
                                                      const ThinningWish& wish,
                                                      const std::optional<SideLoad>& load);

}  // namespace bq::inline edge
