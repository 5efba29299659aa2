#include "bluntness/curve_choice.h"

#include <algorithm>
#include <cmath>
#include <utility>

#include "bluntness/curve_lead.h"
#include "stats/distributions.h"

namespace bq::inline bluntness {

bool shows_early_collapse(const CurveFit& fit) {
  if (fit.curve.model != CurveModel::two_phase) return false;
  const auto& p = fit.curve.parameters;
  return p[1] >= 0.5 * p[0] && 3 * p[2] <= 0.1 * fit.last_cuts;
}

namespace {

constexpr double kHuber = 1.345;

/// Overdispersion counts as far as the data show it: its one-sided lower limit at this level.
constexpr double kSureShare = 0.8;

/// How far a rival leads the power fit in AICc, its likelihood part divided by the rival's
/// overdispersion: readings of one checkpoint share its scatter and are not independent witnesses.
/// Without clear scatter between checkpoints this is the plain difference.
double lead(const CurveFit& power, const CurveFit& rival) {
  const double likelihood =
      power.readings * std::log(power.sum_of_squares / std::max(rival.sum_of_squares, 1e-300));
  const double penalty = (rival.aicc - power.aicc) + likelihood;  // of the rival over power
  const int between_dof = rival.checkpoints - rival.parameters();
  double overdispersion = 1;
  if (between_dof > 0 && rival.checkpoint_variance > 0)
    overdispersion = std::max(
        1.0, rival.between_sum / between_dof / std::max(rival.within_variance, 1e-300) /
                 stats::f_quantile(kSureShare, between_dof, rival.readings - rival.checkpoints));
  return likelihood / overdispersion - penalty;
}

Checked<ChosenCurve> choose(const CheckpointTable& table, std::optional<CurveModel> wanted) {
  if (wanted) {
    auto fit = fit_curve(*wanted, table);
    if (!fit) return fit.refusal();
    ChosenCurve chosen{*fit, std::vector{*fit}, {}, 0, {}, shows_early_collapse(*fit)};
    return chosen;
  }
  std::vector<CurveFit> candidates;
  std::optional<Refusal> refusal;
  for (const CurveModel model : {CurveModel::power, CurveModel::linear, CurveModel::wear_area,
                                 CurveModel::two_phase, CurveModel::levelling}) {
    auto fit = fit_curve(model, table);
    if (fit)
      candidates.push_back(*fit);
    else if (model == CurveModel::linear)
      refusal = fit.refusal();
  }
  if (candidates.empty()) return *refusal;
  const auto best =
      std::min_element(candidates.begin(), candidates.end(),
                       [](const CurveFit& a, const CurveFit& b) { return a.aicc < b.aicc; });
  const CurveFit* taken = &*best;
  const CurveFit& first = candidates.front();
  if (first.curve.model == CurveModel::power)
    taken = &leading(candidates, first, [&](const CurveFit& rival) { return lead(first, rival); });
  ChosenCurve chosen;
  chosen.alone = std::size_t(taken - candidates.data());
  chosen.fit = *taken;
  chosen.early_collapse = shows_early_collapse(chosen.fit);
  chosen.candidates = std::move(candidates);
  return chosen;
}

double median(std::vector<double> values) {
  const auto middle = values.begin() + std::ptrdiff_t(values.size() / 2);
  std::nth_element(values.begin(), middle, values.end());
  return *middle;
}

/// Huber weights from the residuals of a curve; the scale is the median absolute residual.
/// Returns the largest change of a weight.
double reweight(const Curve& curve, std::vector<LogReading>& readings) {
  std::vector<double> sizes;
  for (const auto& r : readings)
    sizes.push_back(std::fabs(r.log_value - std::log(curve.at(r.cuts))));
  const double scale = std::max(1.4826 * median(sizes), 1e-9);
  double change = 0;
  for (std::size_t i = 0; i < readings.size(); ++i) {
    const double weight = sizes[i] <= kHuber * scale ? 1 : kHuber * scale / sizes[i];
    change = std::max(change, std::fabs(weight - readings[i].weight));
    readings[i].weight = weight;
  }
  return change;
}

Checked<ChosenCurve> choose_robustly(std::span<const LogReading> given,
                                     std::optional<CurveModel> wanted) {
  std::vector<LogReading> readings(given.begin(), given.end());
  // First find the weights with one model held, then choose with these weights, then settle.
  auto first = choose(collapse(readings), wanted);
  if (!first) return first;
  const auto settle = [&](CurveModel model) {
    for (int i = 0; i < 50; ++i) {
      const auto fit = fit_curve(model, collapse(readings));
      if (!fit || reweight(fit->curve, readings) < 1e-7) return;
    }
  };
  settle(first->candidates.front().curve.model);
  auto chosen = choose(collapse(readings), wanted);
  if (!chosen) return chosen;
  settle(chosen->fit.curve.model);
  return choose(collapse(readings), chosen->fit.curve.model);
}

std::vector<FitSuspect> find_suspects(std::span<const LogReading> readings, const CurveFit& fit) {
  const double n = double(readings.size()), p = fit.parameters();
  if (n - p - 1 < 1) return {};
  const double bound = stats::t_quantile(1 - 0.025 / n, n - p - 1);
  double sse = 0;
  std::vector<double> residuals;
  for (const auto& r : readings) {
    residuals.push_back(r.log_value - std::log(fit.curve.at(r.cuts)));
    sse += residuals.back() * residuals.back();
  }
  std::vector<FitSuspect> out;
  for (std::size_t i = 0; i < readings.size(); ++i) {
    const auto g = fit.curve.log_gradient(readings[i].cuts, fit.reference_cuts);
    const Eigen::Vector4d j(g[0], g[1], g[2], g[3]);
    const double leverage = std::min(j.dot(fit.inverse_information * j), 1 - 1e-9);
    const double e = residuals[i];
    const double variance = (sse - e * e / (1 - leverage)) / (n - p - 1);
    if (!(variance > 1e-18)) continue;
    const double t = e / std::sqrt(variance * (1 - leverage));
    if (std::fabs(t) > bound) out.push_back({i, t});
  }
  return out;
}

}  // namespace

double ChosenCurve::weight(std::size_t candidate) const {
  double total = 0;
  for (const auto& other : candidates)
    total += std::exp(-0.5 * (other.aicc - candidates[candidate].aicc));
  return 1 / total;
}

Checked<ChosenCurve> choose_curve(std::span<const LogReading> readings,
                                  const CurveOptions& options) {
  auto chosen = options.robust ? choose_robustly(readings, options.model)
                               : choose(collapse(readings), options.model);
  if (!chosen) return chosen;
  ChosenCurve out = *chosen;
  out.suspects = find_suspects(readings, out.fit);
  return out;
}

}  // namespace bq::inline bluntness
