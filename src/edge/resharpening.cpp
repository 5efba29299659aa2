#include "edge/resharpening.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "edge/parting.h"
#include "edge/section_outcomes.h"
#include "quantity/said.h"

namespace bq::inline edge {
namespace {

/// The grinds that made the edge bevel, left and right.
using EdgeGrinds = std::array<int, 2>;

TouchUpState state_of(const Section& start, const Section& now, int touch_ups,
                      const EdgeGrinds& edge_grinds) {
  TouchUpState state;
  state.touch_ups = touch_ups;
  const Removal gone = removal(start, now);
  state.apex_receded_mm = gone.apex_receded_mm;
  state.removed_mm2 = gone.area_mm2;
  state.inclusive_deg = now.apex_angles().inclusive_deg();
  int faces = 0;
  for (const auto& facet : facets_of(now))
    if (facet.made_by == edge_grinds[std::size_t(facet.side)]) {
      state.shoulder_thickness_mm = std::max(state.shoulder_thickness_mm, facet.to_thickness_mm);
      state.edge_facet_um += facet.width_um;
      ++faces;
    }
  if (faces) state.edge_facet_um /= faces;
  return state;
}

/// On each side the grind below the first, or the first itself.
EdgeGrinds edge_grinds_of(const Section& section) {
  const int none = 1 << 30;
  int least = none;
  for (const auto& facet : facets_of(section)) least = std::min(least, facet.made_by);
  EdgeGrinds out{none, none};
  for (const auto& facet : facets_of(section)) {
    int& next = out[std::size_t(facet.side)];
    if (facet.made_by > least) next = std::min(next, facet.made_by);
  }
  for (int& grind : out)
    if (grind == none) grind = least;
  return out;
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

/// What a micro-bevel was cut to; what is left of it where the grind that cut it is not known.
double width_of(const Facet& micro, const std::vector<Grind>& grinds) {
  for (auto i = std::min(std::size_t(micro.made_by) + 1, grinds.size()); i-- > 0;)
    if (const auto* until = std::get_if<UntilFacet>(&grinds[i].until)) return until->width_um;
  return micro.width_um;
}

}  // namespace

void TouchUp::set_both(double edge_deg, std::optional<double> micro_deg) {
  left = right = {edge_deg, micro_deg};
}

TouchUp touch_up_of(const Section& section, const std::vector<Grind>& grinds,
                    double worn_width_um) {
  TouchUp out;
  out.worn_width_um = worn_width_um;
  const auto faces = edge_faces(section, grinds);
  for (const EdgeSide side : {EdgeSide::left, EdgeSide::right}) {
    TouchUp::Side& own = side == EdgeSide::left ? out.left : out.right;
    const EdgeFaces& now = faces[std::size_t(side)];
    own = {};
    if (!now.edge || now.edge->made_by < 0) continue;
    own.edge_deg = now.edge->apex_end_deg;
    if (!now.micro) continue;
    own.micro_deg = now.micro->apex_end_deg;
    out.micro_facet_um = width_of(*now.micro, grinds);
  }
  return out;
}

Checked<std::vector<TouchUpState>> touch_up_series(const Section& start, const TouchUp& touch_up,
                                                   int count) {
  if (count < 0 || count > 1000) return Refusal{said("between 0 and 1000 touch-ups can be played")};
  if (!(touch_up.worn_width_um > 0)) return Refusal{said("the worn apex width must be above 0")};
  if (!touch_up.left.edge_deg && !touch_up.right.edge_deg)
    return Refusal{said("no side has an edge bevel to touch up")};
  std::vector<TouchUpState> series{state_of(start, start, 0, edge_grinds_of(start))};
  Section now = start;
  for (int i = 1; i <= count; ++i) {
    const std::string which = said("touch-up {i}: ", {{"i", std::to_string(i)}});
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
    series.push_back(state_of(start, now, i, {edge_grind, edge_grind}));
  }
  return series;
}

std::optional<int> thinning_due(const std::vector<TouchUpState>& series, double limit_mm) {
  for (const auto& state : series)
    if (state.shoulder_thickness_mm > limit_mm) return state.touch_ups;
  return std::nullopt;
}

std::optional<double> hollow_radius_mm(const Section& section) {
  for (const EdgeSide side : {EdgeSide::left, EdgeSide::right})
    for (const auto& piece : section.pieces(side))
      if (piece.shape == SurfacePiece::Shape::hollow && piece.to_mm > section.apex_mm())
        return piece.radius_mm;
  return std::nullopt;
}

double parting_to_blend_N_per_mm(const Section& section, const ThinningWish& wish) {
  PartingOptions parting;
  parting.depth_mm = wish.blend_mm;
  return *parting_force_N_per_mm(section, parting);
}

Checked<std::vector<ThinningOption>> compare_thinning(const Section& start,
                                                      const ThinningWish& wish,
                                                      const std::optional<SideLoad>& load) {
  const auto at_edge = start.truncated(wish.behind_edge_mm);
  if (!at_edge || wish.behind_edge_mm <= start.apex_width_mm())
    return Refusal{said("the section has no place behind the edge with the wished thickness")};
  const double from = at_edge->apex_mm() - start.apex_mm();
  const auto blend = start.thickness_mm(wish.blend_mm);
  if (!blend || wish.blend_mm <= from)
    return Refusal{said("the thinned face must run out between the edge bevel and the spine")};
  const double angle =
      degrees(std::atan(0.5 * (*blend - wish.behind_edge_mm) / (wish.blend_mm - from)));
  constexpr double kPlainWheel_mm = 125;
  const auto hollow = hollow_radius_mm(start);
  const auto grind_of_shape = [&](GrindShape shape) {
    Grind grind;
    grind.shape = shape;
    grind.angle_deg = angle;
    grind.until = UntilBehindEdge{wish.behind_edge_mm};
    if (shape == GrindShape::hollow)
      grind.radius_mm = wish.wheel_radius_mm.value_or(hollow.value_or(kPlainWheel_mm));
    if (shape == GrindShape::convex) {
      // The chord lies at the mean of the two ends.
      const double half = std::min(wish.convex_turn_deg / 2, 0.999 * angle);
      grind.angle_deg = angle - half;
      grind.to_deg = angle + half;
    }
    return grind;
  };
  std::vector<ThinningOption> options;
  const auto add = [&](GrindShape shape, std::string what, const Grind& grind,
                       const std::optional<Grind>& then) {
    auto section = start.ground(grind);
    if (section && then) section = section->ground(*then);
    if (!section) {
      options.push_back({shape, std::move(what), grind, then, start, 0, 0, std::nullopt,
                         section.refusal().reason});
      return;
    }
    ThinningOption option{shape,
                          std::move(what),
                          grind,
                          then,
                          *section,
                          removal(start, *section).area_mm2,
                          parting_to_blend_N_per_mm(*section, wish),
                          std::nullopt,
                          ""};
    if (load)
      if (const auto weakest = weakest_place(*section, *load)) option.peak_MPa = weakest->peak_MPa;
    options.push_back(std::move(option));
  };
  const Grind flat = grind_of_shape(GrindShape::flat), wheel = grind_of_shape(GrindShape::hollow);
  add(GrindShape::flat, hollow ? said("flat stone on the shoulders") : said("flat"), flat,
      std::nullopt);
  add(GrindShape::hollow, hollow ? said("hollow, on the wheel") : said("hollow"), wheel,
      std::nullopt);
  add(GrindShape::convex, "convex", grind_of_shape(GrindShape::convex), std::nullopt);
  if (hollow) {
    // The wheel leaves a little, the flat stone takes it off the shoulders.
    constexpr double kLeftByTheWheel = 1.15;
    Grind first = wheel;
    first.until = UntilBehindEdge{kLeftByTheWheel * wish.behind_edge_mm};
    add(GrindShape::hollow, said("wheel, then the shoulders"), first, flat);
  }
  if (std::all_of(options.begin(), options.end(),
                  [](const ThinningOption& option) { return !option.why_not.empty(); }))
    return Refusal{options.front().why_not};
  return options;
}

}  // namespace bq::inline edge
