#pragma once

#include "edge/section.h"
#include "quantity/field.h"

namespace bq::inline edge {

inline constexpr double kLongestSection_mm = 500, kWidestFacet_um = 5e5;
inline constexpr double kAnyAngle_deg = 1e3;  ///< make_section says which angles go

constexpr auto fields_of(Told<Grind>) {
  using R = Grind;
  return std::tuple(field<&R::shape>("op").word(parse_grind_shape, 3).must(),
                    field<&R::side>("side").word(parse_grind_side, 3).always(),
                    field<&R::angle_deg>("angle_deg")
                        .within(-kAnyAngle_deg, kAnyAngle_deg, "°")
                        .must()
                        .says("angle per side", "of the facet's chord; convex: at the shoulder"),
                    field<&R::angle_right_deg>("angle_right_deg")
                        .within(-kAnyAngle_deg, kAnyAngle_deg, "°")
                        .says("the right side's own", "of a grind of both sides"),
                    field<&R::radius_mm>("radius_mm")
                        .within(0, 1e5, "mm")
                        .says("radius", "hollow: of the wheel; convex: of the arc"),
                    field<&R::to_deg>("angle_to_deg")
                        .within(-kAnyAngle_deg, kAnyAngle_deg, "°")
                        .says("convex: at the apex"),
                    field<&R::until>("until").must().says(
                        "",
                        "`apex`, or an object with one of thickness_mm, facet_um, depth_mm, "
                        "behind_edge_mm"));
}
constexpr auto fields_of(Told<SectionPlan>) {
  using R = SectionPlan;
  return std::tuple(field<&R::stock_mm>("stock_mm")
                        .within(0, kLongestSection_mm, "mm")
                        .always()
                        .says("thick", "of the blank; needed where no profile was measured"),
                    field<&R::height_mm>("height_mm")
                        .within(0, kLongestSection_mm, "mm")
                        .always()
                        .says("high", "of the blank; needed where no profile was measured"),
                    field<&R::profile>("profile_mm")
                        .within(0, kLongestSection_mm, "mm")
                        .says("measured thicknesses", "two points or more, [distance, thickness]"),
                    field<&R::grinds>("grinds").always().says("", "in their order, 200 at most"),
                    field<&R::apex_um>("apex_um")
                        .within(0, kWidestFacet_um, "µm")
                        .always()
                        .says("flat at the apex", "width"));
}

}  // namespace bq::inline edge
