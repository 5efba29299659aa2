#pragma once

#include <cmath>
#include <stdexcept>
#include <utility>
#include <vector>

#include "edge/section.h"
#include "edge/section_outcomes.h"

/// Grinds and sections in few words.
namespace bq::test {

inline double tangent(double deg) { return std::tan(radians(deg)); }

inline Grind flat(double angle, GrindUntil until = UntilApex{}, GrindSide side = GrindSide::both) {
  Grind grind;
  grind.angle_deg = angle;
  grind.until = until;
  grind.side = side;
  return grind;
}

inline Grind hollow(double angle, double radius, GrindUntil until) {
  Grind grind = flat(angle, until);
  grind.shape = GrindShape::hollow;
  grind.radius_mm = radius;
  return grind;
}

inline Grind convex(double from, double to, GrindUntil until) {
  Grind grind = flat(from, until);
  grind.shape = GrindShape::convex;
  grind.to_deg = to;
  return grind;
}

inline SectionPlan plan(std::vector<Grind> grinds, double stock = 2, double height = 25) {
  SectionPlan out;
  out.stock_mm = stock;
  out.height_mm = height;
  out.grinds = std::move(grinds);
  return out;
}

inline Section made(const SectionPlan& plan) {
  const auto section = make_section(plan);
  if (!section) throw std::runtime_error(section.refusal().reason);
  return *section;
}

/// Area by summing thin slices: knows nothing of pieces.
inline double area_by_slices(const Section& section, double to_distance, int slices = 400000) {
  double sum = 0;
  for (int i = 0; i < slices; ++i) sum += *section.thickness_mm(to_distance * (i + 0.5) / slices);
  return sum * to_distance / slices;
}

inline const Facet& facet(const std::vector<Facet>& facets, EdgeSide side, int made_by) {
  for (const auto& f : facets)
    if (f.side == side && f.made_by == made_by) return f;
  throw std::runtime_error("no such facet");
}

}  // namespace bq::test
