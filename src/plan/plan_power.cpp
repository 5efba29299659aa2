#include "plan/plan_power.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "quantity/said.h"
#include "stats/dense.h"
#include "stats/distributions.h"
#include "stats/power.h"
#include "stats/random.h"

namespace bq::inline plan {

std::string life_term_of(const PlanFactor& factor) {
  switch (factor.kind) {
    case FactorKind::apex_angle:
      return "angle";
    case FactorKind::finish:
      return "finish";
    default:
      return factor.name;
  }
}

LifeSpec analysis_of(const TrialPlan& plan, const RunSheet& sheet) {
  LifeSpec spec;
  spec.level = plan.asked().level;
  int coefficients = 1;
  const auto in_use = [&](std::size_t f) {
    std::set<int> levels;
    for (const auto& run : sheet.runs) levels.insert(run.levels[f]);
    return int(levels.size());
  };
  for (std::size_t f = 0; f < plan.factors.size(); ++f) {
    const int levels = in_use(f);
    if (levels < 2) continue;
    spec.terms.push_back(life_term_of(plan.factors[f]));
    coefficients += plan.factors[f].numeric() ? 1 : levels - 1;
  }
  const auto width = [&](const std::string& name) {
    const auto* factor = plan.factor(name);
    return factor->numeric() ? 1 : int(factor->levels.size()) - 1;
  };
  for (const auto& [a, b] : plan.design.interactions) {
    const auto term = [&](const std::string& name) { return life_term_of(*plan.factor(name)); };
    const auto known = [&](const std::string& name) {
      return std::find(spec.terms.begin(), spec.terms.end(), name) != spec.terms.end();
    };
    if (!known(term(a)) || !known(term(b))) continue;
    spec.interactions.emplace_back(term(a), term(b));
    coefficients += width(a) * width(b);
  }
  std::set<std::string> blocks;
  for (const auto& run : sheet.runs) blocks.insert(run.block);
  const int more = int(blocks.size()) - 1;
  const bool mixed =
      std::any_of(sheet.confounded.begin(), sheet.confounded.end(),
                  [](const Confounding& c) { return c.first == "block" && c.share >= kSameShare; });
  const int left = int(sheet.runs.size()) - coefficients - more;
  if (plan.blocks.by == BlockBy::blade && more > 0 && left >= 1 && !mixed)
    spec.terms.emplace_back("blade");
  else if (more > 0 && left >= 4 && !mixed)
    spec.terms.emplace_back("block");
  return spec;
}

ContrastQuestion contrast_question(const TrialPlan& plan, const RunSheet& sheet) {
  ContrastQuestion question;
  const PlanQuestion asked = plan.asked();
  question.threshold = plan.threshold;
  question.spec = analysis_of(plan, sheet);
  if (const auto* factor = plan.factor(asked.factor))
    question.contrast.term = life_term_of(*factor);
  question.contrast.from = asked.from;
  question.contrast.to = asked.to;
  return question;
}

Checked<LifeModel> model_of_sheet(const TrialPlan& plan, const RunSheet& sheet) {
  LifeTable table;
  stats::Random random(1);
  for (const auto& run : sheet.runs) {
    auto facts = facts_of(plan, run.levels);
    if (!facts) return facts.refusal();
    LifeRow row;
    row.facts = *facts;
    row.facts.name = run.code;
    row.facts.blade = run.blade;
    row.facts.block = run.block;
    row.cuts.estimate = std::exp(random.normal());
    table.rows.push_back(std::move(row));
  }
  return LifeModel::fit(table, analysis_of(plan, sheet));
}

Checked<PlanPower> plan_power(const TrialPlan& plan, const RunSheet& sheet, double sd,
                              double ratio) {
  if (!(sd > 0))
    return Refusal{said(
        "without any spread from run to run nothing needs to be replicated; state an SD above 0")};
  if (!(ratio > 0)) return Refusal{said("the ratio must be above 0")};
  const auto model = model_of_sheet(plan, sheet);
  if (!model) return model.refusal();
  const auto row = contrast_row(*model, contrast_question(plan, sheet).contrast);
  if (!row) return row.refusal();
  PlanPower out;
  const PlanQuestion asked = plan.asked();
  out.degrees_of_freedom = model->regression().degrees_of_freedom();
  out.standard_error = sd * std::sqrt(model->unscaled_variance(*row));
  if (!(out.standard_error > 0) || out.degrees_of_freedom < 1)
    return Refusal{said("this sheet cannot tell the two levels apart")};
  out.log_ratio = std::log(ratio);
  out.power =
      stats::t_power(out.log_ratio / out.standard_error, out.degrees_of_freedom, asked.level);
  out.smallest_ratio =
      std::exp(stats::noncentrality_for(asked.wished_power, out.degrees_of_freedom, asked.level) *
               out.standard_error);
  out.interval_factor = std::exp(stats::t_quantile(0.5 + asked.level / 2, out.degrees_of_freedom) *
                                 out.standard_error);
  return out;
}

Checked<double> factor_power(const TrialPlan& plan, const RunSheet& sheet, double sd,
                             const std::vector<double>& log_ratios) {
  const auto* factor = plan.factor(plan.asked().factor);
  if (!(sd > 0) || !factor || log_ratios.size() + 1 != factor->levels.size())
    return Refusal{said("one ln ratio for each level after the first is needed")};
  const auto model = model_of_sheet(plan, sheet);
  if (!model) return model.refusal();
  const auto count = Eigen::Index(log_ratios.size());
  Eigen::MatrixXd contrasts(count, model->regression().parameters());
  Eigen::VectorXd effect(count);
  for (Eigen::Index i = 0; i < count; ++i) {
    const auto row = contrast_row(*model, {life_term_of(*factor), factor->levels.front(),
                                           factor->levels[std::size_t(i) + 1]});
    if (!row) return row.refusal();
    contrasts.row(i) = *row;
    effect[i] = log_ratios[std::size_t(i)];
  }
  const auto& fit = model->regression();
  const Eigen::MatrixXd variance =
      contrasts * fit.covariance * contrasts.transpose() / (fit.sigma_ml * fit.sigma_ml);
  const double noncentrality = effect.dot(stats::solve_symmetric(variance, effect)) / (sd * sd);
  return stats::f_power(noncentrality, double(count), fit.degrees_of_freedom(), plan.asked().level);
}

std::vector<double> power_at(const PlanPower& power, const std::vector<double>& ratios,
                             double level) {
  std::vector<double> out;
  for (const double ratio : ratios)
    out.push_back(
        stats::t_power(std::log(ratio) / power.standard_error, power.degrees_of_freedom, level));
  return out;
}

Checked<std::vector<NextRun>> next_best_runs(const TrialPlan& plan, const PlanDesign& design,
                                             const RunSheet& sheet, std::size_t most) {
  const auto model = model_of_sheet(plan, sheet);
  if (!model) return model.refusal();
  const auto row = contrast_row(*model, contrast_question(plan, sheet).contrast);
  if (!row) return row.refusal();
  std::vector<NextRun> out;
  for (const auto& candidate : design.candidates) {
    if (!candidate.excluded.empty()) continue;
    const auto facts = facts_of(plan, candidate.levels);
    if (!facts) continue;
    out.push_back(
        {candidate.levels, std::sqrt(model->variance_shrink(*row, model->row_of(*facts)))});
  }
  // Rounded, so that equals stay in the order of the combinations on every machine.
  std::stable_sort(out.begin(), out.end(), [](const NextRun& a, const NextRun& b) {
    return std::llround(a.interval_shrinks_to * 1e9) < std::llround(b.interval_shrinks_to * 1e9);
  });
  if (out.size() > most) out.resize(most);
  return out;
}

}  // namespace bq::inline plan
