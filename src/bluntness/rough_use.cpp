#include "bluntness/rough_use.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "edge/section_outcomes.h"
#include "quantity/angle.h"
#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline bluntness {
namespace {

/// Both sides together: thickness per distance.
double spread(double angle_deg) { return 2 * std::tan(radians(angle_deg)); }

/// Sections are compared to a hundredth of what a workshop's calliper tells.
constexpr double kSame_um = 0.05;

}  // namespace

double ApexProfile::distance_um(double thickness) const {
  double at = 0, from = 0;
  for (const auto& bevel : bevels) {
    const bool last = bevel.up_to_um <= 0 || bevel.up_to_um >= thickness;
    at += ((last ? thickness : bevel.up_to_um) - from) / spread(bevel.angle_deg);
    if (last) return at;
    from = bevel.up_to_um;
  }
  return at;
}

double ApexProfile::thickness_um(double distance) const {
  double at = 0, from = 0;
  for (const auto& bevel : bevels) {
    const double slope = spread(bevel.angle_deg);
    const double end = bevel.up_to_um <= 0 ? 1e300 : at + (bevel.up_to_um - from) / slope;
    if (distance <= end) return from + (distance - at) * slope;
    at = end;
    from = bevel.up_to_um;
  }
  return from;
}

ApexProfile profile_of(double edge_deg, std::optional<double> micro_deg, double facet_um) {
  ApexProfile out;
  if (micro_deg) out.bevels.push_back({*micro_deg, micro_top_um(*micro_deg, facet_um)});
  out.bevels.push_back({edge_deg, 0});
  return out;
}

ApexProfile profile_of(const Section& section) {
  constexpr double kFar_um = 2000;
  constexpr int kChords = 8;
  std::set<double> places{0, std::min(kFar_um, 1000 * section.height_mm())};
  const double far = *places.rbegin();
  for (const auto& facet : facets_of(section)) {
    const int parts = facet.shape == SurfacePiece::Shape::straight ? 1 : kChords;
    for (int i = 0; i <= parts; ++i) {
      const double to = std::min(facet.to_um, far);
      const double at = facet.from_um + (to - facet.from_um) * i / parts;
      if (at > 0 && at < far) places.insert(at);
    }
  }
  ApexProfile out;
  double before = 0, thick_before = 0;
  for (const double at : places) {
    const double thick = 1000 * section.thickness_mm(at / 1000).value_or(0);
    // A worn apex is a bevel so steep that it takes no height.
    const double rise = std::max(thick - thick_before, 1e-6), run = std::max(at - before, 1e-3);
    if (thick > thick_before || at > before)
      out.bevels.push_back({degrees(std::atan(rise / 2 / run)), thick_before + rise});
    before = at;
    thick_before += rise;
  }
  if (out.bevels.empty()) out.bevels.push_back({1, 0});
  out.bevels.back().up_to_um = 0;
  return out;
}

bool at_least_as_thick(const ApexProfile& one, const ApexProfile& other, double depth) {
  // Both are straight between the ends of their bevels: the ends and the depth decide.
  std::vector<double> places{depth};
  for (const auto* profile : {&one, &other})
    for (const auto& bevel : profile->bevels)
      if (bevel.up_to_um > 0) places.push_back(profile->distance_um(bevel.up_to_um));
  return std::all_of(places.begin(), places.end(), [&](double place) {
    return place > depth || one.thickness_um(place) > other.thickness_um(place) - kSame_um;
  });
}

double micro_top_um(double micro_deg, double facet_um) {
  return 2 * facet_um * std::sin(radians(micro_deg));
}

std::optional<double> damaged_thickness_um(const SearchRound& round) {
  const LookEvent& look = round.look;
  return look.found != DamageFound::clean && look.is_thickness ? look.widest_um : std::nullopt;
}

bool same_edge(const SearchRound& one, const SearchRound& other) {
  return one.edge_angle_deg == other.edge_angle_deg &&
         one.bevel_thickness_um == other.bevel_thickness_um && one.micro_deg == other.micro_deg;
}

std::vector<ApexProfile> sections_of(const DamageSearch& search) {
  std::vector<ApexProfile> out;
  ApexProfile section;  // without the micro-bevel, which is renewed
  for (const auto& round : search.rounds) {
    ApexProfile now;
    now.bevels.push_back({round.edge_angle_deg, std::max(0.0, round.bevel_thickness_um)});
    if (round.bevel_thickness_um > 0) {
      if (round.base_deg > 0)
        now.bevels.push_back({round.base_deg, 0});
      else
        for (const auto& bevel : section.bevels)
          if (bevel.up_to_um <= 0 || bevel.up_to_um > round.bevel_thickness_um)
            now.bevels.push_back(bevel);
    }
    // A first round that names a bevel's end but nothing behind it: the bevel runs on.
    if (now.bevels.back().up_to_um > 0) now.bevels.back().up_to_um = 0;
    section = now;
    if (round.micro_deg)
      now.bevels.insert(now.bevels.begin(),
                        {*round.micro_deg, micro_top_um(*round.micro_deg, round.micro_um)});
    out.push_back(now);
    if (const auto damaged = damaged_thickness_um(round))
      std::erase_if(section.bevels, [&](const ApexProfile::Bevel& bevel) {
        return bevel.up_to_um > 0 && bevel.up_to_um <= *damaged;
      });
  }
  return out;
}

std::string describe(const ApexProfile& section, bool has_micro, AngleConvention angles) {
  std::string out;
  for (std::size_t i = has_micro ? 1 : 0; i < section.bevels.size(); ++i) {
    const auto& bevel = section.bevels[i];
    out += (out.empty() ? "" : said(" on ")) + print_angle(bevel.angle_deg, angles);
    if (bevel.up_to_um > 0)
      out += said(" up to {up_to_um} µm thick", {{"up_to_um", print_number(bevel.up_to_um, 3)}});
  }
  if (has_micro)
    out += said(", under a micro-bevel of {angle_deg}",
                {{"angle_deg", print_angle(section.bevels.front().angle_deg, angles)}});
  return out;
}

std::vector<RoughUse> rough_uses(const DamageSearch& search) {
  std::vector<RoughUse> out;
  const auto sections = sections_of(search);
  for (std::size_t i = 0; i < search.rounds.size(); ++i) {
    const SearchRound& round = search.rounds[i];
    if (round.cuts <= 0) continue;
    RoughUse use{
        search.steel, search.medium, sections[i],    round.look.found != DamageFound::clean,
        false,        kHeldDepth_um, search.cut_mode};
    use.confirmed = !use.damaged && round.confirmation;
    if (const auto damaged = damaged_thickness_um(round))
      use.depth_um = 2 * use.section.distance_um(*damaged);
    else if (use.damaged)
      use.depth_um = kDamageDepth_um;
    out.push_back(std::move(use));
  }
  return out;
}

RoughestUse judge(const ApexProfile& section, const std::vector<const RoughUse*>& uses) {
  RoughestUse out = RoughestUse::not_tried;
  for (const auto* use : uses) {
    if (use->damaged && at_least_as_thick(use->section, section, use->depth_um))
      return RoughestUse::damaged;
    if (use->confirmed && at_least_as_thick(section, use->section, use->depth_um))
      out = RoughestUse::held;
  }
  return out;
}

}  // namespace bq::inline bluntness
