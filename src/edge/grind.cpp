#include "edge/grind.h"

#include <array>

#include "quantity/enum_name.h"
#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline edge {

std::string_view name_of(EdgeSide side) { return side == EdgeSide::left ? "left" : "right"; }
std::optional<EdgeSide> parse_edge_side(std::string_view text) {
  for (const EdgeSide side : {EdgeSide::left, EdgeSide::right})
    if (name_of(side) == text) return side;
  return std::nullopt;
}

namespace {
constexpr std::array<std::string_view, 3> kSides{"both", "left", "right"};
constexpr std::array<std::string_view, 3> kShapes{"flat", "hollow", "convex"};

}  // namespace

std::string_view name_of(GrindSide side) { return kSides[std::size_t(side)]; }
std::optional<GrindSide> parse_grind_side(std::string_view text) {
  return enum_named<GrindSide>(kSides, text);
}
std::string_view name_of(GrindShape shape) { return kShapes[std::size_t(shape)]; }
std::optional<GrindShape> parse_grind_shape(std::string_view text) {
  return enum_named<GrindShape>(kShapes, text);
}

std::string describe(const GrindUntil& until) {
  struct Words {
    std::string operator()(const UntilApex&) const { return said("until the apex"); }
    std::string operator()(const UntilThickness& u) const {
      return said("until {thickness_mm} mm is left",
                  {{"thickness_mm", print_number(u.thickness_mm, 3)}});
    }
    std::string operator()(const UntilFacet& u) const {
      return said("until the facet is {width_um} µm wide",
                  {{"width_um", print_number(u.width_um, 3)}});
    }
    std::string operator()(const UntilDepth& u) const {
      return said("{depth_mm} mm deep", {{"depth_mm", print_number(u.depth_mm, 3)}});
    }
    std::string operator()(const UntilBehindEdge& u) const {
      return said("until it meets the edge at {thickness_mm} mm",
                  {{"thickness_mm", print_number(u.thickness_mm, 3)}});
    }
  };
  return std::visit(Words{}, until);
}

std::string describe(const Grind& grind) {
  std::string text =
      std::string(name_of(grind.shape)) + " " + print_number(grind.angle_deg, 3) + "°";
  if (grind.shape == GrindShape::convex && grind.to_deg)
    text += said(" to {to_deg}°", {{"to_deg", print_number(*grind.to_deg, 3)}});
  if (grind.side == GrindSide::both && grind.angle_right_deg)
    text += "|" + print_number(*grind.angle_right_deg, 3) + "°";
  text += said(" per side, ");
  text += grind.side == GrindSide::both
              ? said("both sides")
              : said("{side} side", {{"side", std::string(name_of(grind.side))}});
  return text + ", " + describe(grind.until);
}

}  // namespace bq::inline edge
