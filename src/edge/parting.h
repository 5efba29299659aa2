#pragma once

#include <vector>

#include "edge/section.h"

namespace bq::inline edge {

/// Friction of one facet by its finish; facets without an entry take the general value.
struct FacetFriction {
  int made_by = 0;
  double friction = 0;
};

struct PartingOptions {
  double depth_mm = 5;             ///< how deep the section is pushed, > 0
  double friction = 0.3;           ///< μ, >= 0
  double stiffness_N_per_mm3 = 1;  ///< K; 1 until it has been fitted
  std::vector<FacetFriction> facets;
};

/// Force per mm of edge (N/mm) to push a section to a depth: ∫₀ᴰ K·y(h)·(y′(h) + μ) dh, both sides
/// added, y measured from the plane through the apex (DOMAIN §1; estimate). Straight facets
/// exactly, arcs by 12-point Gauss–Legendre (relative error below 1e-9 for facets that turn less
/// than 60°). Only the metal's part above the apex counts; a depth beyond the spine ends there.
Checked<double> parting_force_N_per_mm(const Section& section, const PartingOptions& options);

/// The same for a plain wedge with these angles per side (closed form): K·½·tan θ·(tan θ + μ)·D²,
/// both sides added.
double wedge_parting_N_per_mm(const BevelAngles& wedge, const PartingOptions& options);

/// A strop or another soft substrate under pressure (estimate).
struct Substrate {
  double thickness_mm = 0;  ///< > 0
  double modulus_MPa = 0;   ///< > 0
};
struct SubstrateEffect {
  double sink_mm = 0;      ///< δ = p·T/E
  double steeper_deg = 0;  ///< the apex meets it steeper by atan(δ/T)
};
/// pressure_MPa: line load over contact width, > 0. Refused: not positive, sinking by more than the
/// thickness.
Checked<SubstrateEffect> substrate_effect(const Substrate& substrate, double pressure_MPa);
/// The pressure (MPa) that keeps the apex within `steeper_deg` of the set angle.
double pressure_for(const Substrate& substrate, double steeper_deg);

}  // namespace bq::inline edge
