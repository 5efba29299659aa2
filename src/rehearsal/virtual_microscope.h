#pragma once

#include <vector>

#include "lens/damage_finder.h"
#include "rehearsal/virtual_edge.h"

namespace bq::inline rehearsal {

/// Something on the apex, in µm along the edge from the reference mark.
struct MicroscopeDamage {
  using Kind = ApexDamage;
  Kind kind = Kind::chip;
  double at_um = 0;            ///< its middle
  double length_um = 0;        ///< along the edge
  double depth_um = 0;         ///< chip: missing metal; roll: width of the bright rolled band
  bool pointed = false;        ///< chip: straight walls that meet, else rounded
  std::int64_t from_cuts = 0;  ///< it is not there before
};

/// One side of an edge as it lies under the microscope, seen square to its bevel. All lengths in
/// µm.
struct MicroscopeSubject {
  double micro_bevel_um = 0;    ///< width of the micro-bevel; 0: none
  double bevel_um = 100;        ///< apex to shoulder along the face
  double apex_finish_um = 6;    ///< particle size of the facet at the apex
  double bevel_finish_um = 14;  ///< of the edge bevel behind a micro-bevel
  double lay_deg = 8;           ///< scratches lean so far from square to the edge
  double apex_width_um = 0.5;   ///< seen as a bright line once it is blunt
  double burr_um = 0;           ///< height that stands above the apex
  double streaks = 0.02;        ///< share of the scratches that are three to five times as deep
  double view_um =
      160;  ///< width of the usual view of this place: its marks and the apex's wander go by it
  bool piece = false;  ///< a flat sample piece: nothing but scratches of apex_finish_um
  std::vector<MicroscopeDamage> damage;
  std::uint64_t seed = 1;  ///< of this place: its scratches are the same in every picture
};

struct MicroscopeShot {
  int width = 800, height = 600;
  double um_per_px = 0.25;
  double shift_x_px = 0, shift_y_px = 0,
         turn_deg = 0;   ///< misplacement against a picture that has none
  double noise_sd = 4;   ///< grey levels
  double uneven = 0.15;  ///< light falls off by this share across the picture
  double blur_px = 0.8;
  bool scale_bar = true;
  std::uint64_t seed = 1;  ///< of noise and light
};

/// The picture and what is true of it; in its pixels.
struct MicroscopeTruth {
  Spot along, inward;  ///< unit vectors along the edge and into the blade
  double micro_bevel_px = 0, bevel_px = 0, burr_px = 0;
  std::vector<double> scratches_px,
      bevel_scratches_px;  ///< of the facet at the apex and of the edge bevel: their places across
                           ///< their direction
  /// Mean distance of neighbouring scratches that pass a stretch of `long_px` across them, centred
  /// at `middle`.
  [[nodiscard]] double spacing_px(Spot middle, double long_px, bool of_bevel) const;
  double lean_deg = 0;  ///< lay of the subject, from square to the edge
  double lay_deg = 0;   ///< direction of the scratches in the picture, (-90°, 90°]
  std::vector<Spot>
      marks;  ///< middles of the reference marks, in a fixed order; some may lie outside
  std::vector<MicroscopeDamage> damage;  ///< those that are in the picture
  double bar_px = 0, bar_um = 0;         ///< scale bar, outer ends; 0 without one
  Spot bar_from, bar_to;                 ///< its outer ends
  /// Place in the picture of a point `u` µm along the edge and `v` µm from the ideal apex into the
  /// blade.
  [[nodiscard]] Spot place(double u_um, double v_um) const {
    return apex_zero + (u_um / um_per_px) * along + (v_um / um_per_px) * inward;
  }
  /// Height (µm) of the burr at a place along the edge.
  [[nodiscard]] double burr_um_at(double u_um) const;
  double burr_um = 0, burr_phase = 0, view_um = 160;
  Spot apex_zero;  ///< where u = v = 0 lies
  double um_per_px = 0.25;
};
struct VirtualMicrograph {
  GreyImage image;
  MicroscopeTruth truth;
};

/// Mean spacing (µm) of neighbouring scratches of a finish: 0.6 of the particle size. A round
/// figure of this program.
double scratch_spacing_um(double finish_um);

/// Draws it. Refused: a size out of range (32 px to kMostPixels), a scale outside 0.005 to 100
/// µm/px.
Checked<VirtualMicrograph> micrograph(const MicroscopeSubject& subject, const MicroscopeShot& shot);

/// The edge as the wear simulator has it after its cuts: bevel of an edge whose section is
/// `thickness_um` thick at the shoulder, apex width by the worn area, the residual burr as far as
/// it still stands, and damage: chips (brittle) or rolls and glints, each at the cut at which a
/// sideways load first exceeded the limit there, within the usual view of `view_um`. `place` tells
/// places of one edge apart.
MicroscopeSubject microscope_subject(const VirtualEdge& edge, double thickness_um,
                                     double micro_bevel_um, bool brittle,
                                     double damage_per_1000_cuts, double view_um,
                                     std::uint64_t place);

}  // namespace bq::inline rehearsal
