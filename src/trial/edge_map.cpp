#include "trial/edge_map.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "quantity/number.h"
#include "quantity/said.h"
#include "trial/sharpening.h"

namespace bq::inline trial {
namespace {

using SideAngles = EdgeNow::SideAngles;

SideAngles side_angles(const std::vector<const AngleRecord*>& records, EdgeSide side,
                       bool micro_bevel) {
  std::map<double, SideAngles::Station> stations;
  for (const auto* record : records) {
    if (record->side != side) continue;
    if ((record->bevel == MeasuredBevel::micro_bevel) != micro_bevel) continue;
    auto& station = stations[record->at_mm];
    station.at_mm = record->at_mm;
    station.mean_deg += record->angle_deg;
    station.plus_minus_deg = record->plus_minus_deg;
    ++station.readings;
  }
  SideAngles out;
  for (auto& [at, station] : stations) {
    station.mean_deg /= station.readings;
    out.stations.push_back(station);
  }
  return out;
}

std::string deg(double value) { return print_fixed(value, 1) + "°"; }

std::string place_words(double at_mm) {
  return said("{at_mm} mm from the heel", {{"at_mm", print_number(at_mm, 3)}});
}

std::string side_words(const char* name, const SideAngles& side) {
  if (side.stations.empty()) return said("{name} not measured", {{"name", name}});
  std::string text = std::string(name) + " " + deg(*side.mean_deg());
  if (side.stations.size() > 1) {
    const auto [low, high] =
        std::minmax_element(side.stations.begin(), side.stations.end(),
                            [](const auto& a, const auto& b) { return a.mean_deg < b.mean_deg; });
    text += said(" ({mean_deg} to {mean_deg_2})",
                 {{"mean_deg", deg(low->mean_deg)}, {"mean_deg_2", deg(high->mean_deg)}});
  }
  return text;
}

/// "Edge bevel: left 15.2°, right 15.9° per side; left is 0.7° flatter; heel to tip 0.6°."; ""
/// where it was not measured.
std::string bevel_words(const std::string& name, const SideAngles& on_left,
                        const SideAngles& on_right) {
  if (on_left.stations.empty() && on_right.stations.empty()) return "";
  std::string out = said("{name}: {side_words}, {side_words_2} per side",
                         {{"name", name},
                          {"side_words", side_words("left", on_left)},
                          {"side_words_2", side_words("right", on_right)}});
  const auto left = on_left.mean_deg(), right = on_right.mean_deg();
  if (left && right) {
    const double apart = *left - *right;
    out += std::abs(apart) < 0.05
               ? said("; the sides agree")
               : said("; left is {apart}{steeper}",
                      {{"apart", deg(std::abs(apart))},
                       {"steeper", apart > 0 ? said(" steeper") : said(" flatter")}});
  }
  return said(
      "{out}; heel to tip {range_deg}.",
      {{"out", out}, {"range_deg", deg(std::max(on_left.range_deg(), on_right.range_deg()))}});
}

/// A touch-up takes about this much off an apex.
constexpr double kGoesByItself_um = 20;

std::string rework(const SpotRecord& spot) {
  const std::string side = spot.side
                               ? said("{side} side", {{"side", std::string(name_of(*spot.side))}})
                               : said("both sides");
  const std::string depth = said("{size_um} µm deep", {{"size_um", print_number(spot.size_um, 3)}});
  switch (spot.kind) {
    case SpotKind::damage:
      // Ground at one place a nick becomes a hollow in the outline, and that is worse than the
      // nick.
      if (!(spot.size_um > 0))
        return said(
            "damage, {side}: look at it under the lens, how deep is it? Do not grind here alone: "
            "that makes a hollow",
            {{"side", side}});
      if (spot.size_um <= kGoesByItself_um)
        return said(
            "damage {depth}, {side}: the next touch-up of the whole edge takes it out; do not "
            "grind here alone, that makes a hollow",
            {{"depth", depth}, {"side", side}});
      return said(
          "damage {depth}, {side}: the whole edge goes back to its bottom (Stones plans it), or it "
          "is lived with; do not grind here alone, that makes a hollow",
          {{"depth", depth}, {"side", side}});
    case SpotKind::burr:
      return said(
          "a burr is left: light alternating strokes, {side}, fine stone, about 10, then look "
          "again",
          {{"side", side}});
    case SpotKind::hangs:
      return said(
          "the edge hangs here, {side}: wipe it, strop there and slice the same paper again; if it "
          "still hangs, a few light strokes of the fine stone there, running out to both sides, so "
          "that no hollow is left",
          {{"side", side}});
    case SpotKind::bright:
      return said(
          "light glints from a flat: medium stone, {side}, about 20 strokes, then look again",
          {{"side", side}});
  }
  return "";
}

int gravity(SpotKind kind) {
  switch (kind) {
    case SpotKind::damage:
      return 3;
    case SpotKind::burr:
      return 2;
    case SpotKind::hangs:
      return 1;
    case SpotKind::bright:
      return 0;
  }
  return 0;
}

}  // namespace

std::optional<double> EdgeNow::SideAngles::mean_deg() const {
  if (stations.empty()) return std::nullopt;
  double sum = 0;
  for (const auto& station : stations) sum += station.mean_deg;
  return sum / double(stations.size());
}

double EdgeNow::SideAngles::range_deg() const {
  double low = 1e9, high = -1e9;
  for (const auto& station : stations) {
    low = std::min(low, station.mean_deg);
    high = std::max(high, station.mean_deg);
  }
  return stations.empty() ? 0 : high - low;
}

bool EdgeNow::has_angle() const {
  for (const auto* side : angles())
    if (!side->stations.empty()) return true;
  return false;
}

double EdgeNow::range_deg() const {
  double out = 0;
  for (const auto* side : angles()) out = std::max(out, side->range_deg());
  return out;
}

double EdgeNow::length_mm() const {
  double low = 1e9, high = -1e9;
  for (const auto& point : outline) {
    low = std::min(low, point.x_mm);
    high = std::max(high, point.x_mm);
  }
  return high - low;
}

double EdgeNow::edge_mm() const {
  const auto curve = EdgeOutline::through(outline);
  if (!curve) return length_mm();
  double length = 0;
  const auto places = curve->sample(400);
  for (std::size_t i = 1; i < places.size(); ++i)
    length += std::hypot(places[i].x_mm - places[i - 1].x_mm, places[i].y_mm - places[i - 1].y_mm);
  return length;
}

std::vector<EdgeNow::MeasuredPlace> EdgeNow::measured_places() const {
  std::map<double, std::map<double, double>> places;
  for (const auto& record : thicknesses)
    places[record.at_mm][record.distance_mm] = record.thickness_mm;
  std::vector<MeasuredPlace> out;
  for (const auto& [at, profile] : places) {
    if (profile.size() < 2) continue;
    out.push_back({at, {}});
    for (const auto& [distance, thickness] : profile)
      out.back().profile.push_back({distance, thickness});
  }
  return out;
}

namespace {

/// Thick and thin spots at the distance that most places share.
std::string thickness_words(const EdgeNow& edge) {
  std::map<double, std::map<double, double>> by_distance;
  for (const auto& record : edge.thicknesses)
    by_distance[record.distance_mm][record.at_mm] = record.thickness_mm;
  const auto most = std::max_element(
      by_distance.begin(), by_distance.end(),
      [](const auto& a, const auto& b) { return a.second.size() < b.second.size(); });
  if (most == by_distance.end() || most->second.size() < 2) return "";
  const auto [thin, thick] =
      std::minmax_element(most->second.begin(), most->second.end(),
                          [](const auto& a, const auto& b) { return a.second < b.second; });
  return said(
      "{most} mm behind the apex it is {thin} mm thick at its thinnest ({place_words}) and {thick} "
      "mm at its thickest ({place_words_2}).",
      {{"most", print_number(most->first, 3)},
       {"thin", print_number(thin->second, 3)},
       {"place_words", place_words(thin->first)},
       {"thick", print_number(thick->second, 3)},
       {"place_words_2", place_words(thick->first)}});
}

}  // namespace

SectionPlan with_edge(SectionPlan plan, const BevelAngles& edge,
                      const std::optional<BevelAngles>& micro) {
  constexpr double kPlainPrimary_deg = 3, kBehindEdge_mm = 0.4;
  const auto both_sides = [](const BevelAngles& angles, const GrindUntil& until) {
    Grind out;
    out.angle_deg = angles.left_deg;
    if (!angles.is_symmetric()) out.angle_right_deg = angles.right_deg;
    out.until = until;
    return out;
  };
  // The primary grind stays; what was ground at the edge is what this edge has instead.
  if (plan.profile.empty() && !plan.grinds.empty())
    plan.grinds.resize(1);
  else
    plan.grinds.clear();
  plan.apex_um = 0;
  if (plan.grinds.empty() && plan.profile.empty())
    plan.grinds.push_back(
        both_sides(BevelAngles::symmetric(kPlainPrimary_deg), UntilThickness{kBehindEdge_mm}));
  plan.grinds.push_back(both_sides(edge, UntilApex{}));
  if (micro) plan.grinds.push_back(both_sides(*micro, UntilFacet{kMicroFacet_um}));
  return plan;
}

const FindingRecord* EdgeNow::trouble(IntakeCheck check) const {
  const auto at = std::size_t(check);
  return at < findings.size() && findings[at] && findings[at]->trouble ? &*findings[at] : nullptr;
}

EdgeNow edge_now(const Blade& blade) {
  EdgeNow out;
  out.outline = {{0, 0}, {100, 0}};
  out.findings.resize(kIntakeChecks);
  std::vector<const AngleRecord*> angles;
  for (const auto& record : blade.records) {
    if (const auto* outline = std::get_if<OutlineRecord>(&record.data)) {
      if (outline->points.size() >= 2) {
        out.outline = outline->points;
        out.outline_known = true;
      }
    } else if (const auto* section = std::get_if<SectionRecord>(&record.data)) {
      out.section = section->plan;
      out.section_older = false;
      angles.clear();
      out.thicknesses.clear();
    } else if (const auto* angle = std::get_if<AngleRecord>(&record.data)) {
      angles.push_back(angle);
    } else if (const auto* thickness = std::get_if<ThicknessRecord>(&record.data)) {
      out.thicknesses.push_back(*thickness);
    } else if (const auto* sharpening = std::get_if<SharpeningRecord>(&record.data)) {
      if (current_step(sharpening->sharpening))
        continue;  // broken off: the edge is partly the old one
      out.section_older = out.section.has_value();
      angles.clear();
      out.spots.clear();
    } else if (const auto* finding = std::get_if<FindingRecord>(&record.data)) {
      out.findings[std::size_t(finding->check)] = *finding;
    } else if (const auto* setting = std::get_if<SettingRecord>(&record.data)) {
      out.setting = *setting;
    } else if (const auto* spot = std::get_if<SpotRecord>(&record.data)) {
      if (!spot->cleared) {
        out.spots.push_back(*spot);
        continue;
      }
      // A clearing takes away what was noted within 2 mm of it.
      std::erase_if(out.spots, [&](const SpotRecord& old) {
        return old.kind == spot->kind && std::abs(old.at_mm - spot->at_mm) <= 2 &&
               (!spot->side || !old.side || old.side == spot->side);
      });
    }
  }
  out.left = side_angles(angles, EdgeSide::left, false);
  out.right = side_angles(angles, EdgeSide::right, false);
  out.micro_left = side_angles(angles, EdgeSide::left, true);
  out.micro_right = side_angles(angles, EdgeSide::right, true);
  for (const auto* angle : angles) out.bevel_unsaid |= angle->bevel == MeasuredBevel::not_said;
  return out;
}

double open_damage_um(const EdgeNow& edge) {
  double largest = 0;
  for (const auto& spot : edge.spots)
    if (spot.kind == SpotKind::damage) largest = std::max(largest, spot.size_um);
  if (const auto* chips = edge.trouble(IntakeCheck::chips); chips && chips->size_mm)
    largest = std::max(largest, 1000 * *chips->size_mm);
  return largest;
}

EdgeWords describe_edge(const EdgeNow& edge, double tolerance_deg) {
  EdgeWords out;
  const std::string edge_bevel = edge.bevel_unsaid ? said("Bevel not said") : said("Edge bevel");
  for (const auto& words : {bevel_words(edge_bevel, edge.left, edge.right),
                            bevel_words("Micro-bevel", edge.micro_left, edge.micro_right)})
    if (!words.empty()) out.spread += (out.spread.empty() ? "" : " ") + words;
  if (out.spread.empty()) out.spread = said("No angle has been measured on this edge.");
  out.thickness = thickness_words(edge);
  const SpotRecord* worst = nullptr;
  for (const auto& spot : edge.spots)
    if (!worst || gravity(spot.kind) > gravity(worst->kind) ||
        (spot.kind == worst->kind && spot.size_um > worst->size_um))
      worst = &spot;
  if (worst) {
    out.worst_at_mm = worst->at_mm;
    out.worst = said("{at_mm} mm from the heel: {rework}.",
                     {{"at_mm", print_number(worst->at_mm, 3)}, {"rework", rework(*worst)}});
    return out;
  }
  double farthest = tolerance_deg;
  for (const auto* side : edge.angles())
    for (const auto& station : side->stations) {
      const double off = station.mean_deg - *side->mean_deg();
      if (std::abs(off) <= farthest) continue;
      farthest = std::abs(off);
      out.worst_at_mm = station.at_mm;
      out.worst = said(
          "{at_mm} mm from the heel: the {left} side is {off}{steeper} than its mean; check the "
          "clamp there before the next stone.",
          {{"at_mm", print_number(station.at_mm, 3)},
           {"left", side == &edge.left || side == &edge.micro_left ? said("left") : said("right")},
           {"off", deg(std::abs(off))},
           {"steeper", off > 0 ? said(" steeper") : said(" flatter")}});
    }
  return out;
}

}  // namespace bq::inline trial
