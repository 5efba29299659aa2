#include "bluntness/curve_study.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/distributions.h"

namespace bq::inline bluntness {
namespace {

double choose(int n, int k) {
  return k < 0 || k > n
             ? 0
             : std::exp(std::lgamma(n + 1.0) - std::lgamma(k + 1.0) - std::lgamma(n - k + 1.0));
}

std::vector<double> ranks_of(const std::vector<double>& values) {
  std::vector<std::size_t> order(values.size());
  std::iota(order.begin(), order.end(), 0U);
  std::sort(order.begin(), order.end(),
            [&](std::size_t a, std::size_t b) { return values[a] < values[b]; });
  std::vector<double> ranks(values.size());
  for (std::size_t i = 0; i < order.size();) {
    std::size_t j = i;
    while (j + 1 < order.size() && values[order[j + 1]] == values[order[i]]) ++j;
    for (std::size_t k = i; k <= j; ++k) ranks[order[k]] = 0.5 * double(i + j);
    i = j + 1;
  }
  return ranks;
}

double correlation(const std::vector<double>& a, const std::vector<double>& b) {
  const double n = double(a.size()), mean_a = std::accumulate(a.begin(), a.end(), 0.0) / n,
               mean_b = std::accumulate(b.begin(), b.end(), 0.0) / n;
  double ab = 0, aa = 0, bb = 0;
  for (std::size_t i = 0; i < a.size(); ++i) {
    ab += (a[i] - mean_a) * (b[i] - mean_b);
    aa += (a[i] - mean_a) * (a[i] - mean_a);
    bb += (b[i] - mean_b) * (b[i] - mean_b);
  }
  return aa > 0 && bb > 0 ? ab / std::sqrt(aa * bb) : 0;
}

Estimate reading_at(const CurveFit& fit, double cuts) {
  const auto gradient = fit.curve.log_gradient(cuts, fit.reference_cuts);
  const auto variance =
      fit.variance_of(Eigen::Vector4d(gradient[0], gradient[1], gradient[2], gradient[3]));
  Estimate out;
  out.value = fit.curve.at(cuts);
  if (!(variance.degrees_of_freedom > 0) || !std::isfinite(variance.variance)) return out;
  const double half = stats::t_quantile(0.975, variance.degrees_of_freedom) *
                      std::sqrt(std::max(0.0, variance.variance));
  out.low = out.value * std::exp(-half);
  out.high = out.value * std::exp(half);
  return out;
}

/// What the scatter of all runs says of this run's curve.
void check_against_bench(const RunFit& run, std::vector<std::string>& bad,
                         std::vector<std::string>& good) {
  const auto& bench = run.curve->fit.bench;
  if (!bench) {
    good.emplace_back(
        said("Too few runs to pool their scatter: the intervals rest on this run's own."));
    return;
  }
  const auto percent = [](double variance) {
    return print_number(100 * std::sqrt(variance), 2) + " %";
  };
  std::string scatter = said(
      "Scatter of all runs: {within_variance} a reading, {checkpoint_variance} a checkpoint "
      "besides",
      {{"within_variance", percent(bench->within_variance())},
       {"checkpoint_variance", percent(bench->checkpoint_variance())}});
  if (bench->correlation > 0)
    scatter += said(", neighbouring checkpoints alike ({correlation})",
                    {{"correlation", print_number(bench->correlation, 2)}});
  const std::string p =
      run.lack_of_fit_p
          ? *run.lack_of_fit_p < 1e-4 ? "p < 0.0001" : "p " + print_number(*run.lack_of_fit_p, 2)
          : "";
  if (run.interpolated)
    bad.push_back(
        said("No curve follows these checkpoints, or runs miss every curve at the same "
             "places{for_this_one}: cuts to the limit are read between the checkpoints. {scatter}.",
             {{"for_this_one", p.empty() ? "" : said(" ({p} for this one)", {{"p", p}})},
              {"scatter", scatter}}));
  else if (run.lack_of_fit_p && *run.lack_of_fit_p < 0.05)
    bad.push_back(said("The checkpoints lie farther from the curve than usual ({p}). {scatter}.",
                       {{"p", p}, {"scatter", scatter}}));
  else
    good.push_back(scatter + (p.empty() ? "." : said("; the curve fits by it ({p}).", {{"p", p}})));
}

void check_residuals(const RunFit& run, CurveStudy& out) {
  const CurveFit& fit = run.curve->fit;
  // Signs of the checkpoints in order.
  int plus = 0, minus = 0, runs = 0, last = 0;
  for (std::size_t i = 0; i < run.table.checkpoints; ++i) {
    const double residual = run.table.mean_log[i] - std::log(fit.curve.at(run.table.cuts[i]));
    const int sign = residual > 0 ? 1 : -1;
    (sign > 0 ? plus : minus) += 1;
    runs += sign != last;
    last = sign;
  }
  std::vector<std::string> good;
  const double p_signs = plus > 0 && minus > 0 ? few_runs_chance(plus, minus, runs) : 1;
  if (p_signs < 0.05)
    out.checks.push_back(
        said("Residuals keep their sign too long ({runs} changes of side in {minus} checkpoints, p "
             "{p_signs}): the curve has another shape.",
             {{"runs", std::to_string(runs)},
              {"minus", std::to_string(plus + minus)},
              {"p_signs", print_number(p_signs, 2)}}));
  else
    good.emplace_back(said("Residuals change sides as chance would."));
  // Spread against cuts.
  std::vector<double> cuts, sizes;
  for (const auto& reading : run.readings) {
    cuts.push_back(reading.cuts);
    sizes.push_back(std::fabs(reading.log_value - std::log(fit.curve.at(reading.cuts))));
  }
  if (cuts.size() >= 8) {
    const double r = correlation(ranks_of(cuts), ranks_of(sizes)), dof = double(cuts.size()) - 2;
    const double p =
        std::fabs(r) < 1 ? stats::t_two_sided_p(r * std::sqrt(dof / (1 - r * r)), dof) : 0;
    if (p < 0.05)
      out.checks.push_back(
          said("Relative scatter {grows} with the cuts (p {p}): clean the edge and read more at "
               "that end.",
               {{"grows", r > 0 ? said("grows") : said("shrinks")}, {"p", print_number(p, 2)}}));
    else
      good.emplace_back(said("Relative scatter is alike from start to end."));
  }
  if (const auto count = run.curve->suspects.size())
    out.checks.push_back(
        said("{count}{reading_lies} beyond the bound for a single odd reading; flagged, still in "
             "the fit. The robust line shows what it costs.",
             {{"count", std::to_string(count)},
              {"reading_lies", count == 1 ? said(" reading lies") : said(" readings lie")}}));
  else
    good.emplace_back(said("No reading lies beyond the bound for an odd one."));
  check_against_bench(run, out.checks, good);
  out.doubts = !out.checks.empty();
  out.checks.insert(out.checks.end(), good.begin(), good.end());
}

}  // namespace

double few_runs_chance(int plus, int minus, int runs) {
  const double all = choose(plus + minus, plus);
  double sum = 0;
  for (int r = 2; r <= runs; ++r) {
    const int k = r / 2;
    sum += r % 2 == 0 ? 2 * choose(plus - 1, k - 1) * choose(minus - 1, k - 1)
                      : choose(plus - 1, k) * choose(minus - 1, k - 1) +
                            choose(plus - 1, k - 1) * choose(minus - 1, k);
  }
  return std::min(1.0, sum / all);
}

Checked<CurveStudy> study_curve(const RunFit& run, double threshold, double reference,
                                double at_cuts) {
  if (!run.curve) return Refusal{run.why_not};
  const ChosenCurve& chosen = *run.curve;
  CurveStudy out;
  for (std::size_t i = 0; i < chosen.candidates.size(); ++i) {
    CurveFit fit = chosen.candidates[i];
    const bool taken = !run.interpolated && fit.curve.model == chosen.fit.curve.model;
    if (taken)
      fit = chosen.fit;
    else
      fit.bench = chosen.fit.bench;
    out.models.push_back({fit.curve.model, taken, false, fit.sigma_log, fit.aicc, chosen.weight(i),
                          cuts_to_threshold(fit, run.table, threshold)});
  }
  CurveOptions robust;
  robust.model = chosen.fit.curve.model;
  robust.robust = true;
  if (const auto again = choose_curve(run.readings, robust))
    out.models.push_back({robust.model.value(), false, true, again->fit.sigma_log, again->fit.aicc,
                          0, cuts_to_threshold(again->fit, run.table, threshold)});
  const CurveFit& fit = chosen.fit;
  const double last = run.table.last_cuts();
  out.fresh = reading_at(fit, 0);
  out.at_cuts = at_cuts > 0 && at_cuts <= last ? at_cuts : last;
  out.at = reading_at(fit, out.at_cuts);
  out.early_loss_percent = 100 * (fit.curve.at(0.1 * last) / fit.curve.at(0) - 1);
  out.relative_end_percent = 100 * reference / fit.curve.at(last);
  // Simpson's rule on cuts as squares, where the early bend is; relative error far below the
  // curve's own.
  constexpr int kSteps = 400;
  double area = 0;
  for (int i = 0; i <= kSteps; ++i) {
    const double share = double(i) / kSteps, weight = i == 0 || i == kSteps ? 1 : i % 2 ? 4 : 2;
    area += weight * reference / fit.curve.at(out.at_cuts * share * share) * 2 * share;
  }
  out.mean_relative_percent = 100 * area / (3 * kSteps);
  check_residuals(run, out);
  return out;
}

}  // namespace bq::inline bluntness
