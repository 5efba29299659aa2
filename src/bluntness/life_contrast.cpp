#include "bluntness/life_contrast.h"

#include <algorithm>
#include <cmath>

#include "quantity/said.h"
#include "stats/distributions.h"

namespace bq::inline bluntness {

Checked<Eigen::VectorXd> contrast_row(const LifeModel& model, const FactorContrast& contrast) {
  const auto& spec = model.spec();
  const bool interacts =
      std::any_of(spec.interactions.begin(), spec.interactions.end(), [&](const auto& pair) {
        return pair.first == contrast.term || pair.second == contrast.term;
      });
  Eigen::VectorXd sum = Eigen::VectorXd::Zero(model.regression().parameters());
  int count = 0;
  for (const auto& row : model.rows()) {
    const auto to = model.row_of(row.facts, contrast.term, contrast.to),
               from = model.row_of(row.facts, contrast.term, contrast.from);
    if (!to) return to.refusal();
    if (!from) return from.refusal();
    sum += *to - *from;
    ++count;
    if (!interacts) break;
  }
  return Eigen::VectorXd(sum / std::max(1, count));
}

Checked<LifeContrast> life_contrast(const LifeModel& model, const FactorContrast& contrast,
                                    bool interval) {
  const auto row = contrast_row(model, contrast);
  if (!row) return row.refusal();
  LifeContrast out;
  const auto& fit = model.regression();
  const double level = model.spec().level, dof = model.degrees_of_freedom(*row);
  const auto [estimate, error] = model.log_life(*row);
  out.log_ratio = estimate;
  out.standard_error = error;
  out.ratio = std::exp(estimate);
  if (!(error > 0) || !std::isfinite(estimate))
    return Refusal{said("the two levels cannot be told apart in these runs")};
  const double t = stats::t_quantile(0.5 + level / 2, dof);
  if (fit.exact == fit.observations || model.blade_sd() || model.steel_sd()) {
    out.seen = std::fabs(estimate) > t * error;
    out.p = stats::t_two_sided_p(estimate / error, dof);
    out.low = std::exp(estimate - t * error);
    out.high = std::exp(estimate + t * error);
    return out;
  }
  const double cutoff = stats::profile_cutoff(fit.observations, fit.parameters(), level);
  const double at_one = model.deviance(*row, 0);
  out.seen = at_one > cutoff;
  // The deviance as the t statistic that would give it: the inverse of the small-sample cutoff.
  out.p = stats::t_two_sided_p(
      std::sqrt(std::max(0.0, dof * std::expm1(std::max(0.0, at_one) / fit.observations))), dof);
  if (!interval) return out;
  const auto ends =
      stats::profile_interval([&](double x) { return model.deviance(*row, x); }, estimate,
                              0.5 * error, estimate - 12, estimate + 12, cutoff);
  if (ends.low) out.low = std::exp(*ends.low);
  if (ends.high) out.high = std::exp(*ends.high);
  return out;
}

Checked<ContrastAnswer> analyse_contrast(const Trial& trial, const std::vector<RunFit>& fits,
                                         const ContrastQuestion& question, bool interval) {
  const auto threshold = parse_threshold(question.threshold, trial.unit(), fits, true);
  if (!threshold) return threshold.refusal();
  const LifeTable table = life_table(trial, fits, threshold->value, question.spec.level);
  const auto model = LifeModel::fit(table, question.spec);
  if (!model) return model.refusal();
  const auto contrast = life_contrast(*model, question.contrast, interval);
  if (!contrast) return contrast.refusal();
  ContrastAnswer out;
  out.contrast = *contrast;
  out.threshold = *threshold;
  out.left_out = table.left_out;
  out.left_out.insert(out.left_out.end(), model->left_out().begin(), model->left_out().end());
  out.runs = int(model->rows().size());
  double sum = 0;
  int exact = 0;
  for (const auto& row : model->rows()) {
    out.right_censored += row.cuts.censoring == Censoring::right;
    out.left_censored += row.cuts.censoring == Censoring::left;
    if (row.cuts.censoring == Censoring::none && std::isfinite(row.cuts.log_variance)) {
      sum += row.cuts.log_variance;
      ++exact;
    }
  }
  if (exact) out.mean_curve_variance = sum / exact;
  return out;
}

}  // namespace bq::inline bluntness
