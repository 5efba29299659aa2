#include "bluntness/circumstances.h"

#include <algorithm>
#include <map>
#include <set>

#include "bluntness/term_test.h"
#include "quantity/said.h"
#include "stats/holm.h"

namespace bq::inline bluntness {

bool is_circumstance(const std::string& term) {
  return term == "block" || term == kOperatorTerm || term == kBatchTerm || term == kOrder;
}

namespace {

/// When each run was begun, as a rank from 0 to 1 in the rows' factors; the names of the first and
/// the last run. Empty where not every run says when.
std::vector<std::string> number_in_time(const Trial& trial, LifeTable& table) {
  std::map<std::string, std::string> begun;
  for (const auto& run : trial.runs)
    if (!run.events.empty()) begun[run.facts.name] = run.events.front().made_at;
  std::vector<std::pair<std::string, std::string>> order;
  for (const auto& row : table.rows) {
    const auto found = begun.find(row.facts.name);
    if (found == begun.end() || found->second.empty()) return {};
    order.emplace_back(found->second, row.facts.name);
  }
  if (order.size() < 2) return {};
  std::sort(order.begin(), order.end());
  // Runs of one moment share a rank: a table that was typed in at once has no order.
  if (order.front().first == order.back().first) return {};
  std::map<std::string, double> rank;
  for (std::size_t i = 0; i < order.size(); ++i) {
    const bool with_last = i > 0 && order[i].first == order[i - 1].first;
    rank[order[i].second] =
        with_last ? rank[order[i - 1].second] : double(i) / double(order.size() - 1);
  }
  for (auto& row : table.rows) row.facts.factors[kOrder] = rank[row.facts.name];
  return {order.front().second, order.back().second};
}

/// The two levels of a term that lie farthest apart in life.
std::pair<FactorValue, FactorValue> widest(const LifeModel& model, const std::string& term,
                                           const std::vector<std::string>& levels) {
  std::map<std::string, FactorValue> values;
  for (const auto& row : model.rows())
    if (const auto value = value_in(row.facts, term)) values[print_factor_value(*value)] = *value;
  std::pair<FactorValue, FactorValue> out{values.begin()->second, values.rbegin()->second};
  double most = -1;
  for (const auto& a : levels)
    for (const auto& b : levels) {
      if (a == b) continue;
      const auto one = life_contrast(model, {term, values[a], values[b]}, false);
      if (!one || one->log_ratio <= most) continue;
      most = one->log_ratio;
      out = {values[a], values[b]};
    }
  return out;
}

void judge(Circumstance& out, const LifeTable& table, const LifeSpec& edge) {
  const TermTest test = test_side_term(table, edge, out.name, kSpareRuns);
  out.why_not = test.why_not;
  if (!test.with) return;
  out.p = test.p;
  std::pair<FactorValue, FactorValue> ends{0.0, 1.0};
  if (out.name != kOrder) {
    ends = widest(*test.with, out.name, out.levels);
    out.shortest = print_factor_value(ends.first);
    out.longest = print_factor_value(ends.second);
  }
  if (const auto contrast = life_contrast(*test.with, {out.name, ends.first, ends.second}))
    out.contrast = *contrast;
  if (!out.p || !out.contrast) out.why_not = said("these runs hold no answer");
}

/// One that could not be asked takes no part.
void hold_together(std::vector<Circumstance>& all) {
  std::vector<Circumstance*> told;
  std::vector<double> p;
  for (auto& one : all)
    if (one.why_not.empty()) {
      told.push_back(&one);
      p.push_back(*one.p);
    }
  const auto together = stats::holm(p);
  for (std::size_t i = 0; i < told.size(); ++i) told[i]->p_holm = together[i];
}

}  // namespace

std::vector<Circumstance> circumstances(const Trial& trial, const LifeTable& table,
                                        const LifeSpec& spec) {
  LifeTable timed = table;
  const std::vector<std::string> ends = number_in_time(trial, timed);
  LifeSpec edge = spec;
  std::erase_if(edge.terms, is_circumstance);
  // Likelihoods are compared, which a random blade and drawn steels do not have.
  edge.random_blade = edge.drawn_steels = false;
  std::set<std::string> names{"block"};
  for (const auto& row : timed.rows)
    for (const auto& [name, value] : row.facts.factors) names.insert(name);
  std::vector<Circumstance> out;
  for (const auto& name : names) {
    Circumstance one;
    one.name = name;
    one.levels = levels_in(timed, name);
    if (one.levels.size() < 2) continue;
    if (name == kOrder) {
      one.levels = ends;
      one.shortest = ends.front();
      one.longest = ends.back();
    }
    LifeSpec beside = edge;
    std::erase(beside.terms, name);
    judge(one, timed, beside);
    out.push_back(std::move(one));
  }
  hold_together(out);
  return out;
}

}  // namespace bq::inline bluntness
