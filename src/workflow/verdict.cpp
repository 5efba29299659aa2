#include "workflow/verdict.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "bluntness/life_contrast.h"
#include "bluntness/treatment_verdict.h"
#include "edge/resharpening.h"
#include "edge/section_outcomes.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "workflow/force_study.h"
#include "workflow/objections.h"
#include "workflow/sentences.h"

namespace bq::inline workflow {
namespace {

constexpr double kUsable_mm = 3, kThickerBy = 1.5;

std::string ratio_words(const LifeContrast& c) {
  const auto end = [](const std::optional<double>& v) {
    return v ? print_number(*v, 3) : said("not bounded");
  };
  return said("{ratio} ({low} to {high}, 95 %)",
              {{"ratio", print_number(c.ratio, 3)}, {"low", end(c.low)}, {"high", end(c.high)}});
}

/// "(Cairn Hard, Marl Tough)" of the steels in which a figure took two values or more: whose runs
/// the evidence is.
template <class Value>
std::string steels_behind(const LifeModel& model, const Value& value) {
  std::map<std::string, std::set<double>> tried;
  for (const auto& row : model.rows())
    if (const std::optional<double> v = value(row)) tried[row.facts.steel].insert(*v);
  std::string out;
  for (const auto& [steel, values] : tried)
    if (values.size() > 1 && !steel.empty()) out += (out.empty() ? "" : ", ") + steel;
  return out.empty() ? "" : " (" + out + ")";
}

/// Where and in what use damage was looked for: "Cairn Hard, ordinary work".
std::string uses_of(const std::vector<DamageFact>& damage) {
  std::set<std::string> uses;
  for (const auto& fact : damage)
    uses.insert((fact.steel.empty() ? "" : fact.steel + ", ") +
                (fact.roughest ? said("the roughest use") : said("ordinary work")));
  std::string out;
  for (const auto& use : uses) out += (out.empty() ? "" : "; ") + use;
  return out;
}

std::string angle_evidence(const LifeModel* model, const std::vector<DamageFact>& damage,
                           AngleConvention angles) {
  std::string out;
  if (model) {
    const std::string wear = said(
        "Wear{steels_behind}: ",
        {{"steels_behind", steels_behind(*model, [](const LifeRow& row) {
            return row.facts.geometry ? std::optional(row.facts.geometry->apex().equivalent_deg())
                                      : std::nullopt;
          })}});
    if (const std::string bend = bend_sentence(*model, angles); !bend.empty()) out = wear + bend;
    for (const auto& c : model->coefficients())
      if (out.empty() && c.name == "ln tan angle")
        out = wear +
              (c.high < 0 ? said("the lower angle lasts longer here (slope {estimate}, {low} to "
                                 "{high}; wear geometry alone −1).",
                                 {{"estimate", print_fixed(c.estimate, 2)},
                                  {"low", print_fixed(c.low, 2)},
                                  {"high", print_fixed(c.high, 2)}})
               : c.low > 0
                   ? said("the steeper edge lasts longer here (slope {estimate}, {low} to {high}).",
                          {{"estimate", print_fixed(c.estimate, 2)},
                           {"low", print_fixed(c.low, 2)},
                           {"high", print_fixed(c.high, 2)}})
                   : said("these runs cannot tell (slope {estimate}, {low} to {high}).",
                          {{"estimate", print_fixed(c.estimate, 2)},
                           {"low", print_fixed(c.low, 2)},
                           {"high", print_fixed(c.high, 2)}}));
  }
  if (out.empty()) out = said("Wear: only one angle was tried in this work.");
  const DamageFact* steepest = nullptr;
  for (const auto& fact : damage)
    if (fact.block.block.damaged && (!steepest || fact.block.angle_deg > steepest->block.angle_deg))
      steepest = &fact;
  if (damage.empty()) return said("{out} Damage: nobody has looked.", {{"out", out}});
  if (!steepest)
    return said("{out} Damage: none was seen at any angle tried ({uses_of}).",
                {{"out", out}, {"uses_of", uses_of(damage)}});
  return said(
      "{out} Damage: seen up to {angle_deg} ({steel}{the_roughest_use}); below that the low "
      "angle's wear life is of no use where the edge must survive.",
      {{"out", out},
       {"angle_deg", print_angle(steepest->block.angle_deg, angles)},
       {"steel", steepest->steel.empty() ? std::string() : steepest->steel + ", "},
       {"the_roughest_use",
        steepest->roughest ? said("the roughest use") : said("ordinary work")}});
}

std::string finish_evidence(const LifeModel* model) {
  if (!model) return said("Not tried in this work.");
  std::set<double> finishes;
  for (const auto& row : model->rows())
    if (row.facts.finish) finishes.insert(row.facts.finish->mean_um());
  if (finishes.size() < 2) return said("Only one finish was tried in this work.");
  const auto contrast = life_contrast(*model, {"finish", *finishes.begin(), *finishes.rbegin()});
  if (!contrast) return said("Only one finish was tried in this work.");
  const std::string ends =
      said("{coarsest_um} µm lasts {ratio_words} times as long as {finishes} µm",
           {{"coarsest_um", print_number(*finishes.rbegin(), 3)},
            {"ratio_words", ratio_words(*contrast)},
            {"finishes", print_number(*finishes.begin(), 3)}});
  return said("{here}{ends} to the same reading{steels_behind}. The cut surface is judged apart.",
              {{"here", contrast->seen ? said("Here ") : said("These runs cannot tell: ")},
               {"ends", ends},
               {"steels_behind", steels_behind(*model, [](const LifeRow& row) {
                  return row.facts.finish ? std::optional(row.facts.finish->mean_um())
                                          : std::nullopt;
                })}});
}

std::vector<SchoolView> schools_of(const Trial& facts, const LifeModel* model,
                                   const std::vector<DamageFact>& damage, AngleConvention angles) {
  std::vector<SchoolView> out;
  out.push_back(
      {said("Low or high angle"),
       said("A low angle lasts longer: more metal must wear away to the same apex width."),
       said("A high angle lasts longer: it bears bending and chipping."),
       angle_evidence(model, damage, angles)});
  out.push_back({said("Coarse or polished"), said("Teeth keep the edge cutting in fibre."),
                 said("Polish lasts: its peaks are too small to break."), finish_evidence(model)});
  SchoolView strop{said("Strop or none"),
                   said("A strop takes off what is left of the burr and sharpens."),
                   said("A strop rounds the apex; the stone does the work."),
                   said("Not compared on this bench yet (Stones, Compare).")};
  std::string which;
  bool tried = false;
  for (const auto& comparison : facts.comparisons) {
    const StropMatter matter = strop_matter(comparison, facts.shelf);
    const auto verdict = compare_treatments(comparison);
    if (!verdict || matter == StropMatter::none) continue;
    const std::string words = comparison.name + ": " + verdict->result;
    tried = tried || matter == StropMatter::whether;
    (matter == StropMatter::whether ? strop.evidence : which) = words;
  }
  if (!tried && !which.empty())
    strop.evidence =
        said("Whether to strop at all was not compared here, only which strop. {which}",
             {{"which", which}});
  out.push_back(std::move(strop));
  return out;
}

}  // namespace

std::vector<DamageFact> damage_facts(const Trial& facts,
                                     const std::vector<BenchSession>& sessions) {
  std::vector<DamageFact> out;
  for (const auto& session : sessions)
    if (const auto* search = std::get_if<DamageSearch>(&session.data))
      for (std::size_t i = 0; i < search->rounds.size(); ++i) {
        const SearchRound& round = search->rounds[i];
        if (round.cuts <= 0) continue;
        const bool damaged = round.look.found != DamageFound::clean;
        out.push_back({search->steel,
                       search->medium,
                       {round.edge_angle_deg, {round.cuts, damaged}},
                       true,
                       round.confirmation && !damaged,
                       sections_of(*search)[i],
                       round.micro_deg.has_value()});
      }
  const std::vector<std::string> work = work_of_runs(facts);
  for (std::size_t i = 0; i < facts.runs.size(); ++i) {
    const Run& run = facts.runs[i];
    if (!run.facts.geometry) continue;
    const double angle = std::round(10 * run.facts.geometry->apex().equivalent_deg()) / 10;
    for (const DamageBlock& block : blocks_between_looks(run))
      out.push_back({run.facts.steel, work[i], {angle, block}, false, false, {}, false});
  }
  return out;
}

std::optional<BladeProspect> blade_prospect(EdgeCosts& costs, const RankedEdge& edge) {
  const auto touch_up = costs.touch_up(edge);
  const auto plan = costs.section_of(edge);
  if (!touch_up || !plan) return std::nullopt;
  BladeProspect out;
  out.interval_cuts = std::floor(edge.life_low);
  out.touch_up = *touch_up;
  out.usable_mm = kUsable_mm;
  const Section section = *make_section(*plan);
  TouchUp one;
  one.worn_width_um = kBluntApex_um;
  one.set_both(edge.edge_deg.value_or(edge.angle_deg),
               edge.edge_deg ? std::optional(edge.angle_deg) : std::nullopt);
  one.micro_facet_um = 60;
  const auto series = touch_up_series(section, one, kMostTouchUps);
  if (!series) return std::nullopt;
  out.behind_edge_mm = kThickerBy * series->front().shoulder_thickness_mm;
  out.thinning_after = thinning_due(*series, out.behind_edge_mm);
  // Scratches of the abrasives come on top of the wear.
  const double per_touch_up =
      std::max(touch_up->receded_um * 1e-3, series->back().apex_receded_mm / kMostTouchUps);
  const double most = per_touch_up > 0 ? std::floor(kUsable_mm / per_touch_up) : kMostTouchUps;
  out.more = most > kMostTouchUps;
  out.touch_ups = int(std::min(most, double(kMostTouchUps)));
  out.cuts_in_all = out.interval_cuts * (out.touch_ups + 1);
  return out;
}

Verdict find_verdict(const VerdictSource& source, const VerdictQuestion& question) {
  Verdict out;
  out.question = question;
  const Trial& facts = *source.facts;
  const LifeTable table = life_table(facts, *source.fits, question.threshold);
  out.media = media_of(table);
  EdgeCosts costs(facts, question.stones, source.section_questions);
  const std::vector<WorkForce> forces = forces_of(facts);
  out.force = splits_of(forces);

  RecommendEvidence evidence;
  evidence.force = out.force;
  evidence.engaged_mm = kEngaged_mm;
  evidence.friction = kStrokeFriction;
  evidence.angles = question.angles;
  evidence.parting_N_per_mm = [&](const RankedEdge& edge) {
    return costs.parting_N_per_mm(edge, kStrokeFriction);
  };
  evidence.damage = damage_facts(facts, source.sessions);
  for (const auto& session : source.sessions)
    if (const auto* search = std::get_if<DamageSearch>(&session.data))
      for (auto& use : rough_uses(*search)) evidence.rough.push_back(std::move(use));
  evidence.resharpening = [&](const RankedEdge& edge) { return costs.touch_up(edge); };
  evidence.stress_ratio = [&](const RankedEdge& edge) { return costs.stress_ratio(edge); };
  out.rough_uses = !evidence.rough.empty();
  std::string medium =
      question.limits.mix.empty() ? question.limits.medium : question.limits.mix.front().medium;
  if (table.rows.empty()) {
    out.why_not = facts.runs.empty()
                      ? said("there are no runs yet")
                      : said("no run has enough checkpoints for a blunting curve yet");
  } else {
    auto ranking = recommend(facts, *source.fits, question.threshold, question.limits,
                             question.wishes, evidence);
    if (ranking) {
      out.recommendation = *ranking;
      medium = ranking->medium();
      if (!ranking->ranked.empty()) out.prospect = blade_prospect(costs, ranking->ranked.front());
    } else {
      out.why_not = ranking.refusal().reason;
    }
  }
  medium = work_meant(out.media, medium).value_or(medium);

  std::vector<std::string> works{medium};
  if (out.recommendation && out.recommendation->work.size() > 1) {
    works.clear();
    for (const auto& work : out.recommendation->work) works.push_back(work.medium);
  }
  out.force_note = force_sentence(forces, facts.unit(), works);

  const LifeTable here = in_medium(table, medium);
  std::optional<LifeModel> model;
  if (const LifeSpec spec = terms_with_blades(here); !here.rows.empty() && !spec.terms.empty())
    if (auto fitted = LifeModel::fit(here, spec)) model = *fitted;
  std::vector<DamageFact> damage;
  for (const auto& fact : evidence.damage)
    if (is_in_medium(medium, fact.medium)) damage.push_back(fact);
  if (out.recommendation && model) {
    ObjectionMemory* memory = source.memory;
    if (memory && memory->fits.get() != source.fits) memory = nullptr;
    if (memory && (memory->threshold != question.threshold || memory->medium != medium))
      *memory = {memory->fits, question.threshold, medium, {}, {}, {}};
    out.objections = objections_to(*out.recommendation,
                                   {&facts, &here, &*model, &evidence.damage, out.rough_uses,
                                    question.wishes, question.angles, memory});
  }

  out.schools = schools_of(facts, model ? &*model : nullptr, damage, question.angles);

  for (auto& school : out.schools) school.evidence = with_minus_signs(school.evidence);

  std::set<std::string_view> modes;
  for (const auto& run : facts.runs)
    if (is_in_medium(medium, run.facts.medium) && run.facts.cut_mode)
      modes.insert(name_of(*run.facts.cut_mode));
  for (const auto& range : starting_ranges())
    if (modes.empty() || modes.contains(range.mode)) out.starting.push_back(range);
  return out;
}

std::string verdict_sentence(const Verdict& verdict, const std::string& limit,
                             AngleConvention angles, bool with_objections) {
  if (!verdict.recommendation)
    return said("No verdict: {why_not}.", {{"why_not", verdict.why_not}});
  const Recommendation& r = *verdict.recommendation;
  if (r.ranked.empty()) return said("No edge passes the limits.");
  const RankedEdge& best = r.ranked.front();
  std::string out = said("Make {best}", {{"best", name_of(best, angles)}});
  if (best.edge_deg)
    out += said(", as a micro-bevel on a {edge_deg}° bevel",
                {{"edge_deg", print_angle_number(*best.edge_deg, angles)}});
  out += said(
      ": usually {life} cuts to {limit} ({life_mean_low} to {life_mean_high}, 95 %), the next one "
      "at least {life_low}.",
      {{"life", print_cuts(best.life)},
       {"limit", limit},
       {"life_mean_low", print_cuts(best.life_mean_low)},
       {"life_mean_high", print_cuts(best.life_mean_high)},
       {"life_low", print_cuts(best.life_low)}});
  std::string unknown;
  if (!best.tested) unknown = said("Nobody has made this edge: it is read off the pattern");
  if (best.roughest == RoughestUse::not_tried && verdict.rough_uses)
    unknown += said("{nobody_has_tried} on the roughest use",
                    {{"nobody_has_tried", unknown.empty() ? said("Nobody has tried it")
                                                          : said(", and nobody has tried it")}});
  if (!unknown.empty()) out += " " + unknown + ".";
  if (r.level_with_first)
    out += said(" {another_edge_life} be told apart from its own.",
                {{"another_edge_life",
                  r.level_with_first == 1
                      ? said("Another edge's life cannot")
                      : said("The lives of {level_with_first} other edges cannot",
                             {{"level_with_first", std::to_string(r.level_with_first)}})}});
  // What the sentence has said already is not said again.
  constexpr std::size_t kMost = 3;
  std::string against;
  std::size_t count = 0;
  for (const auto& objection : verdict.objections) {
    if (!with_objections || objection.kind == "tied" || objection.kind == "damage-unknown" ||
        objection.kind == "load-unknown" || count == kMost)
      continue;
    against += (against.empty() ? "" : "; ") + objection.sentence;
    ++count;
  }
  if (!against.empty()) out += said(" Mind: {against}.", {{"against", against}});
  return out;
}

}  // namespace bq::inline workflow
