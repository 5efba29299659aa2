#include "edge/edge_geometry.h"

#include <cmath>

#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline edge {

double BevelAngles::mean_tangent() const {
  return 0.5 * (std::tan(radians(left_deg)) + std::tan(radians(right_deg)));
}

double BevelAngles::equivalent_deg() const { return degrees(std::atan(mean_tangent())); }

Checked<EdgeGeometry> EdgeGeometry::make(BevelAngles edge, std::optional<BevelAngles> micro) {
  const auto in_range = [](const BevelAngles& angles) {
    return angle_in_range(angles.left_deg) && angle_in_range(angles.right_deg);
  };
  if (!in_range(edge))
    return Refusal{said("an edge angle must lie between 0° and 80° per side, both excluded")};
  if (micro && !in_range(*micro))
    return Refusal{said("a micro-bevel angle must lie between 0° and 80° per side, both excluded")};
  if (micro && (micro->left_deg < edge.left_deg || micro->right_deg < edge.right_deg))
    return Refusal{said("a micro-bevel less steep than the edge bevel would not touch the apex")};
  return EdgeGeometry(edge, micro);
}

double Finish::mean_um() const { return std::sqrt(left_um * right_um); }

std::string print_geometry_short(const EdgeGeometry& geometry, AngleConvention convention) {
  const auto number = [&](const BevelAngles& angles) {
    if (convention == AngleConvention::inclusive)
      return print_number(std::round(angles.inclusive_deg() * 10) / 10) + "°";
    if (angles.is_symmetric()) return print_number(angles.left_deg, 3) + "°";
    return print_number(angles.left_deg, 3) + "°|" + print_number(angles.right_deg, 3) + "°";
  };
  if (!geometry.micro()) return number(geometry.edge());
  return said("{edge} + {micro} micro",
              {{"edge", number(geometry.edge())}, {"micro", number(*geometry.micro())}});
}

std::string print_geometry(const EdgeGeometry& geometry, AngleConvention convention) {
  return print_geometry_short(geometry, convention) + (geometry.micro() ? ", " : " ") +
         words_of(convention);
}

std::string print_finish(const Finish& finish) {
  if (finish.left_um == finish.right_um) return print_number(finish.left_um, 3) + " µm";
  return print_number(finish.left_um, 3) + "|" + print_number(finish.right_um, 3) + " µm";
}

}  // namespace bq::inline edge
