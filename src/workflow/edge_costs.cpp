#include "workflow/edge_costs.h"

#include <algorithm>
#include <cmath>

#include "edge/parting.h"
#include "edge/weakest_place.h"
#include "trial/edge_map.h"
#include "workflow/stones_study.h"

namespace bq::inline workflow {
namespace {

constexpr double kNearFinish = 1.4;

const Blade* blade_with_section(const Trial& facts, const std::string& steel) {
  for (const auto& blade : facts.blades)
    if (blade.steel == steel && !blade.retired && edge_now(blade).section) return &blade;
  return nullptr;
}

}  // namespace

std::optional<SectionPlan> section_with(const Trial& facts, const std::string& steel,
                                        const BevelAngles& edge,
                                        const std::optional<BevelAngles>& micro,
                                        const std::string& own_blade) {
  SectionPlan plan;
  const auto own = std::find_if(facts.blades.begin(), facts.blades.end(), [&](const Blade& blade) {
    return !own_blade.empty() && blade.name == own_blade && edge_now(blade).section;
  });
  if (const Blade* blade = own != facts.blades.end() ? &*own : blade_with_section(facts, steel))
    plan = *edge_now(*blade).section;
  plan = with_edge(plan, edge, micro);
  return make_section(plan) ? std::optional(plan) : std::nullopt;
}

EdgeCosts::EdgeCosts(const Trial& facts, const std::vector<std::string>& stones,
                     const std::string& section_questions)
    : facts_(facts), questions_(section_questions_of(section_questions)) {
  for (const auto& abrasive : facts.shelf)
    if (!abrasive.retired &&
        (stones.empty() || std::find(stones.begin(), stones.end(), abrasive.name) != stones.end()))
      shelf_.push_back(abrasive);
}

EdgeCosts::Key EdgeCosts::key_of(const RankedEdge& edge) {
  return {edge.steel, edge.angle_deg, edge.edge_deg.value_or(0), edge.finish_um.value_or(0)};
}

double EdgeCosts::edge_length_mm(const std::string& steel) const {
  const Blade* blade = blade_with_section(facts_, steel);
  return blade ? edge_now(*blade).edge_mm() : 100;
}

std::optional<SectionPlan> EdgeCosts::section_of(const RankedEdge& edge) const {
  return section_with(
      facts_, edge.steel, BevelAngles::symmetric(edge.edge_deg.value_or(edge.angle_deg)),
      edge.edge_deg ? std::optional(BevelAngles::symmetric(edge.angle_deg)) : std::nullopt);
}

std::optional<double> EdgeCosts::parting_N_per_mm(const RankedEdge& edge, double friction) {
  auto [at, fresh] = partings_.try_emplace(key_of(edge));
  if (!fresh) return at->second;
  PartingOptions options;
  options.friction = friction;
  if (const auto plan = section_of(edge))
    at->second = parting_force_N_per_mm(*make_section(*plan), options).value();
  return at->second;
}

std::optional<LadderPlan> EdgeCosts::ladder(const RankedEdge& edge) const {
  const auto section = section_of(edge);
  if (!section || shelf_.empty()) return std::nullopt;
  EdgeState state;
  state.section = *section;
  state.dull_um = kBluntApex_um;
  state.edge_length_mm = edge_length_mm(edge.steel);
  state.finish_um = edge.finish_um;
  LadderWish wish;
  wish.edge = BevelAngles::symmetric(edge.edge_deg.value_or(edge.angle_deg));
  if (edge.edge_deg) {
    wish.micro = BevelAngles::symmetric(edge.angle_deg);
    wish.apex_only = true;
  }
  wish.micro_facet_um = kMicroFacet_um;
  wish.finish_left_um = wish.finish_right_um = edge.finish_um.value_or(6);
  const auto plan = plan_ladder(state, wish, shelf_, class_of_steel(facts_, edge.steel));
  if (!plan || plan->steps.empty()) return std::nullopt;
  const auto last = size_um(shelf_[plan->steps.back().abrasive]);
  if (edge.finish_um &&
      (!last || std::fabs(std::log(*last / *edge.finish_um)) > std::log(kNearFinish)))
    return std::nullopt;
  return *plan;
}

std::optional<Resharpening> EdgeCosts::touch_up(const RankedEdge& edge) {
  auto [at, fresh] = touch_ups_.try_emplace(key_of(edge));
  if (fresh)
    if (const auto plan = ladder(edge))
      at->second =
          Resharpening{plan->minutes, plan->metal_mm3, plan->receded_um, plan->minutes_estimated};
  return at->second;
}

std::optional<double> EdgeCosts::stress_ratio(const RankedEdge& edge) {
  auto [at, fresh] = stresses_.try_emplace(key_of(edge));
  if (!fresh) return at->second;
  const SteelCard* card = facts_.steel_card(edge.steel);
  const auto limit = card ? leading_limit(strength_of(*card)) : std::nullopt;
  if (!limit) return std::nullopt;
  const auto plan = section_of(edge);
  if (!plan) return std::nullopt;
  if (const auto weakest = weakest_place(*make_section(*plan), questions_.load()))
    at->second = weakest->peak_MPa / limit->limit_MPa;
  return at->second;
}

}  // namespace bq::inline workflow
