// Which terms a table of lives can tell.
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "bluntness/circumstances.h"
#include "bluntness/life_model.h"
#include "bluntness/term_test.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/distributions.h"

namespace bq::inline bluntness {

std::optional<double> p_of_more(const LifeModel& less, const LifeModel& more) {
  const auto &a = less.regression(), &b = more.regression();
  const int q = b.parameters() - a.parameters(), dof = b.degrees_of_freedom();
  if (q < 1 || dof < 1 || a.observations != b.observations) return std::nullopt;
  const double f =
      std::expm1(2 * std::max(0.0, b.log_likelihood - a.log_likelihood) / b.observations) * dof / q;
  return stats::f_upper_p(f, q, dof);
}

std::vector<std::string> levels_in(const LifeTable& table, const std::string& term) {
  std::set<std::string> levels;
  for (const auto& row : table.rows)
    if (const auto value = value_in(row.facts, term)) levels.insert(print_factor_value(*value));
  return {levels.begin(), levels.end()};
}

TermTest test_term(const LifeTable& table, const LifeSpec& spec, const std::string& term,
                   int least_freedom) {
  LifeSpec more = spec;
  more.terms.push_back(term);
  const auto with = LifeModel::fit(table, more);
  if (!with) return {{}, {}, with.refusal().reason};
  if (with->regression().degrees_of_freedom() < least_freedom)
    return {{}, {}, "too few runs for that"};
  TermTest out{*with, {}, ""};
  if (const auto without = LifeModel::fit(table, spec)) out.p = p_of_more(*without, *with);
  return out;
}

TermTest test_side_term(const LifeTable& table, const LifeSpec& spec, const std::string& term,
                        int least_freedom) {
  for (const auto& row : table.rows)
    if (!value_in(row.facts, term)) return {{}, {}, "not every run says it"};
  return test_term(table, spec, term, least_freedom);
}

namespace {

LifeSpec main_terms(const LifeTable& table) {
  LifeSpec spec;
  for (const char* term : {"steel", "angle", "finish"})
    if (levels_in(table, term).size() >= 2) spec.terms.emplace_back(term);
  return spec;
}

/// Whether the pattern misses what the angle does without this term (p < 0.05), with so many angles
/// and runs to spare.
bool misses(const LifeTable& table, const LifeSpec& spec, const char* term, std::size_t least) {
  std::set<double> angles;
  for (const auto& row : table.rows)
    if (row.facts.geometry)
      angles.insert(std::round(4 * row.facts.geometry->apex().equivalent_deg()) / 4);
  if (angles.size() < least) return false;
  const auto p = test_term(table, spec, term, kSpareRuns).p;
  return p && *p < 0.05;
}

void judge_difference(SideDifference& side, const LifeTable& table, const LifeSpec& spec) {
  const bool around = is_circumstance(side.term);
  const TermTest test = test_side_term(table, spec, side.term, around ? kSpareRuns : 2);
  side.why_not = test.why_not;
  side.p = test.p;
  side.taken = test.with && (!around || (side.p && *side.p < 0.05));
}

}  // namespace

std::vector<SideDifference> side_differences(const LifeTable& table) {
  LifeSpec spec = main_terms(table);
  std::set<std::string> names;
  for (const auto& row : table.rows)
    for (const auto& [name, value] : row.facts.factors) names.insert(name);
  std::vector<std::string> terms(names.begin(), names.end());
  // Blocks are no answer by themselves.
  if (!spec.terms.empty() || !terms.empty()) terms.emplace_back("block");
  std::vector<SideDifference> out;
  for (const auto& term : terms) {
    SideDifference side{term, levels_in(table, term), false, {}, ""};
    if (side.levels.size() < 2 ||
        std::find(spec.terms.begin(), spec.terms.end(), term) != spec.terms.end())
      continue;
    judge_difference(side, table, spec);
    if (side.taken) spec.terms.push_back(term);
    out.push_back(std::move(side));
  }
  return out;
}

std::vector<std::string> side_sentences(const std::vector<SideDifference>& sides) {
  std::vector<std::string> out;
  for (const auto& side : sides) {
    const std::string what = is_circumstance(side.term) ? side.term : "\"" + side.term + "\"";
    const std::string p =
        side.p ? " (p " + (*side.p < 1e-4 ? "< 0.0001" : "= " + print_number(*side.p, 2)) + ")"
               : "";
    if (side.taken)
      out.push_back(said(
          "The runs differ in {what} too{p}: it is in the model, the rest is compared within it.",
          {{"what", what}, {"p", p}}));
    else if (side.why_not.empty())
      out.push_back(
          said("No difference between the {blocks} can be told{p}; they are not in the model.",
               {{"blocks", side.term == "block"         ? said("blocks")
                           : side.term == kOperatorTerm ? said("operators")
                                                        : said("batches of medium")},
                {"p", p}}));
    else
      out.push_back(
          said("The runs differ in {what} too, and it is not allowed for: {why_not}. What it does "
               "is mixed into the rest.",
               {{"what", what}, {"why_not", side.why_not}}));
  }
  return out;
}

LifeSpec terms_with_blades(const LifeTable& table) {
  LifeSpec spec = usual_terms(table);
  constexpr std::size_t kManySteels = 4;
  spec.drawn_steels = levels_in(table, "steel").size() >= kManySteels;
  spec.random_blade = blades_used_again(table);
  return spec;
}

bool blades_used_again(const LifeTable& table) {
  std::set<std::string> used;
  return std::any_of(table.rows.begin(), table.rows.end(), [&](const LifeRow& row) {
    return !row.facts.blade.empty() && !used.insert(row.facts.blade).second;
  });
}

std::string drawn_sentence(const LifeModel& model) {
  if (!model.steel_sd()) return "";
  return said(
      "The steels are drawn toward their mean, as far as these runs see them alike (they seem to "
      "differ by about {percent} %): the first of many owes some of its life to luck.",
      {{"percent", print_number(100 * std::expm1(*model.steel_sd()), 2)}});
}

LifeSpec usual_terms(const LifeTable& table) {
  LifeSpec spec = main_terms(table);
  for (const auto& side : side_differences(table))
    if (side.taken) spec.terms.push_back(side.term);
  if (std::find(spec.terms.begin(), spec.terms.end(), "angle") == spec.terms.end()) return spec;
  if (!misses(table, spec, kAngleBend, 3)) return spec;
  spec.terms.emplace_back(kAngleBend);
  if (misses(table, spec, kAngleTwist, 4)) spec.terms.emplace_back(kAngleTwist);
  return spec;
}

}  // namespace bq::inline bluntness
