#include "workflow/search_making.h"

#include <algorithm>

#include "bluntness/rough_use.h"
#include "quantity/said.h"
#include "trial/edge_map.h"

namespace bq::inline workflow {
namespace {

Grind flat(double angle_deg, GrindUntil until) {
  Grind out;
  out.angle_deg = angle_deg;
  out.until = until;
  return out;
}

/// The primary of the blade with the whole section of the round on it.
SectionPlan plan_of(SectionPlan plan, const ApexProfile& section, const SearchRound& round) {
  const auto& bevels = section.bevels;
  plan = with_edge(plan, BevelAngles::symmetric(bevels.back().angle_deg), std::nullopt);
  for (std::size_t i = bevels.size() - 1; i-- > (round.micro_deg ? 1U : 0U);)
    plan.grinds.push_back(flat(bevels[i].angle_deg, UntilBehindEdge{bevels[i].up_to_um / 1000}));
  if (round.micro_deg) plan.grinds.push_back(flat(*round.micro_deg, UntilFacet{round.micro_um}));
  return plan;
}

}  // namespace

std::vector<EdgeRecordData> records_of_round(const Trial& trial, const DamageSearch& search,
                                             std::size_t number) {
  const SearchRound& round = search.rounds.at(number);
  const bool damaged_before =
      number > 0 && search.rounds[number - 1].look.found != DamageFound::clean;
  if (number > 0 && !damaged_before && same_edge(round, search.rounds[number - 1])) return {};
  const Blade* blade = trial.find_blade(search.blade);
  if (!blade) return {};
  Sharpening made;
  made.policy = GatePolicy::none;
  made.by_operator = round.by_operator;
  made.note = said("for the damage search {name}, round {number}",
                   {{"name", search.name}, {"number", std::to_string(number + 1)}});
  const auto step = [&](StepWork work, double angle_deg) {
    SharpeningStep out;
    out.work = work;
    out.angles = BevelAngles::symmetric(angle_deg);
    out.done = true;
    made.steps.push_back(out);
  };
  step(StepWork::grind, round.edge_angle_deg);
  if (round.micro_deg) step(StepWork::micro_bevel, *round.micro_deg);
  std::vector<EdgeRecordData> out{SharpeningRecord{made}};
  const EdgeNow edge = edge_now(*blade);
  const SectionPlan plan =
      plan_of(edge.section.value_or(SectionPlan{}), sections_of(search)[number], round);
  if (edge.section && make_section(plan)) out.push_back(SectionRecord{plan, made.note});
  return out;
}

}  // namespace bq::inline workflow
