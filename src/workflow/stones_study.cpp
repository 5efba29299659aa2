#include "workflow/stones_study.h"

#include <algorithm>
#include <array>
#include <set>
#include <utility>

#include "edge/section_outcomes.h"
#include "quantity/number.h"
#include "store/json_fields.h"
#include "store/section_file.h"
#include "store/shelf_json.h"
#include "trial/edge_map.h"
#include "workflow/work_list.h"

namespace bq::inline workflow {
namespace {

constexpr double kWanders_deg = 1.0;

const SteelCard* card_of(const Trial& trial, const std::string& steel) {
  return steel.empty() ? nullptr : trial.steel_card(steel);
}

struct Latest {
  const SharpeningRecord* sharpening = nullptr;
  const ConditionRecord* condition = nullptr;  ///< since that sharpening
};

Latest latest_of(const Blade& blade) {
  Latest out;
  for (const auto& record : blade.records) {
    if (const auto* s = std::get_if<SharpeningRecord>(&record.data)) out = {s, nullptr};
    if (const auto* c = std::get_if<ConditionRecord>(&record.data)) out.condition = c;
  }
  return out;
}

/// The blade's last run that has a curve.
const RunFit* last_fit(const Trial& trial, const Blade& blade, const std::vector<RunFit>& fits) {
  const RunFit* out = nullptr;
  for (std::size_t i = 0; i < fits.size() && i < trial.runs.size(); ++i)
    if (trial.runs[i].facts.blade == blade.name && fits[i].curve) out = &fits[i];
  return out;
}

bool is_burr(const std::string& condition) {
  return condition == "primary-burr" || condition == "feather" || condition == "wire" ||
         condition == "foil";
}

/// Abrasives of the last sharpening, else the whole shelf in use.
std::vector<const Abrasive*> abrasives_of(const Trial& trial, const SharpeningRecord* record) {
  std::set<std::string> names;
  if (record)
    for (const auto& step : record->sharpening.steps) names.insert(step.abrasive);
  std::vector<const Abrasive*> out;
  for (const auto& a : trial.shelf)
    if (record ? names.contains(a.name) : !a.retired) out.push_back(&a);
  return out;
}

void add_stone_facts(const Trial& trial, const Latest& latest,
                     std::map<std::string, KnownFact>& facts) {
  bool checked = false, flat_face = false;
  std::string hollow, loaded;
  for (const Abrasive* a : abrasives_of(trial, latest.sharpening)) {
    if (a->loaded) loaded = a->name;
    if (!has_flat_face(a->kind)) continue;
    flat_face = true;
    const FaceState face = face_state(*a);
    checked |= face.known;
    if (face.known && face.deviation_um > a->flat_within_um)
      hollow = a->name + " is " + print_number(face.deviation_um, 3) + " µm hollow";
  }
  if (!hollow.empty())
    facts["flatness"] = {{"hollow"}, "flatness log: " + hollow};
  else if (checked)
    facts["flatness"] = {{"flat"},
                         "flatness log: the last look found every stone within its limit"};
  else if (flat_face)
    facts["flatness"] = {{"unknown"}, "flatness log: no stone has ever been checked"};
  if (!loaded.empty()) facts["loading"] = {{"loaded"}, "shelf: " + loaded + " is marked as loaded"};
}

void add_edge_facts(const EdgeNow& edge, std::map<std::string, KnownFact>& facts) {
  if (edge.has_angle()) {
    const double range = edge.range_deg();
    facts["angle sweep"] = {
        {range > kWanders_deg ? "wanders" : "even"},
        "angle readings: " + print_fixed(range, 1) + "° from place to place on one side"};
  }
  bool seen = false, trouble = false;
  for (const auto check : {IntakeCheck::straightness, IntakeCheck::recurve})
    if (const auto& finding = edge.findings[std::size_t(check)]) {
      seen = true;
      trouble |= finding->trouble;
    }
  if (seen)
    facts["straightness"] = {
        {trouble ? "bent" : "straight"},
        std::string("intake checks: ") +
            (trouble ? "bent, or a hollow in the outline" : "straight, no hollow")};
  if (edge.section)
    if (const auto section = make_section(*edge.section))
      if (const auto behind = behind_edge(*section, edge.section->grinds);
          behind && behind->thickness_mm)
        facts["behind the edge"] = {
            {*behind->thickness_mm > kThickBehindEdge_mm ? "thick" : "slim"},
            "section: " + print_fixed(*behind->thickness_mm, 2) + " mm behind the edge"};
}

void add_gate_fact(const Latest& latest, std::map<std::string, KnownFact>& facts) {
  if (!latest.sharpening) return;
  const Sharpening& s = latest.sharpening->sharpening;
  int asked = 0, confirmed = 0;
  for (std::size_t i = 0; i < s.steps.size(); ++i)
    for (int mark = 0; mark < kGateMarks; ++mark)
      if (gate_of(s, i) >> mark & 1U) {
        ++asked;
        confirmed += s.steps[i].has_burr(mark);
      }
  if (asked == 0) return;
  facts["gates"] = {{confirmed == asked ? "yes"
                     : confirmed == 0   ? "no"
                                        : "partly"},
                    "sharpening log: a burr at " + std::to_string(confirmed) + " of " +
                        std::to_string(asked) + " places"};
}

}  // namespace

std::map<std::string, KnownFact> known_facts(const Trial& trial, std::size_t index,
                                             const std::vector<RunFit>& fits) {
  std::map<std::string, KnownFact> facts;
  const Blade& blade = trial.blades.at(index);
  const Latest latest = latest_of(blade);
  add_stone_facts(trial, latest, facts);
  add_edge_facts(edge_now(blade), facts);
  add_gate_fact(latest, facts);
  if (const RunFit* fit = last_fit(trial, blade, fits)) {
    const bool early = fit->curve->early_collapse;
    facts["early collapse"] = {early ? std::vector<std::string>{"at-once", "yes"}
                                     : std::vector<std::string>{"steady", "no"},
                               "blunting curve of run " + fit->run +
                                   (early ? ": an early collapse" : ": no early collapse")};
  }
  if (const SteelCard* card = card_of(trial, blade.steel))
    if (const auto behaviour = parse_deburr_behaviour(card->behaviour))
      facts["behaviour"] = {
          {std::array<const char*, 3>{"bends", "between", "breaks"}[std::size_t(*behaviour)]},
          "steel card: " + card->name + " is " + card->behaviour};
  if (latest.condition && !latest.condition->condition.empty()) {
    const std::string& c = latest.condition->condition;
    const std::string answer = is_burr(c)                                    ? "burr"
                               : c == "rolled"                               ? "rounded"
                               : c == "flat" || c == "chips" || c == "clean" ? c
                                                                             : "";
    if (!answer.empty())
      facts["condition"] = {{answer}, "edge-condition key: " + latest.condition->name};
  }
  return facts;
}

Observations answered_by(const EvidenceKey& key, const std::map<std::string, KnownFact>& facts) {
  Observations out;
  for (const auto& question : key.questions) {
    const auto fact = facts.find(question.known);
    if (question.known.empty() || fact == facts.end()) continue;
    for (const auto& answer : question.answers)
      if (std::find(fact->second.answers.begin(), fact->second.answers.end(), answer.id) !=
          fact->second.answers.end())
        out[question.id] = answer.id;
  }
  return out;
}

std::optional<LadderDraft> draft_ladder(const Trial& trial, std::size_t index) {
  const Blade& blade = trial.blades.at(index);
  const EdgeNow edge = edge_now(blade);
  if (!edge.section) return std::nullopt;
  const auto section = make_section(*edge.section);
  if (!section) return std::nullopt;
  LadderDraft draft;
  draft.state.section = *edge.section;
  draft.state.edge_length_mm = edge.edge_mm();
  draft.state.dull_um =
      std::max(edge.section->apex_um, 5.0);  // an edge that is to be sharpened is blunt
  const Latest latest = latest_of(blade);
  draft.state.damage_um = open_damage_um(edge);
  draft.wish.edge = section->apex_angles();
  const auto faces = edge_faces(*section, edge.section->grinds);
  for (const EdgeSide side : {EdgeSide::left, EdgeSide::right}) {
    const EdgeFaces& own = faces[std::size_t(side)];
    if (!own.micro || !own.edge) continue;
    (side == EdgeSide::left ? draft.wish.edge.left_deg : draft.wish.edge.right_deg) =
        own.edge->angle_deg;
    draft.wish.micro = section->apex_angles();
    draft.wish.micro_facet_um = own.micro->width_um;
  }
  std::optional<Finish> finish;
  for (const auto& run : trial.runs)
    // What a planned run is to have is not on the edge yet.
    if (run.facts.blade == blade.name && run.facts.finish && state_of(run) != RunState::planned)
      finish = run.facts.finish;
  if (latest.sharpening)
    if (const auto left = finish_of(latest.sharpening->sharpening)) finish = left;
  if (finish) {
    draft.wish.finish_left_um = finish->left_um;
    draft.wish.finish_right_um = finish->right_um;
    draft.state.finish_um = finish->mean_um();
  }
  return draft;
}

CustomaryFinish customary_finish(CutMode mode) {
  switch (mode) {
    case CutMode::slice:
      return {6, 30,
              "6 to 30 µm is customary for slicing: teeth bite. Others finish finer and hold that "
              "it lasts longer."};
    case CutMode::push:
      return {0.5, 3,
              "0.5 to 3 µm is customary for pushing and for a clean cut surface. Some keep a "
              "little tooth."};
    case CutMode::chop:
      break;
  }
  return {3, 10,
          "3 to 10 µm is customary for chopping: fine enough to be strong, no finer than needed."};
}

RouteAdvice route_advice(const Trial& trial, const std::string& steel,
                         const std::vector<RunFit>& fits) {
  RouteAdvice out;
  const SteelCard* card = card_of(trial, steel);
  if (const auto said = card ? parse_deburr_behaviour(card->behaviour) : std::nullopt) {
    out.behaviour = *said;
    out.from_card = true;
    out.why = "The card of " + steel + " says " + card->behaviour + ".";
  }
  const auto guess =
      card ? guess_behaviour(card->hardness_hrc, card->hard_phase_percent) : std::nullopt;
  if (!out.from_card && guess) {
    out.behaviour = guess->behaviour;
    out.why = "Suggested from the card: " + guess->why + ".";
  } else if (out.from_card && guess && guess->behaviour != out.behaviour) {
    out.why += " Its figures would suggest " + std::string(name_of(guess->behaviour)) + " (" +
               guess->why + ").";
  } else if (!out.from_card) {
    out.why = "Nothing is known of this steel: try one third first.";
  }

  std::string found;
  bool looked = false, burr = false;
  std::set<std::string> routes;
  for (std::size_t i = 0; i < fits.size() && i < trial.runs.size(); ++i) {
    const Run& run = trial.runs[i];
    if (run.facts.steel != steel || !fits[i].curve) continue;
    ++out.runs;
    if (!fits[i].curve->early_collapse) continue;
    ++out.collapsed;
    out.collapsed_runs.push_back(run.facts.name);
    for (const auto& blade : trial.blades) {
      if (blade.name != run.facts.blade) continue;
      for (const auto& record : blade.records) {
        if (const auto* s = std::get_if<SharpeningRecord>(&record.data);
            s && s->sharpening.run == run.facts.name && !s->sharpening.route.empty())
          routes.insert(s->sharpening.route);
        if (const auto* c = std::get_if<ConditionRecord>(&record.data);
            c && c->run == run.facts.name && !c->condition.empty()) {
          looked = true;
          burr |= is_burr(c->condition);
          found = c->name;
        }
      }
    }
  }
  for (const auto& route : routes) out.used = out.used ? *out.used + ", " + route : route;
  if (out.collapsed == 0) return out;
  std::string names;
  for (const auto& name : out.collapsed_runs) names += (names.empty() ? "" : ", ") + name;
  out.sentence = std::to_string(out.collapsed) + " of " + std::to_string(out.runs) + " runs of " +
                 steel + " collapsed early (" + names +
                 "); route used: " + out.used.value_or("not on record") + ". ";
  if (!looked) {
    out.look_first = true;
    out.sentence +=
        "Look at the apex of such an edge first, with the key \"What is on the edge?\": fragile "
        "teeth look the same as a burr in the curve.";
  } else if (burr) {
    const bool brittle_used = out.used ? out.used->find("brittle") != std::string::npos
                                       : out.behaviour == DeburrBehaviour::brittle;
    out.proposed = brittle_used ? DeburrBehaviour::ductile : DeburrBehaviour::brittle;
    out.sentence += "The look found a burr (" + found + "): try the " + route_name(*out.proposed) +
                    " on a marked third, and compare.";
  } else {
    out.sentence +=
        "The look found no burr (" + found +
        "): keep the route; teeth that break out ask for a finer finish or a steeper micro-bevel.";
  }
  return out;
}

namespace {

SharpeningStep plain_step(StepWork work, const std::string& note) {
  SharpeningStep step;
  step.work = work;
  step.note = note;
  return step;
}

/// A hard fine surface to break a burr on: the finest of the shelf that is neither strop nor wheel
/// nor belt, no coarser than what was ground with; nothing finer there: that one itself.
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

/// The step of a strop from the shelf, as the clean-up of a route where there is one.
SharpeningStep strop_step(const Abrasive& strop, const SharpeningOptions& options,
                          const std::string& note) {
  SharpeningStep step = plain_step(StepWork::strop, note);
  step.abrasive = strop.name;
  step.size_um = size_um(strop);
  step.pressure = strop.rate_pressure.empty() ? "light" : strop.rate_pressure;
  if (strop.substrate_mm)
    step.substrate =
        print_number(*strop.substrate_mm, 3) + " mm thick" +
        (strop.substrate_MPa ? ", " + print_number(*strop.substrate_MPa, 3) + " MPa" : "");
  step.passes = options.strop_passes;
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
    if (part.cleans_up) {
      step = options.strop ? strop_step(*options.strop, options, part.what)
                           : plain_step(StepWork::strop, part.what);
      if (!options.strop) {
        step.substrate = "bare leather";
        step.passes = options.strop_passes;
      }
    } else {
      step = route_step(part, last, shelf, out.steps.size() == before);
    }
    step.angles = last.angles;
    step.angles.left_deg += *part.above_edge_deg;
    step.angles.right_deg += *part.above_edge_deg;
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
      out = "the weight of the blade";
    else if (bulk)
      out = last ? "firm, then light" : "firm";
    else
      out = last ? "light" : "moderate";
  }
  if (last && !plan.steps[i].micro) out += ", the last strokes under the weight of the blade";
  return out;
}

}  // namespace

Sharpening sharpening_from(const LadderPlan& plan, const std::vector<Abrasive>& shelf,
                           const LadderWish& wish, const SharpeningOptions& options) {
  Sharpening out;
  out.policy = options.policy;
  out.proof = options.proof;
  out.deburr_between = options.deburr_between;
  out.run = options.run;
  out.by_operator = options.by_operator;
  if (options.deburr) out.route = route_name(options.behaviour);
  if (options.straighten)
    out.steps.push_back(
        plain_step(StepWork::straighten, "Check it with a straight edge; only then go on"));
  if (options.recurve)
    out.steps.push_back(plain_step(StepWork::recurve,
                                   "Edge flat on the coarsest abrasive, until no light shows under "
                                   "it; the apex goes with it"));
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
    out.steps.push_back(strop_step(*options.strop, options, ""));
    out.steps.back().angles = wish.micro.value_or(edge);
  }
  return out;
}

std::string sharpening_key(const Blade& blade) { return "sharpening/" + std::to_string(blade.id); }

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
