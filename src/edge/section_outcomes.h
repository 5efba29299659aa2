#pragma once

#include <array>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "edge/grind.h"
#include "edge/section.h"

namespace bq::inline edge {

/// One face that a grind (or a measurement) left on a side.
struct Facet {
  EdgeSide side = EdgeSide::left;
  int made_by = 0;  ///< the grind's place in the list; kMadeByMeasurement
  SurfacePiece::Shape shape = SurfacePiece::Shape::straight;
  double angle_deg = 0;                           ///< per side, of the chord from end to end
  double apex_end_deg = 0, shoulder_end_deg = 0;  ///< tangents at its ends (the same when flat)
  double width_um = 0;                            ///< along the face
  double from_um = 0, to_um = 0;                  ///< distance from the apex along the centre plane
  double from_thickness_mm = 0, to_thickness_mm = 0;  ///< of the whole section at its ends
};

/// Facets from the apex up, left side first. A face cut in two by a later grind is two facets.
std::vector<Facet> facets_of(const Section& section);

/// Thickness (mm) where the first grind (or the measured face) ends toward the
/// apex and the next facet begins; with a single grind, where that ends toward the spine. The mean
/// of the two sides where they differ. Empty without any facet.
std::optional<double> shoulder_thickness_mm(const Section& section);

/// The faces of one side that make its edge.
struct EdgeFaces {
  /// At the apex, where its grind was cut to a width (or went on, on this side alone, on one that
  /// was) and another ground face lies behind it.
  std::optional<Facet> micro;
  /// The face nearest the apex that is no micro-bevel, to where it ends toward the spine: what a
  /// later grind cut in two is one face. Empty on a side that nothing ground or measured.
  std::optional<Facet> edge;
  bool ends = false;  ///< the edge bevel ends at another ground or measured face
};
/// Left, right. `grinds`: those the section was made with.
std::array<EdgeFaces, 2> edge_faces(const Section& section, const std::vector<Grind>& grinds);

/// Thickness behind the edge, the one definition (DOMAIN §1): where the edge bevel ends toward the
/// spine, both sides together. The edge bevel is the face nearest the apex that is no micro-bevel
/// (its grind was cut to a width and another ground face lies behind it). Where no ground or
/// measured face lies behind it (a zero grind, a full convex one) there is none, and the thickness
/// 1 mm and 5 mm from the apex is quoted instead.
struct BehindEdge {
  double distance_mm = 0;  ///< from the apex to the end of the edge bevel, mean of the sides
  std::optional<double> thickness_mm;
  double at_1_mm = 0, at_5_mm = 0;  ///< thickness that far from the apex; 0 beyond the spine
};
/// `grinds`: those the section was made with. Empty without any face.
std::optional<BehindEdge> behind_edge(const Section& section, const std::vector<Grind>& grinds);
/// "0.41 mm at 1.2 mm", "ground to zero: 0.42 mm 1 mm and 2.1 mm 5 mm from the apex".
std::string describe(const BehindEdge& behind);

/// What lies between two sections of one blade, both seen from the spine.
struct Removal {
  double area_mm2 = 0;         ///< section area gone (negative: `after` is the larger one)
  double apex_receded_mm = 0;  ///< toward the spine
};
Removal removal(const Section& before, const Section& after);

/// The area as volume, mass and time.
struct RemovalCost {
  double volume_mm3 = 0;
  double mass_g = 0;              ///< at 7.8 g/cm³
  std::optional<double> minutes;  ///< where the abrasive's rate is known
};
/// edge_length_mm > 0; rate_mm3_per_min > 0 where given.
RemovalCost cost_of(double area_mm2, double edge_length_mm, std::optional<double> rate_mm3_per_min);

/// Sections that hang on places along one blade, rising (mm from the heel): thick and thin spots.
/// Thickness between two places is interpolated straight at the same distance from the apex; beyond
/// the outermost places theirs holds.
class SectionsAlong {
 public:
  struct Place {
    double at_mm = 0;
    Section section;
  };
  /// Refused: no place, places that do not rise.
  static Checked<SectionsAlong> make(std::vector<Place> places);
  [[nodiscard]] const std::vector<Place>& places() const { return places_; }
  /// Thickness (mm) at a place and a distance from the apex; empty beyond a spine.
  [[nodiscard]] std::optional<double> thickness_mm(double at_mm, double distance_mm) const;
  /// Least and largest thickness at one distance over the places.
  struct Range {
    double least_mm = 0, largest_mm = 0, least_at_mm = 0, largest_at_mm = 0;
  };
  [[nodiscard]] std::optional<Range> range(double distance_mm) const;

 private:
  explicit SectionsAlong(std::vector<Place> places) : places_(std::move(places)) {}
  std::vector<Place> places_;
};

}  // namespace bq::inline edge
