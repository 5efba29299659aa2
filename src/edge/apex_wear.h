#pragma once

#include "edge/edge_geometry.h"

namespace bq::inline edge {

/// Apex width (mm) of a wedge after an area of section (mm²) is worn off its apex:
/// w² = w₀² + 2·A·(tan θ_left + tan θ_right). Exact for flat bevels.
/// start_width_mm >= 0, worn_area_mm2 >= 0.
double worn_apex_width_mm(double start_width_mm, double worn_area_mm2, const BevelAngles& apex);

/// The area (mm²) that must be worn off to reach a width; the inverse of the above.
/// 0 when the width is not above the start.
double worn_area_for_width_mm2(double start_width_mm, double width_mm, const BevelAngles& apex);

}  // namespace bq::inline edge
