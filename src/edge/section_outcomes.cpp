#include "edge/section_outcomes.h"

#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline edge {
namespace {

constexpr double kSteel_g_per_mm3 = 7.8e-3;

void add_side(const Section& section, EdgeSide side, std::vector<Facet>& facets) {
  const double apex = section.apex_mm();
  const auto& pieces = section.pieces(side);
  for (std::size_t i = 0; i < pieces.size(); ++i) {
    const auto& first = pieces[i];
    if (first.made_by == kMadeByBlank) continue;
    // Pieces of one arc, or of one straight face, that follow each other are one facet.
    std::size_t last = i;
    double width = first.length(first.from_mm, first.to_mm);
    if (first.made_by >= 0)
      while (last + 1 < pieces.size() && pieces[last + 1].made_by == first.made_by) {
        ++last;
        width += pieces[last].length(pieces[last].from_mm, pieces[last].to_mm);
      }
    const auto& end = pieces[last];
    Facet facet;
    facet.side = side;
    facet.made_by = first.made_by;
    facet.shape = first.shape;
    const double rise = end.y(end.to_mm) - first.y(first.from_mm);
    facet.angle_deg = degrees(std::atan2(rise, end.to_mm - first.from_mm));
    facet.apex_end_deg = degrees(std::atan(first.slope_at(first.from_mm)));
    facet.shoulder_end_deg = degrees(std::atan(end.slope_at(end.to_mm)));
    facet.width_um = width * 1000;
    facet.from_um = (first.from_mm - apex) * 1000;
    facet.to_um = (end.to_mm - apex) * 1000;
    facet.from_thickness_mm = *section.thickness_mm(std::max(0.0, first.from_mm - apex));
    facet.to_thickness_mm = section.thickness_mm(end.to_mm - apex).value_or(0);
    facets.push_back(facet);
    i = last;
  }
}

}  // namespace

std::vector<Facet> facets_of(const Section& section) {
  std::vector<Facet> facets;
  add_side(section, EdgeSide::left, facets);
  add_side(section, EdgeSide::right, facets);
  return facets;
}

std::optional<double> shoulder_thickness_mm(const Section& section) {
  const auto facets = facets_of(section);
  if (facets.empty()) return std::nullopt;
  int first = facets.front().made_by;
  bool several = false;
  for (const auto& facet : facets) {
    several |= facet.made_by != facets.front().made_by;
    first = std::min(first, facet.made_by);
  }
  double sum = 0;
  int sides = 0;
  for (const EdgeSide side : {EdgeSide::left, EdgeSide::right}) {
    const Facet* found = nullptr;
    for (const auto& facet : facets)
      if (facet.side == side && facet.made_by == first) {
        if (several) {
          found = &facet;
          break;
        }
        found = &facet;
      }
    if (!found) continue;
    sum += several ? found->from_thickness_mm : found->to_thickness_mm;
    ++sides;
  }
  return sum / sides;
}

std::array<EdgeFaces, 2> edge_faces(const Section& section, const std::vector<Grind>& grinds) {
  const auto grind_of = [&](const Facet& facet) -> const Grind* {
    return facet.made_by >= 0 && std::size_t(facet.made_by) < grinds.size()
               ? &grinds[std::size_t(facet.made_by)]
               : nullptr;
  };
  const auto cut_to_width = [&](const Facet& facet) {
    const Grind* own = grind_of(facet);
    if (!own) return false;
    if (std::holds_alternative<UntilFacet>(own->until)) return true;
    // A finer abrasive that went on on one side stands on the micro-bevel before it.
    return own->side != GrindSide::both && facet.made_by > 0 &&
           std::holds_alternative<UntilFacet>(grinds[std::size_t(facet.made_by) - 1].until);
  };
  const auto facets = facets_of(section);
  std::array<EdgeFaces, 2> out;
  for (const EdgeSide side : {EdgeSide::left, EdgeSide::right}) {
    EdgeFaces& own = out[std::size_t(side)];
    std::vector<const Facet*> faces;  // from the apex up, without the blank's own side
    for (const auto& facet : facets)
      if (facet.side == side && facet.made_by != kMadeByBlank) faces.push_back(&facet);
    if (faces.empty()) continue;
    std::size_t edge = 0;
    while (edge + 1 < faces.size() && cut_to_width(*faces[edge])) ++edge;
    if (edge > 0) own.micro = *faces.front();
    own.edge = *faces[edge];
    std::size_t end = edge;
    while (end + 1 < faces.size() && faces[end + 1]->made_by == faces[edge]->made_by) ++end;
    own.edge->to_um = faces[end]->to_um;
    own.edge->to_thickness_mm = faces[end]->to_thickness_mm;
    own.edge->shoulder_end_deg = faces[end]->shoulder_end_deg;
    own.ends = end + 1 < faces.size();
  }
  return out;
}

std::optional<BehindEdge> behind_edge(const Section& section, const std::vector<Grind>& grinds) {
  BehindEdge out;
  double thickness = 0;
  int sides = 0, shoulders = 0;
  for (const auto& own : edge_faces(section, grinds)) {
    if (!own.edge) continue;
    out.distance_mm += own.edge->to_um / 1000;
    ++sides;
    if (!own.ends) continue;
    thickness += own.edge->to_thickness_mm;
    ++shoulders;
  }
  if (!sides) return std::nullopt;
  out.distance_mm /= sides;
  if (shoulders) out.thickness_mm = thickness / shoulders;
  out.at_1_mm = section.thickness_mm(1).value_or(0);
  out.at_5_mm = section.thickness_mm(5).value_or(0);
  return out;
}

std::string describe(const BehindEdge& behind) {
  return behind.thickness_mm
             ? said("{thickness_mm} mm at {distance_mm} mm",
                    {{"thickness_mm", print_fixed(*behind.thickness_mm, 3)},
                     {"distance_mm", print_fixed(behind.distance_mm, 2)}})
             : said("ground to zero: {at_1_mm} mm 1 mm and {at_5_mm} mm 5 mm from the apex",
                    {{"at_1_mm", print_fixed(behind.at_1_mm, 2)},
                     {"at_5_mm", print_fixed(behind.at_5_mm, 2)}});
}

Removal removal(const Section& before, const Section& after) {
  return {before.area_mm2() - after.area_mm2(), before.height_mm() - after.height_mm()};
}

RemovalCost cost_of(double area_mm2, double edge_length_mm,
                    std::optional<double> rate_mm3_per_min) {
  RemovalCost cost;
  cost.volume_mm3 = area_mm2 * edge_length_mm;
  cost.mass_g = cost.volume_mm3 * kSteel_g_per_mm3;
  if (rate_mm3_per_min) cost.minutes = cost.volume_mm3 / *rate_mm3_per_min;
  return cost;
}

Checked<SectionsAlong> SectionsAlong::make(std::vector<Place> places) {
  if (places.empty()) return Refusal{said("a blade needs a section at one place at least")};
  for (std::size_t i = 0; i < places.size(); ++i)
    if (!std::isfinite(places[i].at_mm) || (i > 0 && places[i].at_mm <= places[i - 1].at_mm))
      return Refusal{said("the places of the sections must rise from the heel"), i};
  return SectionsAlong(std::move(places));
}

std::optional<double> SectionsAlong::thickness_mm(double at_mm, double distance_mm) const {
  const auto above =
      std::lower_bound(places_.begin(), places_.end(), at_mm,
                       [](const Place& place, double at) { return place.at_mm < at; });
  if (above == places_.begin()) return places_.front().section.thickness_mm(distance_mm);
  if (above == places_.end()) return places_.back().section.thickness_mm(distance_mm);
  const auto below = above - 1;
  const auto a = below->section.thickness_mm(distance_mm),
             b = above->section.thickness_mm(distance_mm);
  if (!a || !b) return std::nullopt;
  const double share = (at_mm - below->at_mm) / (above->at_mm - below->at_mm);
  return *a + share * (*b - *a);
}

std::optional<SectionsAlong::Range> SectionsAlong::range(double distance_mm) const {
  std::optional<Range> out;
  for (const auto& place : places_) {
    const auto t = place.section.thickness_mm(distance_mm);
    if (!t) continue;
    if (!out) out = Range{*t, *t, place.at_mm, place.at_mm};
    if (*t < out->least_mm) {
      out->least_mm = *t;
      out->least_at_mm = place.at_mm;
    }
    if (*t > out->largest_mm) {
      out->largest_mm = *t;
      out->largest_at_mm = place.at_mm;
    }
  }
  return out;
}

}  // namespace bq::inline edge
