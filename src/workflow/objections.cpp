#include "workflow/objections.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "bluntness/edge_candidates.h"
#include "bluntness/one_blade.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "workflow/answer_parts.h"
#include "workflow/answers.h"
#include "workflow/sentences.h"

namespace bq::inline workflow {
namespace {

constexpr double kDoubt = 0.05;
constexpr int kFewFreedom = 4;
constexpr std::size_t kMostRefits = 80;
constexpr const char* kSearch = "Damage search";

/// An objection that a question of Findings shows.
Objection found_by(Question question, std::string kind, std::string sentence) {
  return {std::move(kind), std::move(sentence), Station::findings, words_of(question)};
}

std::string p_of(double p) { return "p " + answer_parts::print_p(p); }

bool has_bend(const LifeModel& model) {
  const auto& terms = model.spec().terms;
  return std::any_of(terms.begin(), terms.end(),
                     [](const std::string& term) { return is_shape_of_angle(term); });
}

/// Damage seen in ordinary work at the angle that is to be made.
void add_damage(const RankedEdge& first, const ObjectionFacts& known, std::vector<Objection>& out) {
  int looks = 0, damaged = 0;
  for (const auto& fact : *known.damage) {
    if (fact.roughest || fact.steel != first.steel ||
        std::fabs(fact.block.angle_deg - first.angle_deg) > 0.05)
      continue;
    ++looks;
    damaged += fact.block.block.damaged;
  }
  if (damaged)
    out.push_back(found_by(Question::chips, "damaged",
                           said("damage was seen at this angle in {damaged} of {looks}{look}",
                                {{"damaged", std::to_string(damaged)},
                                 {"looks", std::to_string(looks)},
                                 {"look", looks == 1 ? said(" look") : said(" looks")}})));
  if (known.rough_uses && first.roughest == RoughestUse::not_tried)
    out.push_back(
        {"damage-unknown", "nobody has tried it on the roughest use", Station::bench, kSearch});
  else if (!first.damage_rate_upper && !damaged)
    out.push_back(found_by(Question::chips, "damage-unknown",
                           said("nobody has looked for damage at this angle or a slimmer one")));
}

void add_load(const RankedEdge& first, std::vector<Objection>& out) {
  if (first.stress_ratio && *first.stress_ratio > 1)
    out.push_back({"overstressed",
                   said("the side load guessed on Section would stress it to {stress_ratio} times "
                        "what the steel bears",
                        {{"stress_ratio", print_number(*first.stress_ratio, 2)}}),
                   Station::section, "outcomes"});
  else
    out.push_back({"load-unknown",
                   "what side load it meets is a guess: no damage search has measured it",
                   Station::bench, kSearch});
}

/// Runs without which an edge that can be told apart from the first would come first.
void add_influence(const Recommendation& ranking, const ObjectionFacts& known,
                   std::vector<Objection>& out) {
  const LifeModel& model = *known.model;
  const auto& rows = known.table->rows;
  if (ranking.work.size() > 1 || rows.size() > kMostRefits || !(known.wishes.life > 0)) return;
  const auto usual = [&](const RankedEdge& edge) {
    return edge.score / known.wishes.life - std::log(edge.life_low);
  };
  auto& refits = known.memory->without;
  for (std::size_t gone = 0; gone < rows.size(); ++gone) {
    if (gone >= refits.size()) {
      LifeTable fewer = *known.table;
      fewer.rows.erase(fewer.rows.begin() + std::ptrdiff_t(gone));
      const auto fitted = LifeModel::fit(fewer, model.spec());
      refits.push_back(fitted ? std::optional(*fitted) : std::nullopt);
    }
    const auto& without = refits[gone];
    if (!without) continue;
    const RankedEdge* then = nullptr;
    double most = -1e300, first = -1e300;
    for (const auto& edge : ranking.ranked) {
      const auto row = without->row(candidates::point_of(edge));
      if (!row) continue;
      const double score = usual(edge) + without->log_life(*row).first;
      if (&edge == &ranking.ranked.front()) first = score;
      if (score > most) {
        most = score;
        then = &edge;
      }
    }
    if (!then || first < -1e299 || then == &ranking.ranked.front() || then->tied) continue;
    out.push_back(
        found_by(Question::trust, "influence",
                 said("without run {name} {then} would come first",
                      {{"name", rows[gone].facts.name}, {"then", name_of(*then, known.angles)}})));
  }
}

/// Steels of which one blade only was cut: steel and blade are one thing then.
void add_confounded(const ObjectionFacts& known, std::vector<Objection>& out) {
  std::vector<std::string> single;
  for (const auto& one : steels_of_one_blade(known.model->rows())) single.push_back(one.steel);
  if (single.empty()) return;
  out.push_back(found_by(
      Question::trust, "confounded",
      said("{names_of}{was_cut_with}: steel and blade cannot be told apart",
           {{"names_of", answer_parts::names_of(single)},
            {"was_cut_with", single.size() == 1 ? said(" was cut with one blade only")
                                                : said(" were cut with one blade each")}})));
}

/// A bench that changes over the trial: edges made early and late are not measured alike. Operator,
/// block and batch are terms of the model where they differ; the order is none.
void add_order(const ObjectionFacts& known, std::vector<Objection>& out) {
  auto& around = known.memory->around;
  if (!around) around = circumstances(*known.facts, *known.table, known.model->spec());
  for (const auto& one : *around)
    if (one.name == kOrder && one.seen())
      out.push_back(found_by(
          Question::circumstances, "order",
          said("life changed over the trial: the last run's edge lasts {ratio} times what it would "
               "have lasted first ({p_of})",
               {{"ratio", print_number(one.contrast->ratio, 2)}, {"p_of", p_of(*one.p_holm)}})));
}

}  // namespace

std::vector<Objection> objections_to(const Recommendation& ranking, const ObjectionFacts& asked) {
  std::vector<Objection> out;
  ObjectionMemory none;
  ObjectionFacts known = asked;
  if (!known.memory) known.memory = &none;
  if (ranking.ranked.empty()) return out;
  const RankedEdge& first = ranking.ranked.front();
  const LifeModel& model = *known.model;
  add_damage(first, known, out);
  if (first.stress_ratio && *first.stress_ratio > 1) add_load(first, out);
  add_influence(ranking, known, out);
  if (!known.memory->checks) known.memory->checks = diagnose(model, *known.table);
  const LifeDiagnostics& checks = *known.memory->checks;
  if (checks.interplay_p && *checks.interplay_p < kDoubt)
    out.push_back(found_by(Question::trust, "interplay",
                           said("the angle does not do the same to every steel ({p_of}), and they "
                                "are ranked as if it did",
                                {{"p_of", p_of(*checks.interplay_p)}})));
  if (has_bend(model))
    out.push_back(found_by(
        Question::trust, "bend",
        said("life bends over the angle here{between_the_tested}",
             {{"between_the_tested",
               first.tested
                   ? ""
                   : said(": between the tested angles the bend is drawn, not measured")}})));
  else if (checks.bend_p && *checks.bend_p < kDoubt)
    out.push_back(
        found_by(Question::trust, "bend",
                 said("life bends over the angle ({p_of}), and it is ranked by a straight pattern",
                      {{"p_of", p_of(*checks.bend_p)}})));
  add_confounded(known, out);
  add_order(known, out);
  if (first.tested && first.evidence_runs.size() == 1)
    out.push_back(found_by(Question::angle, "one-run", said("one run only was made with it")));
  const int freedom = model.degrees_of_freedom(*model.row(candidates::point_of(first)));
  if (freedom < kFewFreedom)
    out.push_back(found_by(Question::trust, "few-runs",
                           said("the pattern stands on {rows} runs only, with {freedom} to spare",
                                {{"rows", std::to_string(model.rows().size())},
                                 {"freedom", std::to_string(freedom)}})));
  if (const auto longest = longest_cut(model.rows()); longest > 0 && first.life > double(longest))
    out.push_back(found_by(Question::curves, "beyond-cuts",
                           said("no run was cut for longer than {longest} cuts",
                                {{"longest", print_cuts(double(longest))}})));
  if (ranking.level_with_first)
    out.push_back(
        {"tied",
         said("{level_with_first}{other_edge_cannot} be told apart from it",
              {{"level_with_first", std::to_string(ranking.level_with_first)},
               {"other_edge_cannot", ranking.level_with_first == 1 ? said(" other edge cannot")
                                                                   : said(" other edges cannot")}}),
         Station::verdict, "the ranking"});
  if (!(first.stress_ratio && *first.stress_ratio > 1)) add_load(first, out);
  return out;
}

}  // namespace bq::inline workflow
