#include "workflow/plan_study.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "bluntness/life_model.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "rehearsal/plan_rehearsal.h"
#include "rehearsal/plan_world.h"
#include "trial/median.h"
#include "workflow/section_study.h"

namespace bq::inline workflow {
namespace {

/// Angles a first plan takes at most of those that were tested.
constexpr double kFewLevels = 4;

template <class Value>
std::vector<Value> by_count(const std::map<Value, int>& counts) {
  std::vector<std::pair<Value, int>> list(counts.begin(), counts.end());
  std::stable_sort(list.begin(), list.end(),
                   [](const auto& a, const auto& b) { return a.second > b.second; });
  std::vector<Value> out;
  for (const auto& [value, count] : list) out.push_back(value);
  return out;
}

/// SDs within and between checkpoints, pooled over the curves.
void take_scatter(TrialPlan& plan, const std::vector<RunFit>& fits) {
  std::vector<double> within, between;
  for (const auto& fit : fits) {
    if (!fit.curve) continue;
    within.push_back(fit.curve->fit.within_variance);
    between.push_back(fit.curve->fit.checkpoint_variance);
  }
  if (within.empty()) return;
  const auto mean = [](const std::vector<double>& values) {
    double sum = 0;
    for (const double value : values) sum += value;
    return sum / double(values.size());
  };
  plan.truth.reading_sd = std::round(1000 * std::sqrt(mean(within))) / 1000;
  plan.truth.checkpoint_sd = std::round(1000 * std::sqrt(std::max(0.0, mean(between)))) / 1000;
}

double rounded(double value) { return parse_number(print_number(value, 2)).value(); }

}  // namespace

std::string expect_from_evidence(TrialPlan& plan, const Trial& trial,
                                 const std::vector<RunFit>& fits) {
  if (fits.size() != trial.runs.size() || fits.empty())
    return said("No run is fitted yet: the figures stand as they were.");
  const auto threshold = parse_threshold(plan.threshold, trial.unit(), fits, true);
  if (!threshold)
    return said("The threshold cannot be read: {reason}.",
                {{"reason", threshold.refusal().reason}});
  const auto held = plan.value_of(Combination(plan.factors.size(), 0), "medium");
  LifeTable table = life_table(trial, fits, threshold->value);
  if (held) table = in_medium(table, print_factor_value(*held));
  take_scatter(plan, fits);
  std::string text = said("Spread of readings and checkpoints from {fits} runs",
                          {{"fits", std::to_string(fits.size())}});
  if (const auto fresh = median_fresh_reading(fits)) {
    plan.truth.fresh_reading = rounded(convert(*fresh, trial.unit(), plan.unit));
    text += said(", fresh reading {fresh_reading}",
                 {{"fresh_reading", print_measure(plan.truth.fresh_reading, plan.unit, 3)}});
  }
  const LifeSpec spec = usual_terms(table);
  if (!spec.terms.empty())
    if (const auto model = LifeModel::fit(table, spec)) {
      plan.truth.run_sd = std::round(1000 * model->run_to_run_sd()) / 1000;
      text +=
          said(", run to run {run_sd} %", {{"run_sd", print_number(100 * plan.truth.run_sd, 2)}});
      // Life of the first levels, and the steels' ratios, from the model.
      const auto first = facts_of(plan, Combination(plan.factors.size(), 0));
      if (first) {
        plan.truth.life =
            std::max(1.0, std::round(std::exp(model->log_life(model->row_of(*first)).first)));
        text += said(", life of the first levels {life} cuts",
                     {{"life", print_number(plan.truth.life, 3)}});
      }
      for (auto& factor : plan.factors) {
        if (factor.kind != FactorKind::steel || !first) continue;
        factor.life_ratio.assign(factor.levels.size(), 1.0);
        for (std::size_t l = 1; l < factor.levels.size(); ++l) {
          const auto one = model->row_of(*first, "steel", factor.levels[0]),
                     other = model->row_of(*first, "steel", factor.levels[l]);
          if (one && other)
            factor.life_ratio[l] = rounded(std::exp(model->log_life(*other - *one).first));
        }
        text += said(", the steels' ratio");
      }
      return said(
          "{text} from the runs in {all_media}.",
          {{"text", text}, {"all_media", held ? print_factor_value(*held) : said("all media")}});
    }
  return said("{text}. Life cannot be told from these runs yet: state it.", {{"text", text}});
}

TrialPlan first_plan(const Trial& trial, const std::vector<RunFit>& fits,
                     const std::string& threshold, const std::string& name) {
  TrialPlan plan;
  plan.name = name;
  plan.threshold = threshold;
  if (kind_of(trial.unit()) == UnitKind::force) plan.unit = trial.unit();
  std::map<std::string, int> steels, media;
  std::map<double, int> finishes, edges;
  std::set<double> angles;
  std::optional<CutMode> mode;
  for (const auto& run : trial.runs) {
    if (!run.facts.medium.empty()) ++media[run.facts.medium];
    if (!run.facts.steel.empty()) ++steels[run.facts.steel];
  }
  const std::string medium = media.empty() ? "" : by_count(media).front();
  for (const auto& run : trial.runs) {
    if (run.facts.medium != medium) continue;
    if (run.facts.finish) ++finishes[run.facts.finish->mean_um()];
    if (run.facts.geometry) {
      angles.insert(std::round(run.facts.geometry->apex().equivalent_deg() * 2) / 2);
      if (run.facts.geometry->micro())
        ++edges[std::round(run.facts.geometry->edge().equivalent_deg() * 2) / 2];
    }
    if (run.facts.cut_mode) mode = run.facts.cut_mode;
  }
  for (const auto& blade : trial.blades)
    if (!blade.retired && !blade.steel.empty()) steels.try_emplace(blade.steel, 0);
  std::vector<std::string> named = by_count(steels);
  if (named.size() > 2) named.resize(2);
  if (named.size() == 2)
    plan.factors.push_back({FactorKind::steel, "steel", {named[0], named[1]}, {}});
  else if (named.size() == 1)
    plan.held.emplace_back("steel", named[0]);
  std::vector<FactorValue> levels;
  for (const double angle : angles)
    if (double(levels.size()) < kFewLevels) levels.emplace_back(angle);
  if (levels.size() < 2) levels = {12.0, 15.0, 18.0};
  plan.factors.push_back({FactorKind::apex_angle, "apex_angle", levels, {}});
  if (!medium.empty()) plan.held.emplace_back("medium", medium);
  if (mode) plan.held.emplace_back("cut_mode", std::string(name_of(*mode)));
  plan.held.emplace_back("finish_um", finishes.empty() ? 6.0 : by_count(finishes).front());
  plan.design.replicates = 2;
  for (const auto& blade : trial.blades)
    if (!blade.retired && std::find(named.begin(), named.end(), blade.steel) != named.end())
      plan.blades.push_back({blade.name, blade.steel, 3});
  expect_from_evidence(plan, trial, fits);
  plan.checkpoints.last = std::max<std::int64_t>(20, std::int64_t(rounded(2 * plan.truth.life)));
  // Places for every run, so that the first thing shown is a plan and not a refusal.
  const auto places = places_by_steel(plan);
  int fewest = 1000;
  for (const auto& steel : named)
    fewest = std::min(fewest, places.contains(steel) ? places.at(steel) : 0);
  if (fewest < int(levels.size()) * plan.design.replicates) plan.blades.clear();
  return plan;
}

Checked<std::vector<DurableLimit>> durable_limits(const TrialPlan& plan, const Trial& trial,
                                                  const SideLoad& load) {
  std::vector<std::string> steels;
  if (const auto* factor = plan.factor("steel"))
    for (const auto& level : factor->levels) steels.push_back(print_factor_value(level));
  else if (const auto held = plan.value_of(Combination(plan.factors.size(), 0), "steel"))
    steels.push_back(print_factor_value(*held));
  std::vector<DurableLimit> out;
  for (const auto& steel : steels)
    if (const SteelCard* card = trial.steel_card(steel))
      if (const auto limit = leading_limit(strength_of(*card)))
        out.push_back({steel, std::ceil(10 * least_wedge_angle_deg(load, limit->limit_MPa)) / 10});
  if (out.empty())
    return Refusal{said(
        "no steel of this plan has a hardness, a bend strength or a toughness on its card (Rack)")};
  return out;
}

PlanStudy study_plan(const TrialPlan& plan, const stats::Work& work) {
  PlanStudy out;
  out.plan = plan;
  const auto design = design_plan(plan, work);
  if (!design) {
    out.refusal = design.refusal().reason;
    // Too few blades: the combinations can be shown, and some taken out, all the same.
    TrialPlan without = plan;
    without.blades.clear();
    if (const auto shown = plan.blades.empty() ? design : design_plan(without, work))
      out.design = *shown;
    return out;
  }
  out.design = *design;
  const auto sheet = run_sheet(plan, *design, work);
  if (!sheet) {
    out.refusal = sheet.refusal().reason;
    return out;
  }
  out.sheet = *sheet;
  out.budget = budget_of(plan, *sheet);
  if (const auto ends = expected_ends(plan, *sheet)) out.likely = budget_of(plan, *sheet, *ends);
  const PlayQuestion question = play_question(plan, *sheet);
  out.match = question.match;
  out.edges = question.edges.size();
  const auto ratio = true_ratio_of(plan);
  if (!ratio) {
    out.why_no_power = ratio.refusal().reason;
    return out;
  }
  out.true_ratio = *ratio;
  const auto sd = life_sd_of(plan, *sheet);
  if (!sd) {
    out.why_no_power = sd.refusal().reason;
    return out;
  }
  out.sd = *sd;
  const auto power = plan_power(plan, *sheet, out.sd, *ratio);
  if (power)
    out.power = *power;
  else
    out.why_no_power = power.refusal().reason;
  out.any_level_power = any_level_power(plan, *sheet, out.sd);
  if (const auto next = next_best_runs(plan, *design, *sheet)) out.next = *next;
  return out;
}

std::string issued_fault(const PlanEntry& entry, const RunSheet& sheet) {
  for (std::size_t i = 0; i < entry.issued.size(); ++i) {
    if (i >= sheet.runs.size())
      return said("The plan has fewer runs now than are on the bench already.");
    if (entry.plan.blind && sheet.runs[i].code != entry.issued[i])
      return said(
          "The runs that are on the bench already would change: run {i} is {issued} there and "
          "{code} here.",
          {{"i", std::to_string(i + 1)},
           {"issued", entry.issued[i]},
           {"code", sheet.runs[i].code}});
  }
  return "";
}

std::vector<std::string> plan_book_problems(const std::string& kept, const Trial& trial) {
  std::vector<std::string> problems;
  if (kept.empty()) return problems;
  const auto book = parse_plan_book(kept);
  if (!book)
    return {said("the plans cannot be read: {reason}", {{"reason", book.refusal().reason}})};
  for (const auto& entry : book->plans)
    for (const auto& name : entry.run_names())
      if (!trial.find_run(name))
        problems.push_back(said("plan \"{name}\": its run {name_2} is not among the runs",
                                {{"name", entry.plan.name}, {"name_2", name}}));
  for (const auto& test : book->claims) {
    const auto rows = claim_sheet(test);
    for (const auto& value : test.values)
      if (std::none_of(rows.begin(), rows.end(),
                       [&](const ClaimRow& row) { return row.code == value.code; }))
        problems.push_back(said("claim \"{sentence}\": there is no code {code} on its sheet",
                                {{"sentence", test.claim.sentence}, {"code", value.code}}));
  }
  return problems;
}

}  // namespace bq::inline workflow
