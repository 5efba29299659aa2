#pragma once

#include <array>
#include <span>
#include <vector>

#include "edge/edge_geometry.h"
#include "edge/grind.h"
#include "edge/surface_piece.h"
#include "quantity/checked.h"

namespace bq::inline edge {

/// No blade is thicker.
inline constexpr double kThickestStock_mm = 50;

/// Thickness (mm) at a distance (mm) from the apex, as measured.
struct MeasuredThickness {
  double distance_mm = 0;
  double thickness_mm = 0;
  bool operator==(const MeasuredThickness&) const = default;
};

/// A plane across the edge (DOMAIN §1): the two sides as surfaces over h, cut by grinds; never
/// edited by hand. Heights h are of the blank; distances are from the section's own apex.
class Section {
 public:
  /// A rectangle. Refused: not positive, thickness above 50 mm, height above 500 mm.
  static Checked<Section> blank(double stock_mm, double height_mm);
  /// From a table of thickness against distance, halved onto the two sides, straight between the
  /// points and from the first one down to an apex of no thickness. Refused: fewer than two points,
  /// distances that do not rise, thickness that is not positive (0 is allowed at distance 0).
  static Checked<Section> measured(std::span<const MeasuredThickness> profile);

  /// This section after one more grind. Refused with the reason: angles outside (0°, 80°), a radius
  /// that is missing or too small, a grind that touches nothing, goes through the blade or eats it.
  [[nodiscard]] Checked<Section> ground(const Grind& grind) const;
  /// The apex cut flat where the section is `width_mm` thick. Unchanged when it is wider already.
  [[nodiscard]] Checked<Section> truncated(double width_mm) const;
  /// The apex worn flat until `area_mm2` of section is gone.
  [[nodiscard]] Checked<Section> worn(double area_mm2) const;

  [[nodiscard]] double apex_mm() const { return bottom_mm_; }  ///< h of the apex in the blank
  [[nodiscard]] double top_mm() const { return top_mm_; }      ///< h of the spine
  [[nodiscard]] double height_mm() const { return top_mm_ - bottom_mm_; }
  [[nodiscard]] double apex_width_mm() const;  ///< of the flat at the apex; 0: sharp
  /// How far left of the blank's centre plane the apex lies (mm), or would lie were the edge not
  /// blunt: where the two lowest faces, carried on, meet; between parallel ones the middle.
  [[nodiscard]] double apex_left_mm() const;
  /// Full thickness (mm) at a distance from the apex; empty beyond the spine or below 0.
  [[nodiscard]] std::optional<double> thickness_mm(double distance_mm) const;
  /// Half-thickness (mm) of one side at h of the blank.
  [[nodiscard]] double half_mm(EdgeSide side, double h_mm) const;
  [[nodiscard]] const std::vector<SurfacePiece>& pieces(EdgeSide side) const {
    return sides_[std::size_t(side)];
  }
  /// Area (mm²) between two heights of the blank.
  [[nodiscard]] double area_mm2(double from_h_mm, double to_h_mm) const;
  [[nodiscard]] double area_mm2() const { return area_mm2(bottom_mm_, top_mm_); }
  /// The faces' angles right at the apex, each per side (degrees).
  [[nodiscard]] BevelAngles apex_angles() const;
  [[nodiscard]] int grind_count() const { return grinds_; }

 private:
  using Surface = std::vector<SurfacePiece>;
  Section() = default;
  friend class Grinder;
  [[nodiscard]] double thickness_at_h(double h) const;
  void cut_below(double h);

  std::array<Surface, 2> sides_;  ///< left, right; rising h, without gaps
  double bottom_mm_ = 0, top_mm_ = 0;
  int grinds_ = 0;
};

/// A section with what made it: a blank or measured thicknesses, then grinds in order, then the
/// width of the flat at the apex.
struct SectionPlan {
  double stock_mm = 2;
  double height_mm = 20;
  std::vector<MeasuredThickness> profile;  ///< used instead of the blank when not empty
  std::vector<Grind> grinds;
  double apex_um = 0;
  bool operator==(const SectionPlan&) const = default;
};

/// Carries the plan out. A refusal says which grind: "grind 2 (…): …"; its place is the grind's
/// index, or the number of grinds for the apex width.
Checked<Section> make_section(const SectionPlan& plan);

/// The index of the first grind that cannot be made; empty: no grind is in the way.
std::optional<std::size_t> refused_grind(const SectionPlan& plan);

}  // namespace bq::inline edge
