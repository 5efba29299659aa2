#include "edge/resharpening.h"

#include <algorithm>
#include <cmath>

#include "edge/parting.h"
#include "edge/section_outcomes.h"

namespace bq::inline edge {
namespace {

TouchUpState state_of(const Section& start, const Section& now, int touch_ups, int edge_grind) {
  TouchUpState state;
  state.touch_ups = touch_ups;
  const Removal gone = removal(start, now);
  state.apex_receded_mm = gone.apex_receded_mm;
  state.removed_mm2 = gone.area_mm2;
  state.inclusive_deg = now.apex_angles().inclusive_deg();
  int faces = 0;
  for (const auto& facet : facets_of(now))
    if (facet.made_by == edge_grind) {
      state.shoulder_thickness_mm = std::max(state.shoulder_thickness_mm, facet.to_thickness_mm);
      state.edge_facet_um += facet.width_um;
      ++faces;
    }
  if (faces) state.edge_facet_um /= faces;
  return state;
}

/// The grind that made the edge bevel: the one below the first, or the first itself.
int edge_grind_of(const Section& section) {
  int least = 1 << 30, next = 1 << 30;
  for (const auto& facet : facets_of(section)) least = std::min(least, facet.made_by);
  for (const auto& facet : facets_of(section))
    if (facet.made_by > least) next = std::min(next, facet.made_by);
  return next == 1 << 30 ? least : next;
}

/// One grind of the sides that have an angle; at least one has.
Grind grind_of(std::optional<double> left, std::optional<double> right, const GrindUntil& until) {
  Grind out;
  out.side = !right ? GrindSide::left : !left ? GrindSide::right : GrindSide::both;
  out.angle_deg = left ? *left : *right;
  if (left && right && *left != *right) out.angle_right_deg = right;
  out.until = until;
  return out;
}

}  // namespace

void TouchUp::set_both(double edge_deg, std::optional<double> micro_deg) {
  left = right = {edge_deg, micro_deg};
}

TouchUp touch_up_of(const Section& section, const std::vector<Grind>& grinds,
                    double worn_width_um) {
  TouchUp out;
  out.worn_width_um = worn_width_um;
  const auto facets = facets_of(section);
  for (const EdgeSide side : {EdgeSide::left, EdgeSide::right}) {
    TouchUp::Side& own = side == EdgeSide::left ? out.left : out.right;
    own = {};
    const Facet* apex = nullptr;
    const Facet* behind = nullptr;
    for (const auto& facet : facets) {
      if (facet.side != side || facet.made_by < 0) continue;
      if (facet.from_um < 1e-6)
        apex = &facet;
      else if (apex && !behind)
        behind = &facet;
    }
    if (!apex) continue;
    const auto* width = std::size_t(apex->made_by) < grinds.size()
                            ? std::get_if<UntilFacet>(&grinds[std::size_t(apex->made_by)].until)
                            : nullptr;
    if (behind && width) {
      own = {behind->apex_end_deg, apex->apex_end_deg};
      out.micro_facet_um = width->width_um;
    } else {
      own.edge_deg = apex->apex_end_deg;
    }
  }
  return out;
}

Checked<std::vector<TouchUpState>> touch_up_series(const Section& start, const TouchUp& touch_up,
                                                   int count) {
  if (count < 0 || count > 1000) return Refusal{"between 0 and 1000 touch-ups can be played"};
  if (!(touch_up.worn_width_um > 0)) return Refusal{"the worn apex width must be above 0"};
  if (!touch_up.left.edge_deg && !touch_up.right.edge_deg)
    return Refusal{"no side has an edge bevel to touch up"};
  std::vector<TouchUpState> series{state_of(start, start, 0, edge_grind_of(start))};
  Section now = start;
  for (int i = 1; i <= count; ++i) {
    const std::string which = "touch-up " + std::to_string(i) + ": ";
    const auto worn = now.truncated(touch_up.worn_width_um / 1000);
    if (!worn) return Refusal{which + worn.refusal().reason};
    auto ground =
        worn->ground(grind_of(touch_up.left.edge_deg, touch_up.right.edge_deg, UntilApex{}));
    if (!ground) return Refusal{which + ground.refusal().reason};
    const int edge_grind = ground->grind_count() - 1;
    if (touch_up.left.micro_deg || touch_up.right.micro_deg) {
      ground = ground->ground(grind_of(touch_up.left.micro_deg, touch_up.right.micro_deg,
                                       UntilFacet{touch_up.micro_facet_um}));
      if (!ground) return Refusal{which + ground.refusal().reason};
    }
    now = *ground;
    series.push_back(state_of(start, now, i, edge_grind));
  }
  return series;
}

std::optional<int> thinning_due(const std::vector<TouchUpState>& series, double limit_mm) {
  for (const auto& state : series)
    if (state.shoulder_thickness_mm > limit_mm) return state.touch_ups;
  return std::nullopt;
}

Checked<std::vector<ThinningOption>> compare_thinning(const Section& start,
                                                      const ThinningWish& wish,
                                                      const std::optional<SideLoad>& load) {
  const auto at_edge = start.truncated(wish.behind_edge_mm);
  if (!at_edge || wish.behind_edge_mm <= start.apex_width_mm())
    return Refusal{"the section has no place behind the edge with the wished thickness"};
  const double from = at_edge->apex_mm() - start.apex_mm();
  const auto blend = start.thickness_mm(wish.blend_mm);
  if (!blend || wish.blend_mm <= from)
    return Refusal{"the thinned face must run out between the edge bevel and the spine"};
  const double angle =
      degrees(std::atan(0.5 * (*blend - wish.behind_edge_mm) / (wish.blend_mm - from)));
  std::vector<ThinningOption> options;
  for (const GrindShape shape : {GrindShape::flat, GrindShape::hollow, GrindShape::convex}) {
    Grind grind;
    grind.shape = shape;
    grind.angle_deg = angle;
    grind.until = UntilBehindEdge{wish.behind_edge_mm};
    if (shape == GrindShape::hollow) grind.radius_mm = wish.wheel_radius_mm;
    if (shape == GrindShape::convex) {
      // The chord lies at the mean of the two ends.
      const double half = std::min(wish.convex_turn_deg / 2, 0.999 * angle);
      grind.angle_deg = angle - half;
      grind.to_deg = angle + half;
    }
    const auto section = start.ground(grind);
    if (!section) return Refusal{std::string(name_of(shape)) + ": " + section.refusal().reason};
    ThinningOption option{shape, grind,       *section, removal(start, *section).area_mm2,
                          0,     std::nullopt};
    PartingOptions parting;
    parting.depth_mm = wish.blend_mm;
    option.parting_N_per_mm = *parting_force_N_per_mm(*section, parting);
    if (load)
      if (const auto weakest = weakest_place(*section, *load)) option.peak_MPa = weakest->peak_MPa;
    options.push_back(std::move(option));
  }
  return options;
}

}  // namespace bq::inline edge
