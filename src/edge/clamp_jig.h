#pragma once

#include <optional>
#include <string>
#include <vector>

#include "edge/edge_outline.h"

namespace bq::inline edge {

/// A clamp jig in the frame of the blade's outline (DOMAIN §2).
struct ClampJig {
  double pivot_x_mm = 0;        ///< foot of the pivot along the blade
  double pivot_lateral_mm = 0;  ///< foot of the pivot across the blade, in the outline's y
  double pivot_height_mm = 0;   ///< D: the pivot's distance from the blade's plane, > 0
  double offset_mm = 0;         ///< r: abrasive face from the pivot, positive toward the blade
};

/// Where the blade sits in the jig: turned about its outline's middle, then moved along x.
struct ClampPlacement {
  double shift_mm = 0;
  double turn_deg = 0;
};

/// Angle per side (degrees) where the edge's tangent runs at distance d from the pivot's foot:
/// the θ with D·cos θ − d·sin θ = r. Refused outside (0°, 80°).
Checked<double> clamp_angle_deg(const ClampJig& jig, double tangent_distance_mm);

/// Angles along one edge in one jig. Sampled at `samples` places; station angles are exact for the
/// outline.
class ClampSolver {
 public:
  /// Refused: a height that is not above 0, an offset not below it, any sampled angle outside
  /// (0°, 80°) at the unshifted placement.
  static Checked<ClampSolver> make(EdgeOutline outline, ClampJig jig, int samples = 200);

  /// Holds the angle at one place by the pivot's lateral distance: for every placement the lateral
  /// distance is solved anew. Refused when no lateral distance gives it.
  Checked<bool> hold(double station_x_mm, double angle_deg);

  [[nodiscard]] const ClampJig& jig() const { return jig_; }
  [[nodiscard]] const EdgeOutline& outline() const { return outline_; }
  /// The pivot's lateral distance with this placement (the jig's own without hold()).
  [[nodiscard]] std::optional<double> lateral_mm(const ClampPlacement& placement) const;
  /// Angle at a place of the outline (x of the unmoved blade). Refused off the edge or out of
  /// range.
  [[nodiscard]] Checked<double> angle_at_x(double x_mm, const ClampPlacement& placement) const;

  struct SweepPoint {
    double x_mm = 0, angle_deg = 0;  ///< x of the unmoved blade
  };
  /// The angle along the whole edge, heel to tip; empty when a place is out of range.
  [[nodiscard]] std::vector<SweepPoint> sweep(const ClampPlacement& placement) const;

  struct Spread {
    double least_deg = 0, largest_deg = 0, rms_deg = 0;  ///< RMS about the mean
    [[nodiscard]] double range_deg() const { return largest_deg - least_deg; }
  };
  /// Empty when the placement puts a place out of range.
  [[nodiscard]] std::optional<Spread> spread(const ClampPlacement& placement) const;

  enum class Aim { least_range, least_rms };
  struct Limits {
    double least_shift_mm = -50, largest_shift_mm = 50;
    double largest_turn_deg = 0;  ///< 0: the blade is not turned
  };
  struct Best {
    ClampPlacement placement;
    Spread spread;
    double pivot_lateral_mm = 0;
  };
  /// The placement with the least range or RMS: a grid of 401 shifts (times 41 turns), then golden
  /// sections around its lowest places. Refused: limits the wrong way round, no placement in range.
  [[nodiscard]] Checked<Best> best(const Limits& limits, Aim aim) const;

  struct Sensitivity {
    double per_mm_shift_deg = 0;   ///< degrees per mm of shift
    double per_mm_height_deg = 0;  ///< degrees per mm of pivot height, lateral distance fixed
  };
  /// By central differences of 0.001 mm.
  [[nodiscard]] Checked<Sensitivity> sensitivity(double x_mm,
                                                 const ClampPlacement& placement) const;

  /// Where ink was left at the tip after a pass.
  enum class TipInk { at_apex, at_shoulder };
  /// Which way to move the blade, and by how much for one degree between the tip and the middle.
  [[nodiscard]] std::string tip_advice(TipInk left, const ClampPlacement& placement) const;

 private:
  ClampSolver(EdgeOutline outline, ClampJig jig, int samples);
  [[nodiscard]] EdgePoint placed(const EdgePoint& point, const ClampPlacement& placement) const;
  [[nodiscard]] double cost(const ClampPlacement& placement, Aim aim) const;

  EdgeOutline outline_;
  ClampJig jig_;
  std::vector<EdgePoint> samples_;
  OutlinePoint middle_;
  std::optional<EdgePoint> held_;
  double held_distance_mm_ = 0;
};

/// Gap (mm) to lay under the spine's lower corner to grind at an angle per side on a bench stone:
/// L·sin θ − (t/2)·cos θ. width_mm: apex to spine in the centre plane, > 0; spine_mm: thickness
/// there, >= 0. Refused when the spine already lies too high.
Checked<double> spine_lift_mm(double width_mm, double spine_mm, double angle_deg);
/// The angle that a gap gives; the inverse of spine_lift_mm.
Checked<double> angle_of_spine_lift_deg(double width_mm, double spine_mm, double gap_mm);
/// Whole spacers that come nearest to a gap, and the angle they give.
struct SpacerChoice {
  int pieces = 0;
  double gap_mm = 0, angle_deg = 0;
};
Checked<SpacerChoice> spacers_for(double width_mm, double spine_mm, double angle_deg,
                                  double spacer_mm);

}  // namespace bq::inline edge
