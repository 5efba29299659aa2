#include "edge/parting.h"

#include <array>
#include <cmath>

#include "quantity/angle.h"
#include "quantity/said.h"

namespace bq::inline edge {
namespace {

// Abscissae and weights of the 12-point Gauss–Legendre rule on [−1, 1] (Abramowitz & Stegun,
// table 25.4).
constexpr std::array<double, 6> kAt{0.125233408511469, 0.367831498998180, 0.587317954286617,
                                    0.769902674194305, 0.904117256370475, 0.981560634246719};
constexpr std::array<double, 6> kWeight{0.249147045813403, 0.233492536538355, 0.203167426723066,
                                        0.160078328543346, 0.106939325995318, 0.047175336386512};

/// `offset`: of the plane through the apex from the blank's centre plane, toward this side (mm).
double integral(const SurfacePiece& piece, double a, double b, double friction, double offset) {
  const auto force = [&](double h) {
    return (piece.y(h) - offset) * (piece.slope_at(h) + friction);
  };
  const double middle = 0.5 * (a + b), half = 0.5 * (b - a);
  if (piece.shape == SurfacePiece::Shape::straight) return (b - a) * force(middle);  // linear in h
  double sum = 0;
  for (std::size_t i = 0; i < kAt.size(); ++i)
    sum += kWeight[i] * (force(middle - half * kAt[i]) + force(middle + half * kAt[i]));
  return half * sum;
}

}  // namespace

Checked<double> parting_force_N_per_mm(const Section& section, const PartingOptions& options) {
  if (!(options.depth_mm > 0) || !std::isfinite(options.depth_mm))
    return Refusal{said("the depth must be above 0")};
  if (!(options.friction >= 0)) return Refusal{said("the friction must not be negative")};
  if (!(options.stiffness_N_per_mm3 > 0)) return Refusal{said("the stiffness must be above 0")};
  for (const auto& facet : options.facets)
    if (!(facet.friction >= 0)) return Refusal{said("the friction must not be negative")};
  const double end = std::min(section.apex_mm() + options.depth_mm, section.top_mm());
  // Distances are taken from the plane through the apex: a chisel's lies in its flat back.
  const double to_left = section.apex_left_mm();
  double sum = 0;
  for (const EdgeSide side : {EdgeSide::left, EdgeSide::right})
    for (const auto& piece : section.pieces(side)) {
      const double b = std::min(piece.to_mm, end);
      if (!(b > piece.from_mm)) break;
      double friction = options.friction;
      for (const auto& facet : options.facets)
        if (facet.made_by == piece.made_by) friction = facet.friction;
      sum +=
          integral(piece, piece.from_mm, b, friction, side == EdgeSide::left ? to_left : -to_left);
    }
  return options.stiffness_N_per_mm3 * sum;
}

double wedge_parting_N_per_mm(const BevelAngles& wedge, const PartingOptions& options) {
  double sum = 0;
  for (const double angle : {wedge.left_deg, wedge.right_deg}) {
    const double slope = std::tan(radians(angle));
    sum += 0.5 * options.stiffness_N_per_mm3 * slope * (slope + options.friction) *
           options.depth_mm * options.depth_mm;
  }
  return sum;
}

Checked<SubstrateEffect> substrate_effect(const Substrate& substrate, double pressure_MPa) {
  if (!(substrate.thickness_mm > 0) || !(substrate.modulus_MPa > 0))
    return Refusal{said("the substrate's thickness and modulus must be above 0")};
  if (!(pressure_MPa > 0)) return Refusal{said("the pressure must be above 0")};
  const double strain = pressure_MPa / substrate.modulus_MPa;
  if (strain >= 1)
    return Refusal{
        said("the substrate would be pressed flat: the pressure is not below its modulus")};
  return SubstrateEffect{strain * substrate.thickness_mm, degrees(std::atan(strain))};
}

double pressure_for(const Substrate& substrate, double steeper_deg) {
  return substrate.modulus_MPa * std::tan(radians(steeper_deg));
}

}  // namespace bq::inline edge
