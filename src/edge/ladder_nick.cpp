#include "edge/ladder_nick.h"

#include <algorithm>

#include "edge/section_outcomes.h"
#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline edge {
namespace {

/// Damage that a touch-up does not take out anyway.
constexpr double kNick_um = 50;

}  // namespace

void add_nick_remarks(LadderPlan& plan, const EdgeState& state, const LadderWish& wish,
                      const Section& start) {
  if (state.damage_um < kNick_um || wish.apex_only) return;
  const auto behind = behind_edge(start, state.section.grinds);
  if (!behind || behind->thickness_mm) return;
  const auto metal = [](double mm3) { return print_number(mm3, 2) + " mm³"; };
  const std::string depth = print_number(state.damage_um / 1000, 2) + " mm";
  std::string out = said(
      "A nick {depth} deep in an edge ground to zero has three ways out. This plan takes the whole "
      "bevel back: {metal}, the blade {receded_um} mm lower, the tip with it. ",
      {{"depth", depth},
       {"metal", metal(plan.metal_mm3)},
       {"receded_um", print_number(plan.receded_um / 1000, 2)}});
  // Steeper by a third of the edge's own angle, or as wished: the nick's bottom becomes the apex.
  const BevelAngles over =
      wish.micro.value_or(BevelAngles{wish.edge.left_deg * 4 / 3, wish.edge.right_deg * 4 / 3});
  Grind grind;
  grind.side = GrindSide::both;
  grind.angle_deg = over.left_deg;
  grind.angle_right_deg = over.right_deg;
  grind.until = UntilDepth{state.damage_um / 1000};
  if (const auto covered = start.ground(grind)) {
    double widest_um = 0;
    for (const auto& facet : facets_of(*covered))
      if (facet.from_um < 1e-6) widest_um = std::max(widest_um, facet.width_um);
    out += said(
        "A micro-bevel of {left_deg}° per side over the nick: {metal}, {widest_um} mm wide, the "
        "blade as much lower, the angle at the apex no longer the one wished. ",
        {{"left_deg", print_number(over.left_deg, 3)},
         {"metal", metal(removal(start, *covered).area_mm2 * state.edge_length_mm)},
         {"widest_um", print_number(widest_um / 1000, 2)}});
  }
  out += said(
      "Or live with it until later sharpenings have come down to it. Never grind at the nick "
      "alone: a hollow in the outline is worse than a nick.");
  plan.remarks.push_back(std::move(out));
}

}  // namespace bq::inline edge
