#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <variant>

namespace bq::inline edge {

enum class EdgeSide { left, right };
std::string_view name_of(EdgeSide side);
std::optional<EdgeSide> parse_edge_side(std::string_view text);

enum class GrindSide { both, left, right };
std::string_view name_of(GrindSide side);
std::optional<GrindSide> parse_grind_side(std::string_view text);

enum class GrindShape { flat, hollow, convex };
std::string_view name_of(GrindShape shape);
std::optional<GrindShape> parse_grind_shape(std::string_view text);

/// When a grind is done.
struct UntilApex {  ///< least depth at which no flat is left at the bottom
  bool operator==(const UntilApex&) const = default;
};
struct UntilThickness {  ///< the flat left at the bottom has this thickness
  double thickness_mm = 0;
  bool operator==(const UntilThickness&) const = default;
};
struct UntilFacet {  ///< the facet just cut is this wide along its face (the narrower one, side
                     ///< both)
  double width_um = 0;
  bool operator==(const UntilFacet&) const = default;
};
struct UntilDepth {  ///< the apex, or the flat at the bottom, recedes by this much
  double depth_mm = 0;
  bool operator==(const UntilDepth&) const = default;
};
struct UntilBehindEdge {  ///< the facet just cut meets the old face where the section is this thick
  double thickness_mm = 0;
  bool operator==(const UntilBehindEdge&) const = default;
};
using GrindUntil = std::variant<UntilApex, UntilThickness, UntilFacet, UntilDepth, UntilBehindEdge>;

/// One grinding operation. Angles are per side, of the facet's chord: for a flat grind the facet
/// itself; for a hollow grind the tangent at the middle of the facet; for a convex grind with
/// `to_deg` the facet starts at `angle_deg` at the shoulder and ends at `to_deg` at the apex (its
/// chord lies at their mean), with `radius_mm` it is an arc of that radius over its chord.
/// Side `both` feeds the two sides in by the same amount.
struct Grind {
  GrindShape shape = GrindShape::flat;
  GrindSide side = GrindSide::both;
  double angle_deg = 15;
  std::optional<double> angle_right_deg;  ///< side both only: the right side's own angle
  std::optional<double> radius_mm;        ///< hollow: of the wheel; convex: of the arc
  std::optional<double> to_deg;           ///< convex: angle at the apex
  GrindUntil until = UntilApex{};
  bool operator==(const Grind&) const = default;
};

/// "flat 15° per side, both sides, until the apex".
std::string describe(const Grind& grind);
/// "until the apex", "until 0.4 mm is left", "until the facet is 60 µm wide", "0.05 mm deep",
/// "until it meets the edge at 0.3 mm".
std::string describe(const GrindUntil& until);

}  // namespace bq::inline edge
