// The section that a ladder leaves, told so that it stays short however often a blade is sharpened.
#include <algorithm>
#include <cmath>

#include "edge/ladder.h"
#include "edge/section_outcomes.h"
#include "quantity/angle.h"

namespace bq::inline edge {
namespace {

constexpr double kAlike_mm2 = 1e-4, kAlike_mm = 1e-4, kAlikeSide_mm = 3e-4;

bool alike(const SectionPlan& plan, const Section& after) {
  const auto made = make_section(plan);
  if (!made || std::abs(made->area_mm2() - after.area_mm2()) > kAlike_mm2 ||
      std::abs(made->apex_mm() - after.apex_mm()) > kAlike_mm)
    return false;
  // Sides apart: what one gives and the other takes does not show in the area.
  for (const double above : {0.02, 0.1, 0.5, 2.0})
    for (const EdgeSide side : {EdgeSide::left, EdgeSide::right})
      if (const double h = after.apex_mm() + above; h < after.top_mm())
        if (std::abs(made->half_mm(side, h) - after.half_mm(side, h)) > kAlikeSide_mm) return false;
  return true;
}

/// What went on on one side alone, as one grind.
std::optional<Grind> finer_side(const LadderPlan& plan) {
  double depth_mm = 0;
  std::optional<Grind> out;
  for (const auto& step : plan.steps) {
    if (step.micro || step.side == GrindSide::both) continue;
    depth_mm += step.receded_um / 1000;
    out.emplace();
    out->side = step.side;
    out->angle_deg = step.side == GrindSide::left ? step.angles.left_deg : step.angles.right_deg;
    out->until = UntilDepth{depth_mm};
  }
  return out;
}

Grind micro_of(const LadderWish& wish) {
  Grind micro;
  micro.angle_deg = wish.micro->left_deg;
  micro.angle_right_deg = wish.micro->right_deg;
  micro.until = UntilFacet{wish.micro_facet_um};
  return micro;
}

std::optional<SectionPlan> resulting(const EdgeState& state, const LadderWish& wish,
                                     const LadderPlan& plan, bool shorten) {
  SectionPlan out = state.section;
  out.apex_um = 0;
  const BevelAngles angles = wish.apex_only ? *wish.micro : wish.edge;
  if (!wish.apex_only && shorten) {
    // What stood on the micro-bevel goes with it.
    if (out.grinds.size() > 1 && out.grinds.back().side != GrindSide::both &&
        std::holds_alternative<UntilFacet>(out.grinds[out.grinds.size() - 2].until))
      out.grinds.pop_back();
    if (!out.grinds.empty() && std::holds_alternative<UntilFacet>(out.grinds.back().until))
      out.grinds.pop_back();
  }
  const auto same = [&](const Grind& g) {
    return g.shape == GrindShape::flat && g.side == GrindSide::both &&
           g.angle_deg == angles.left_deg &&
           g.angle_right_deg.value_or(g.angle_deg) == angles.right_deg;
  };
  // A grind of the sharpening before this one at the same angles is joined with it.
  if (shorten && out.grinds.size() > 1 && same(out.grinds.back()) &&
      std::holds_alternative<UntilDepth>(out.grinds.back().until))
    out.grinds.pop_back();
  const auto base = make_section(out);
  if (!base) return std::nullopt;
  double micro_mm = 0;
  for (const auto& step : plan.steps)
    if (step.micro) micro_mm += step.receded_um / 1000;
  const auto one_side = finer_side(plan);
  const double one_side_mm = one_side ? std::get<UntilDepth>(one_side->until).depth_mm : 0;
  Grind whole;
  whole.angle_deg = angles.left_deg;
  whole.angle_right_deg = angles.right_deg;
  const double depth = plan.after.apex_mm() - micro_mm - one_side_mm - base->apex_mm();
  if (depth > 1e-9) whole.until = UntilDepth{depth};
  out.grinds.push_back(whole);
  if (wish.micro && !wish.apex_only) out.grinds.push_back(micro_of(wish));
  if (one_side) out.grinds.push_back(*one_side);
  if (!alike(out, plan.after)) return std::nullopt;
  return out;
}

/// The depth of a grind of one side that brings its face to y = at + slope·(h − where); 0 where the
/// face lies there already.
double depth_to(const Section& before, EdgeSide side, double slope, double where, double at) {
  const EdgeSide other = side == EdgeSide::left ? EdgeSide::right : EdgeSide::left;
  const auto thickness = [&](double h) {
    return at + slope * (h - where) + before.half_mm(other, h);
  };
  double low = before.apex_mm(), high = before.top_mm();
  if (thickness(low) >= 0 || thickness(high) <= 0) return 0;
  for (int i = 0; i < 60; ++i) {
    const double middle = 0.5 * (low + high);
    (thickness(middle) < 0 ? low : high) = middle;
  }
  return 0.5 * (low + high) - before.apex_mm();
}

/// The widest face of a side at this angle.
std::optional<Facet> face_at(const Section& section, EdgeSide side, double angle_deg) {
  std::optional<Facet> out;
  for (const auto& facet : facets_of(section))
    if (facet.side == side && std::abs(facet.angle_deg - angle_deg) < 1e-6 &&
        (!out || facet.width_um > out->width_um))
      out = facet;
  return out;
}

/// The edge bevel told as what it is, one face on each side, however many sharpenings brought it
/// there: sharpenings before this one at these angles are forgotten.
std::optional<SectionPlan> by_faces(const EdgeState& state, const LadderWish& wish,
                                    const LadderPlan& plan) {
  if (wish.apex_only) return std::nullopt;
  SectionPlan out = state.section;
  out.apex_um = 0;
  const auto goes = [&](const Grind& g) {
    if (g.shape != GrindShape::flat) return false;
    if (std::holds_alternative<UntilFacet>(g.until)) return true;
    if (!std::holds_alternative<UntilDepth>(g.until)) return false;
    return g.side != GrindSide::both ||
           (g.angle_deg == wish.edge.left_deg &&
            g.angle_right_deg.value_or(g.angle_deg) == wish.edge.right_deg);
  };
  while (out.grinds.size() > 1 && goes(out.grinds.back())) out.grinds.pop_back();
  for (const EdgeSide side : {EdgeSide::left, EdgeSide::right}) {
    const bool left = side == EdgeSide::left;
    const double angle = left ? wish.edge.left_deg : wish.edge.right_deg;
    const auto face = face_at(plan.after, side, angle);
    const auto base = make_section(out);
    if (!face || !base) return std::nullopt;
    const double where = plan.after.apex_mm() + 0.5e-3 * (face->from_um + face->to_um);
    const double depth =
        depth_to(*base, side, std::tan(radians(angle)), where, plan.after.half_mm(side, where));
    if (!(depth > 1e-9)) continue;
    Grind one;
    one.side = left ? GrindSide::left : GrindSide::right;
    one.angle_deg = angle;
    one.until = UntilDepth{depth};
    out.grinds.push_back(one);
  }
  if (wish.micro) {
    out.grinds.push_back(micro_of(wish));
    if (const auto one_side = finer_side(plan)) out.grinds.push_back(*one_side);
  }
  if (!alike(out, plan.after)) return std::nullopt;
  return out;
}

}  // namespace

std::optional<SectionPlan> resulting_section(const EdgeState& state, const LadderWish& wish,
                                             const LadderPlan& plan) {
  // An edge whose apex was moved sideways cannot always be told shorter.
  if (const auto faces = by_faces(state, wish, plan)) return faces;
  if (const auto shorter = resulting(state, wish, plan, true)) return shorter;
  return resulting(state, wish, plan, false);
}

}  // namespace bq::inline edge
