#include "edge/apex_wear.h"

#include <algorithm>
#include <cmath>

namespace bq::inline edge {

double worn_apex_width_mm(double start_width_mm, double worn_area_mm2, const BevelAngles& apex) {
  return std::sqrt(start_width_mm * start_width_mm + 4 * worn_area_mm2 * apex.mean_tangent());
}

double worn_area_for_width_mm2(double start_width_mm, double width_mm, const BevelAngles& apex) {
  return std::max(0.0, width_mm * width_mm - start_width_mm * start_width_mm) /
         (4 * apex.mean_tangent());
}

}  // namespace bq::inline edge
