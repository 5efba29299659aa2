#include <algorithm>
#include <utility>

#include "edge/strop_contact.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "store/json_fields.h"
#include "store/section_file.h"
#include "store/shelf_json.h"
#include "workflow/stones_study.h"

namespace bq::inline workflow {
namespace {

SharpeningStep plain_step(StepWork work, const std::string& note) {
  SharpeningStep step;
  step.work = work;
  step.note = note;
  return step;
}

}  // namespace

const Abrasive* hard_fine(const std::vector<Abrasive>& shelf, std::optional<double> no_coarser) {
  const Abrasive* best = nullptr;
  for (const auto& abrasive : shelf) {
    const auto size = size_um(abrasive);
    if (abrasive.retired || abrasive.kind == AbrasiveKind::strop || is_powered(abrasive.kind) ||
        !size || (no_coarser && *size > *no_coarser * 1.0001))
      continue;
    if (!best || *size < *size_um(*best)) best = &abrasive;
  }
  return best;
}

namespace {

/// What the strop is made of: as measured, in words where it was not; bare leather on wood where
/// none is named.
Substrate substrate_of(const std::optional<Abrasive>& strop) {
  if (strop && strop->substrate_mm && strop->substrate_MPa && *strop->substrate_mm > 0 &&
      *strop->substrate_MPa > 0)
    return {*strop->substrate_mm, *strop->substrate_MPa};
  return substrate_of(StropBacking::thin_on_wood);
}

/// The strop from the shelf, or bare leather, as the clean-up of a route or the finishing step.
SharpeningStep strop_step(const SharpeningOptions& options, const BevelAngles& angles,
                          std::string note) {
  constexpr double kInHalves_mm = 250, kNotWorthAWord_deg = 0.2;
  SharpeningStep step = plain_step(StepWork::strop, "");
  step.angles = angles;
  step.passes = options.strop_passes;
  step.pressure = name_of(StropPressure::blade_weight);
  const Substrate under = substrate_of(options.strop);
  if (options.strop) {
    step.abrasive = options.strop->name;
    step.size_um = size_um(*options.strop);
    step.substrate = said("{nearest_backing}, {thickness_mm} mm thick",
                          {{"nearest_backing", std::string(name_of(nearest_backing(under)))},
                           {"thickness_mm", print_number(under.thickness_mm, 3)}});
    step.substrate += step.size_um ? said(", loaded") : said(", plain");
    if (!options.strop->rate_pressure.empty()) step.pressure = options.strop->rate_pressure;
  } else {
    step.substrate = said("bare leather on wood");
  }
  const auto add = [&](const std::string& sentence) {
    note += (note.empty() ? "" : ". ") + sentence;
  };
  const auto effect = substrate_effect(under, pressure_MPa(StropPressure::blade_weight));
  if (effect && effect->steeper_deg > kNotWorthAWord_deg)
    add(
        said("It gives: the apex meets about {steeper_deg}° more a side under the weight of the "
             "blade; lie that much lower, or raise the spine while pushing until it just bites",
             {{"steeper_deg", print_fixed(effect->steeper_deg, 1)}}));
  if (options.edge_mm > kInHalves_mm) add(said("The heel half first, then the tip half, alike"));
  step.note = note;
  return step;
}

/// The step of a route at the stone, after `last` and at its angle: of a micro-bevel that is the
/// micro-bevel's, or no stroke would reach the apex.
SharpeningStep route_step(const RouteStep& part, const SharpeningStep& last,
                          const std::vector<Abrasive>& shelf, bool first) {
  SharpeningStep step = plain_step(StepWork::deburr, part.what);
  const bool breaks = *part.above_edge_deg > 0;
  const Abrasive* on = breaks ? hard_fine(shelf, last.size_um) : nullptr;
  step.abrasive = on ? on->name : last.abrasive;
  step.size_um = on ? size_um(*on) : last.size_um;
  // Few: a burr that needs more was not thin yet.
  const bool last_strokes = breaks || !first;
  step.passes = last_strokes ? 6 : 20;
  return step;
}

/// The steel's route after the last step; between abrasives (not `whole`) only its first part, for
/// there the burr is but made small. What is done without a stone belongs to the step it comes
/// after, or before where none is there yet.
void add_route(Sharpening& out, const std::vector<Abrasive>& shelf,
               const SharpeningOptions& options, bool whole) {
  const SharpeningStep last = out.steps.back();
  const std::size_t before = out.steps.size();
  std::string first;
  for (const auto& part : deburring_route(options.behaviour)) {
    if (!part.above_edge_deg) {
      if (out.steps.size() == before)
        first = part.what + ". ";
      else
        out.steps.back().note += ". " + part.what;
      continue;
    }
    SharpeningStep step;
    BevelAngles angles = last.angles;
    angles.left_deg += *part.above_edge_deg;
    angles.right_deg += *part.above_edge_deg;
    step = part.cleans_up ? strop_step(options, angles, part.what)
                          : route_step(part, last, shelf, out.steps.size() == before);
    step.angles = angles;
    step.note = (whole ? std::exchange(first, "") : "") + step.note;
    out.steps.push_back(std::move(step));
    if (!whole) return;
  }
}

/// Falls from abrasive to abrasive, and within the last one.
std::string pressure_of(const LadderPlan& plan, std::size_t i, const Abrasive& abrasive) {
  const bool bulk = i == 0, last = i + 1 == plan.steps.size() || plan.steps[i].micro;
  std::string out = abrasive.rate_pressure;  // the time holds at it
  if (out.empty()) {
    if (plan.steps[i].micro)
      out = said("the weight of the blade");
    else if (bulk)
      out = last ? said("firm, then light") : said("firm");
    else
      out = last ? said("light") : said("moderate");
  }
  if (last && !plan.steps[i].micro) out += said(", the last strokes under the weight of the blade");
  return out;
}

}  // namespace

Sharpening sharpening_from(const LadderPlan& plan, const std::vector<Abrasive>& shelf,
                           const LadderWish& wish, const SharpeningOptions& options) {
  Sharpening out;
  out.policy = options.policy;
  out.proof = options.proof;
  out.way = options.way;
  out.stop = options.stop;
  out.places = options.places;
  out.deburr_between = options.deburr_between;
  out.run = options.run;
  out.by_operator = options.by_operator;
  if (options.deburr) out.route = route_name(options.behaviour);
  if (options.straighten)
    out.steps.push_back(
        plain_step(StepWork::straighten, said("Check it with a straight edge; only then go on")));
  if (options.recurve)
    out.steps.push_back(
        plain_step(StepWork::recurve, said("Edge flat on the coarsest abrasive, until no light "
                                           "shows under it; the apex goes with it")));
  const BevelAngles edge = wish.apex_only ? *wish.micro : wish.edge;
  for (std::size_t i = 0; i < plan.steps.size(); ++i) {
    const LadderStep& planned = plan.steps[i];
    const Abrasive& abrasive = shelf.at(planned.abrasive);
    SharpeningStep step;
    step.work = planned.micro ? StepWork::micro_bevel : StepWork::grind;
    step.abrasive = abrasive.name;
    step.size_um = size_um(abrasive);
    step.side = planned.side;
    step.angles = planned.angles;
    step.planned_min = planned.minutes;
    step.pressure = pressure_of(plan, i, abrasive);
    step.passes = planned.passes;
    const bool after_abrasive = !out.steps.empty() && out.steps.back().work == StepWork::grind;
    if (options.deburr && after_abrasive && (planned.micro || options.deburr_between))
      add_route(out, shelf, options, false);
    out.steps.push_back(std::move(step));
  }
  // What was made last is deburred, a micro-bevel too: it raises a burr of its own.
  if (options.deburr && !plan.steps.empty()) {
    add_route(out, shelf, options, true);
  } else if (options.strop) {
    out.steps.push_back(strop_step(options, wish.micro.value_or(edge), ""));
  }
  return out;
}

std::string sharpening_key(const Blade& blade) {
  return std::string(kSharpeningKeys) + std::to_string(blade.id);
}

std::string in_hand_json(const SharpeningInHand& hand) {
  nlohmann::json out{{"sharpening", nlohmann::json::parse(sharpening_json(hand.sharpening))},
                     {"seconds", hand.seconds},
                     {"since", hand.since}};
  if (hand.leaves) out["leaves"] = nlohmann::json::parse(section_plan_json(*hand.leaves));
  return out.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
}

Checked<SharpeningInHand> parse_in_hand(std::string_view json) {
  return read_json<SharpeningInHand>(json, [](const JsonFields& f) {
    const auto sharpening = parse_sharpening(f.raw("sharpening").dump());
    if (!sharpening) f.fault("sharpening", sharpening.refusal().reason);
    SharpeningInHand hand{*sharpening,
                          f.number_or("seconds", 0, 1e6, 0),
                          {},
                          std::int64_t(f.number_or("since", 0, 1e12, 0))};
    if (f.has("leaves")) {
      const auto leaves = parse_section_plan(f.raw("leaves").dump());
      if (!leaves) f.fault("leaves", leaves.refusal().reason);
      hand.leaves = *leaves;
    }
    return hand;
  });
}

}  // namespace bq::inline workflow
