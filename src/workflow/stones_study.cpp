#include "workflow/stones_study.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

#include "edge/section_outcomes.h"
#include "quantity/number.h"
#include "quantity/said.h"
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

/// A condition in the few words that the keys ask for; "" for one they do not know.
std::string short_condition(const std::string& condition) {
  if (is_burr(condition)) return "burr";
  if (condition == "rolled") return "rounded";
  return condition == "flat" || condition == "chips" || condition == "clean" ? condition : "";
}

/// The last look at a place since the edge was made; null none.
const ConditionRecord* seen_there(const Blade& blade, std::optional<double> at_mm) {
  const ConditionRecord* out = nullptr;
  for (const auto& record : blade.records) {
    if (const auto* made = std::get_if<SharpeningRecord>(&record.data);
        made && !current_step(made->sharpening))
      out = nullptr;
    const auto* look = std::get_if<ConditionRecord>(&record.data);
    if (!look || look->at_mm.has_value() != at_mm.has_value()) continue;
    if (!at_mm || std::abs(*look->at_mm - *at_mm) <= kSamePlace_mm) out = look;
  }
  return out;
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
      hollow = said("{name} is {deviation_um} µm hollow",
                    {{"name", a->name}, {"deviation_um", print_number(face.deviation_um, 3)}});
  }
  if (!hollow.empty())
    facts["flatness"] = {{"hollow"}, said("flatness log: {hollow}", {{"hollow", hollow}})};
  else if (checked)
    facts["flatness"] = {{"flat"},
                         "flatness log: the last look found every stone within its limit"};
  else if (flat_face)
    facts["flatness"] = {{"unknown"}, "flatness log: no stone has ever been checked"};
  if (!loaded.empty())
    facts["loading"] = {{"loaded"},
                        said("shelf: {loaded} is marked as loaded", {{"loaded", loaded}})};
}

void add_edge_facts(const EdgeNow& edge, std::map<std::string, KnownFact>& facts) {
  if (edge.has_angle()) {
    const double range = edge.range_deg();
    facts["angle sweep"] = {{range > kWanders_deg ? "wanders" : "even"},
                            said("angle readings: {range}° from place to place on one side",
                                 {{"range", print_fixed(range, 1)}})};
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
        said("intake checks: {bent_or_hollow}",
             {{"bent_or_hollow",
               trouble ? said("bent, or a hollow in the outline") : said("straight, no hollow")}})};
  if (edge.section)
    if (const auto section = make_section(*edge.section))
      if (const auto behind = behind_edge(*section, edge.section->grinds);
          behind && behind->thickness_mm)
        facts["behind the edge"] = {
            {*behind->thickness_mm > kThickBehindEdge_mm ? "thick" : "slim"},
            said("section: {thickness_mm} mm behind the edge",
                 {{"thickness_mm", print_fixed(*behind->thickness_mm, 2)}})};
}

void add_gate_fact(const Latest& latest, std::map<std::string, KnownFact>& facts) {
  if (!latest.sharpening) return;
  const Sharpening& s = latest.sharpening->sharpening;
  int asked = 0, confirmed = 0;
  for (std::size_t i = 0; i < s.steps.size(); ++i)
    for (int mark = 0; mark < 2 * s.places; ++mark)
      if (gate_of(s, i) >> mark & 1U) {
        ++asked;
        confirmed += s.steps[i].has_burr(mark);
      }
  if (asked == 0) return;
  facts["gates"] = {
      {confirmed == asked ? "yes"
       : confirmed == 0   ? "no"
                          : "partly"},
      said("sharpening log: a burr at {confirmed} of {asked} places",
           {{"confirmed", std::to_string(confirmed)}, {"asked", std::to_string(asked)}})};
}

}  // namespace

CuttingClass class_of_steel(const Trial& trial, const std::string& steel) {
  const SteelCard* card = card_of(trial, steel);
  return cutting_class_of(card ? card->hard_phase_percent : std::nullopt);
}

std::map<std::string, KnownFact> known_facts(const Trial& trial, std::size_t index,
                                             const std::vector<RunFit>& fits,
                                             std::optional<double> at_mm) {
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
                               said("blunting curve of run {run}{an_early_collapse}",
                                    {{"run", fit->run},
                                     {"an_early_collapse", early ? said(": an early collapse")
                                                                 : said(": no early collapse")}})};
  }
  if (const SteelCard* card = card_of(trial, blade.steel))
    if (const auto behaviour = parse_deburr_behaviour(card->behaviour))
      facts["behaviour"] = {
          {std::array<const char*, 3>{"bends", "between", "breaks"}[std::size_t(*behaviour)]},
          said("steel card: {name} is {behaviour}",
               {{"name", card->name}, {"behaviour", card->behaviour}})};
  if (latest.condition)
    if (const std::string answer = short_condition(latest.condition->condition); !answer.empty())
      facts["condition"] = {{answer},
                            said("edge-condition key: {name}", {{"name", latest.condition->name}})};
  if (const auto* seen = seen_there(blade, at_mm))
    if (const std::string answer = short_condition(seen->condition); !answer.empty())
      facts["seen there"] = {{answer},
                             said("last look at this place: {name}", {{"name", seen->name}})};
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
  if (const auto named = card ? parse_deburr_behaviour(card->behaviour) : std::nullopt) {
    out.behaviour = *named;
    out.from_card = true;
    out.why = said("The card of {steel} says {behaviour}.",
                   {{"steel", steel}, {"behaviour", card->behaviour}});
  }
  const auto guess =
      card ? guess_behaviour(card->hardness_hrc, card->hard_phase_percent) : std::nullopt;
  if (!out.from_card && guess) {
    out.behaviour = guess->behaviour;
    out.why = said("Suggested from the card: {why}.", {{"why", guess->why}});
  } else if (out.from_card && guess && guess->behaviour != out.behaviour) {
    out.why += said(" Its figures would suggest {behaviour} ({why}).",
                    {{"behaviour", std::string(name_of(guess->behaviour))}, {"why", guess->why}});
  } else if (!out.from_card) {
    out.why = said("Nothing is known of this steel: try one third first.");
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
  out.sentence =
      said("{collapsed} of {runs} runs of {steel} collapsed early ({names}); route used: {used}. ",
           {{"collapsed", std::to_string(out.collapsed)},
            {"runs", std::to_string(out.runs)},
            {"steel", steel},
            {"names", names},
            {"used", out.used.value_or("not on record")}});
  if (!looked) {
    out.look_first = true;
    out.sentence += said(
        "Look at the apex of such an edge first, with the key \"What is on the edge?\": fragile "
        "teeth look the same as a burr in the curve.");
  } else if (burr) {
    const bool brittle_used = out.used ? out.used->find("brittle") != std::string::npos
                                       : out.behaviour == DeburrBehaviour::brittle;
    out.proposed = brittle_used ? DeburrBehaviour::ductile : DeburrBehaviour::brittle;
    out.sentence += said(
        "The look found a burr ({found}): try the {route_name} on a marked third, and compare.",
        {{"found", found}, {"route_name", route_name(*out.proposed)}});
  } else {
    out.sentence += said(
        "The look found no burr ({found}): keep the route; teeth that break out ask for a finer "
        "finish or a steeper micro-bevel.",
        {{"found", found}});
  }
  return out;
}

}  // namespace bq::inline workflow
