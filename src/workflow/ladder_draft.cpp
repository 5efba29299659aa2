#include "workflow/ladder_draft.h"

#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "quantity/said.h"
#include "store/json_fields.h"
#include "trial/edge_map.h"

namespace bq::inline workflow {
namespace {

/// The shelf with what the way is not done with laid aside; places stay as they are.
std::vector<Abrasive> shelf_for(std::vector<Abrasive> shelf, GrindWay way) {
  if (way == GrindWay::held) return shelf;
  const AbrasiveKind kind = way == GrindWay::slack_belt ? AbrasiveKind::belt : AbrasiveKind::wheel;
  for (auto& abrasive : shelf)
    if (abrasive.kind != kind) abrasive.retired = true;
  return shelf;
}

}  // namespace

std::optional<LadderInput> first_input(const Trial& trial, std::size_t index) {
  const auto draft = draft_ladder(trial, index);
  if (!draft) return std::nullopt;
  LadderInput input;
  input.dull_um = draft->state.dull_um;
  input.damage_um = draft->state.damage_um;
  input.wish = draft->wish;
  const Blade& blade = trial.blades.at(index);
  const EdgeNow edge = edge_now(blade);
  input.places = places_for(edge.edge_mm());
  input.straighten = edge.trouble(IntakeCheck::straightness);
  input.recurve = edge.trouble(IntakeCheck::recurve) || edge.trouble(IntakeCheck::profile);
  for (const auto& run : trial.runs) {
    if (run.facts.blade != blade.name || state_of(run) != RunState::planned) continue;
    input.run = run.facts.name;
    if (run.facts.geometry) {
      input.wish.edge = run.facts.geometry->edge();
      input.wish.micro = run.facts.geometry->micro();
    }
    if (run.facts.finish) {
      input.wish.finish_left_um = run.facts.finish->left_um;
      input.wish.finish_right_um = run.facts.finish->right_um;
    }
    break;
  }
  return input;
}

std::string ladder_input_json(const LadderInput& i) {
  nlohmann::json out{{"dull_um", i.dull_um},
                     {"damage_um", i.damage_um},
                     {"edge_deg", {i.wish.edge.left_deg, i.wish.edge.right_deg}},
                     {"micro_facet_um", i.wish.micro_facet_um},
                     {"finish_um", {i.wish.finish_left_um, i.wish.finish_right_um}},
                     {"apex_only", i.wish.apex_only},
                     {"policy", name_of(i.policy)},
                     {"proof", name_of(i.proof)},
                     {"way", name_of(i.way)},
                     {"stop", name_of(i.stop)},
                     {"places", i.places},
                     {"behaviour", i.behaviour},
                     {"deburr", i.deburr},
                     {"deburr_between", i.deburr_between},
                     {"strop", i.strop},
                     {"straighten", i.straighten},
                     {"recurve", i.recurve},
                     {"run", i.run}};
  if (i.wish.micro) out["micro_deg"] = {i.wish.micro->left_deg, i.wish.micro->right_deg};
  return out.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
}

Checked<LadderInput> parse_ladder_input(std::string_view json) {
  return read_json<LadderInput>(json, [](const JsonFields& f) {
    LadderInput i;
    const auto flag = [&](const char* key) {
      return f.has(key) && f.raw(key).is_boolean() && f.raw(key).get<bool>();
    };
    i.dull_um = f.number("dull_um", 0, 500);
    i.damage_um = f.number("damage_um", 0, 20000);
    const auto edge = number_pair(f.raw("edge_deg"), "edge_deg", 0, 80);
    i.wish.edge = {edge.first, edge.second};
    if (f.has("micro_deg")) {
      const auto micro = number_pair(f.raw("micro_deg"), "micro_deg", 0, 80);
      i.wish.micro = BevelAngles{micro.first, micro.second};
    }
    i.wish.micro_facet_um = f.number("micro_facet_um", 0, 1e5);
    const auto finish = number_pair(f.raw("finish_um"), "finish_um", 0, 1000);
    i.wish.finish_left_um = finish.first;
    i.wish.finish_right_um = finish.second;
    i.wish.apex_only = flag("apex_only");
    const auto policy = parse_gate_policy(f.text("policy"));
    const auto proof = parse_burr_proof(f.text("proof"));
    if (!policy) f.fault("policy", said("is not known here"));
    if (!proof) f.fault("proof", said("is not known here"));
    i.policy = *policy;
    i.proof = *proof;
    i.way = f.word_or("way", parse_grind_way, "held");
    i.stop = f.word_or("stop", parse_abrasive_end, "strokes");
    if (f.has("places"))
      i.places = int(whole_of(f.raw("places"), "places", kLeastPlaces, kMostPlaces));
    i.behaviour = f.text_or("behaviour", "");
    i.deburr = flag("deburr");
    i.deburr_between = flag("deburr_between");
    i.strop = f.text_or("strop", "");
    i.straighten = flag("straighten");
    i.recurve = flag("recurve");
    i.run = f.text_or("run", "");
    return i;
  });
}

Checked<LadderPlan> ladder_for(const Trial& trial, std::size_t index, const LadderInput& input) {
  auto draft = draft_ladder(trial, index);
  if (!draft)
    return Refusal{said("no section is on record for this blade: say on Section how it is ground")};
  draft->state.dull_um = input.dull_um;
  draft->state.damage_um = input.damage_um;
  const auto plan = plan_ladder(draft->state, input.wish, shelf_for(trial.shelf, input.way),
                                class_of_steel(trial, trial.blades.at(index).steel));
  if (input.way == GrindWay::held) return plan;
  const bool belt = input.way == GrindWay::slack_belt;
  if (!plan)
    return Refusal{
        std::string(belt ? said("on a slack belt: ") : said("through crossed wheels: ")) +
        plan.refusal().reason};
  LadderPlan out = *plan;
  out.remarks.insert(out.remarks.begin(),
                     belt ? said("A slack belt leaves a convex face, flatter at its shoulder: the "
                                 "metal is reckoned for the flat face of the same angle at the "
                                 "apex. What section it leaves is measured, not told.")
                          : said("Crossed wheels raise no burr to go by: look at the apex after "
                                 "the last pull. What section they leave is measured, not told."));
  return out;
}

Sharpening sharpening_for(const Trial& trial, std::size_t blade, const LadderInput& input,
                          const LadderPlan& plan, DeburrBehaviour advised) {
  SharpeningOptions options;
  options.policy = input.policy;
  options.proof = input.proof;
  options.way = input.way;
  options.stop = input.stop;
  options.places = input.places;
  options.edge_mm = edge_now(trial.blades.at(blade)).edge_mm();
  options.behaviour = parse_deburr_behaviour(input.behaviour).value_or(advised);
  options.deburr = input.deburr;
  options.deburr_between = input.deburr_between;
  options.straighten = input.straighten;
  options.recurve = input.recurve;
  options.run = input.run;
  for (const auto& abrasive : trial.shelf)
    if (!input.strop.empty() && abrasive.name == input.strop) options.strop = abrasive;
  return sharpening_from(plan, trial.shelf, input.wish, options);
}

std::string run_mismatch(const Trial& trial, const LadderInput& input,
                         const Sharpening& sharpening) {
  const Run* run = input.run.empty() ? nullptr : trial.find_run(input.run);
  if (!run) return "";
  std::string out;
  const auto finish = finish_of(sharpening);
  const auto differs = [](double a, double b) { return std::abs(std::log(a / b)) > std::log(1.3); };
  if (run->facts.finish && finish &&
      (differs(run->facts.finish->left_um, finish->left_um) ||
       differs(run->facts.finish->right_um, finish->right_um)))
    out = said("Run {run} is planned with {finish}; this ladder ends at {finish_2}.",
               {{"run", input.run},
                {"finish", print_finish(*run->facts.finish)},
                {"finish_2", print_finish(*finish)}});
  if (run->facts.geometry) {
    const BevelAngles apex = input.wish.micro.value_or(input.wish.edge),
                      wanted = run->facts.geometry->apex();
    if (std::abs(apex.left_deg - wanted.left_deg) > 0.05 ||
        std::abs(apex.right_deg - wanted.right_deg) > 0.05)
      out += said(
          "{separator}Run {run} is planned with {left_deg}°|{right_deg}° at the apex, per side.",
          {{"separator", out.empty() ? "" : " "},
           {"run", input.run},
           {"left_deg", print_number(wanted.left_deg, 4)},
           {"right_deg", print_number(wanted.right_deg, 4)}});
  }
  return out;
}

}  // namespace bq::inline workflow
