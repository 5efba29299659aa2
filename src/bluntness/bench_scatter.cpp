#include "bluntness/bench_scatter.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <map>
#include <numeric>

#include "bluntness/curve_lead.h"
#include "stats/distributions.h"
#include "stats/parallel.h"

namespace bq::inline bluntness {
namespace {

constexpr std::size_t kLeastRuns = 3;
constexpr double kLeastFreedom = 8;
constexpr double kNoFit = 0.01;
constexpr double kPattern = 0.001;
/// Of ln reading: a miss of less than 4 % moves a life by less than runs differ by anyway.
constexpr double kMatters = 0.04;
constexpr double kOtherScatter = 0.001;
/// What rounding makes of two equal degrees of freedom, or of two equal levels of dullness: what is
/// decided by less would hang on the unit and on the order of the runs.
constexpr double kRounding = 1e-6;

/// The candidate that can follow most shapes.
std::size_t most_flexible(const ChosenCurve& curve) {
  std::optional<std::size_t> found;
  for (std::size_t i = 0; i < curve.candidates.size(); ++i) {
    const CurveFit& fit = curve.candidates[i];
    if ((fit.curve.model == CurveModel::levelling || fit.curve.model == CurveModel::two_phase) &&
        (!found || fit.between_sum < curve.candidates[*found].between_sum))
      found = i;
  }
  return found.value_or(curve.alone);
}

/// The correlation at which the products of neighbours are what they were seen to be, where that is
/// clear (two standard errors).
double correlation_of(const ScatterSums& sums) {
  // Without clear scatter between checkpoints there is nothing that could be alike.
  if (!(sums.within_dof > 0) ||
      !(sums.between_sum / sums.between_dof >
        sums.within_variance() * stats::f_quantile(0.95, sums.between_dof, sums.within_dof)))
    return 0;
  const double within = sums.within_variance();
  const auto excess = [&](std::size_t i) {
    const double own =
        std::max(0.0, sums.between_sum - within * sums.between_dof) / sums.between_share[i];
    return sums.lag_sum - within * sums.lag_within - own * sums.lag_share[i];
  };
  if (excess(0) <= 0) return 0;
  double found = kNeighbourGrid.back();
  for (std::size_t i = 1; i < kNeighbourGrid.size(); ++i) {
    const double now = excess(i);
    if (now > 0) continue;
    const double before = excess(i - 1);
    found = kNeighbourGrid[i - 1] +
            (kNeighbourGrid[i] - kNeighbourGrid[i - 1]) * before / (before - now);
    break;
  }
  return found * found * sums.between_dof > 4 ? found : 0;
}

/// How far a candidate leads another in AIC, the scatter being known from the bench.
double lead(const CurveFit& fit, const CurveFit& over, double mean_square) {
  return (over.between_sum - fit.between_sum) / mean_square -
         2 * (fit.parameters() - over.parameters());
}

std::optional<std::size_t> candidate(const ChosenCurve& curve, CurveModel model) {
  for (std::size_t i = 0; i < curve.candidates.size(); ++i)
    if (curve.candidates[i].curve.model == model) return i;
  return std::nullopt;
}

/// The candidate of the bench's model, the power curve where a run is too short for it, or what
/// there is.
std::size_t first_choice(const ChosenCurve& curve, CurveModel base) {
  const auto found = candidate(curve, base);
  return found ? *found : candidate(curve, CurveModel::power).value_or(curve.alone);
}

/// The model of a bench: the power curve, unless another leads in six runs of ten and, no run
/// counting for more than one that decides by itself, in all together.
CurveModel model_of(const std::vector<RunFit>& fits, const std::vector<std::size_t>& members,
                    double mean_square) {
  CurveModel best = CurveModel::power;
  double largest = kAiccLead;
  for (const CurveModel model :
       {CurveModel::linear, CurveModel::wear_area, CurveModel::two_phase, CurveModel::levelling}) {
    int runs = 0, leads = 0;
    double sum = 0;
    for (const std::size_t member : members) {
      const RunFit& run = fits[member];
      const auto power = candidate(*run.curve, CurveModel::power);
      const auto rival = candidate(*run.curve, model);
      if (!power || !rival) continue;
      // A simpler curve must fit better by itself: that single runs cannot tell it from the power
      // curve says nothing for it.
      const CurveFit &other = run.curve->candidates[*rival], &first = run.curve->candidates[*power];
      const double bonus = 2.0 * std::max(0, first.parameters() - other.parameters());
      const double ahead = lead(other, first, mean_square) - bonus;
      ++runs;
      leads += ahead > 0;
      sum += std::clamp(ahead, -kAiccLead, kAiccLead);
    }
    if (runs >= int(kLeastRuns) && 10 * leads >= 6 * runs && sum > largest) {
      largest = sum;
      best = model;
    }
  }
  return best;
}

/// Mean square of a checkpoint's deviation (in √w) that no shape explains: the median of the rough
/// squares of all runs, over that of χ² with one degree of freedom. With its degrees of freedom.
struct RoughSquare {
  double value = 0, degrees_of_freedom = 0;
};
RoughSquare rough_square(std::vector<double> squares) {
  if (squares.empty()) return {};
  constexpr double kMedianOfOne = 0.4549364, kEfficiency = 0.37;
  const auto middle = squares.begin() + std::ptrdiff_t(squares.size() / 2);
  std::nth_element(squares.begin(), middle, squares.end());
  return {*middle / kMedianOfOne, kEfficiency * double(squares.size())};
}

/// One checkpoint of one run on the scale on which runs of one shape agree.
struct Placed {
  std::size_t run = 0;
  double level = 0;         ///< ln of the fitted reading over the fresh one
  double standardised = 0;  ///< CurveResiduals
  double deviation = 0;     ///< of ln reading
  double root_weight = 1;
};

/// Whether the deviations are alike at all levels of dullness: runs of one bench that miss their
/// curves at the same places miss them for one reason. Each run counts once a place, so neighbours
/// that are alike do not pass for a shape.
struct Pattern {
  double p = 1;
  double largest = 0;  ///< mean deviation of ln reading at a place
  /// Sure, and large enough to matter: with many runs the smallest shape is sure.
  [[nodiscard]] bool matters() const { return p < kPattern && largest > kMatters; }
};
constexpr std::size_t kPlaces = 6;

void settle_alone(RunFit& run) {
  ChosenCurve& curve = *run.curve;
  curve.fit = curve.candidates.at(curve.alone);
  curve.early_collapse = shows_early_collapse(curve.fit);
  run.lack_of_fit_p.reset();
  run.interpolated = false;
}

void settle(RunFit& run, const BenchCurves& bench) {
  ChosenCurve& curve = *run.curve;
  const ScatterSums& scatter = *bench.scatter;
  const double own_dof = double(run.table.readings) - double(run.table.checkpoints);
  const double wider = own_dof > 0 && scatter.within_variance() > 0
                           ? run.table.within_sum / own_dof / scatter.within_variance()
                           : 0;
  // No wider is never much wider, and the distribution takes its time.
  const bool noisy =
      wider > 1 && stats::f_upper_p(wider, own_dof, scatter.within_dof) < kOtherScatter;
  if (noisy) return;
  const CurveFit& first = curve.candidates[first_choice(curve, bench.model)];
  const CurveFit* taken = &leading(curve.candidates, first, [&](const CurveFit& rival) {
    return lead(rival, first, bench.mean_square);
  });
  run.lack_of_fit_p = lack_of_fit_p(*taken, scatter);
  if (run.lack_of_fit_p && *run.lack_of_fit_p < kNoFit) {
    const auto nearest = std::min_element(
        curve.candidates.begin(), curve.candidates.end(),
        [](const CurveFit& a, const CurveFit& b) { return a.between_sum < b.between_sum; });
    const auto p = lack_of_fit_p(*nearest, scatter);
    if (p && *p >= kNoFit) {
      taken = &*nearest;
      run.lack_of_fit_p = p;
    }
  }
  const bool none_fits = bench.no_model_fits || (run.lack_of_fit_p && *run.lack_of_fit_p < kNoFit);
  run.interpolated = none_fits && curve.candidates.size() > 1 && run.table.checkpoints >= 4;
  curve.fit = *taken;
  curve.early_collapse = shows_early_collapse(curve.fit);
  curve.fit.bench = scatter;
  if (scatter.correlation > 0)
    curve.fit.squared_weight_information =
        correlated_information(curve.fit, run.table, scatter.correlation);
}

/// The runs about one model.
struct About {
  ScatterSums sums;
  std::vector<Placed> placed;      ///< run after run
  std::vector<std::size_t> order;  ///< of placed, by level
};
About about(const std::vector<RunFit>& fits, const std::vector<std::size_t>& members,
            CurveModel model) {
  About out;
  for (std::size_t number = 0; number < members.size(); ++number) {
    const RunFit& run = fits[members[number]];
    const std::size_t chosen = first_choice(*run.curve, model);
    const CurveFit& fit = run.curve->candidates[chosen];
    const CurveResiduals& residuals = run.curve->residuals[chosen];
    out.sums += residuals.sums;
    const double fresh = std::log(fit.curve.at(0));
    for (std::size_t i = 0; i < run.table.checkpoints; ++i) {
      const double fitted = std::log(fit.curve.at(run.table.cuts[i]));
      out.placed.push_back({number, fitted - fresh, residuals.standardised[i],
                            run.table.mean_log[i] - fitted, std::sqrt(run.table.weight[i])});
    }
  }
  out.order.resize(out.placed.size());
  std::iota(out.order.begin(), out.order.end(), 0U);
  std::sort(out.order.begin(), out.order.end(), [&](std::size_t a, std::size_t b) {
    return out.placed[a].level < out.placed[b].level;
  });
  return out;
}

/// The checkpoints of one of so many classes of dullness, as places in About::order. Equal levels
/// (all that are fresh) are in one class, so which comes first decides nothing; a class can be
/// empty.
std::pair<std::size_t, std::size_t> class_of(const About& about, std::size_t place,
                                             std::size_t places) {
  const auto level = [&](std::size_t i) { return about.placed[about.order[i]].level; };
  const auto begin_of = [&](std::size_t number) {
    std::size_t at = number * about.order.size() / places;
    while (at > 0 && at < about.order.size() && level(at) - level(at - 1) < kRounding) ++at;
    return at;
  };
  return {begin_of(place), begin_of(place + 1)};
}

Pattern pattern_of(const About& about, std::size_t runs) {
  double sum = 0;
  int places = 0;
  Pattern out;
  std::vector<std::pair<double, int>> by_run;  // sum and count
  for (std::size_t place = 0; place < kPlaces; ++place) {
    by_run.assign(runs, {0, 0});
    double deviation = 0;
    const auto [from, to] = class_of(about, place, kPlaces);
    for (std::size_t i = from; i < to; ++i) {
      const Placed& one = about.placed[about.order[i]];
      by_run[one.run].first += one.standardised;
      ++by_run[one.run].second;
      deviation += one.deviation;
    }
    std::erase_if(by_run, [](const auto& entry) { return entry.second == 0; });
    if (by_run.size() < 5) continue;  // an empty class, too
    double mean = 0, squares = 0;
    for (const auto& entry : by_run) mean += entry.first / entry.second;
    mean /= double(by_run.size());
    for (const auto& entry : by_run) squares += std::pow(entry.first / entry.second - mean, 2);
    const double variance = squares / double(by_run.size() - 1) / double(by_run.size());
    if (!(variance > 0)) continue;
    sum += mean * mean / variance;
    ++places;
    out.largest = std::max(out.largest, std::fabs(deviation / double(to - from)));
  }
  if (places >= 3) out.p = stats::f_upper_p(sum / places, places, double(runs - 1));
  return out;
}

/// The sums with what runs have in common at each place taken out of the products of neighbours: a
/// shape that all of them miss a little would pass for neighbours that are alike.
ScatterSums without_pattern(const About& about) {
  const auto& placed = about.placed;
  // Finer places than a pattern is looked for in, as far as a dozen checkpoints stand in each.
  const std::size_t places = std::clamp<std::size_t>(placed.size() / 12, 1, 2 * kPlaces);
  std::vector<double> left(placed.size());
  for (std::size_t place = 0; place < places; ++place) {
    const auto [from, to] = class_of(about, place, places);
    double mean = 0;
    for (std::size_t i = from; i < to; ++i)
      mean += placed[about.order[i]].deviation / double(to - from);
    for (std::size_t i = from; i < to; ++i) {
      const Placed& one = placed[about.order[i]];
      left[about.order[i]] = one.root_weight * (one.deviation - mean);
    }
  }
  ScatterSums sums = about.sums;
  sums.between_sum = sums.lag_sum = 0;
  for (std::size_t i = 0; i < placed.size(); ++i) {
    sums.between_sum += left[i] * left[i];
    if (i + 1 < placed.size() && placed[i + 1].run == placed[i].run)
      sums.lag_sum += left[i] * left[i + 1];
  }
  // Each place's mean took a degree of freedom with it.
  const double kept = 1 - double(places) / double(std::max<std::size_t>(placed.size(), places + 1));
  sums.between_sum /= kept;
  sums.lag_sum /= kept;
  return sums;
}

}  // namespace

std::optional<double> lack_of_fit_p(const CurveFit& fit, const ScatterSums& bench) {
  const double dof = fit.checkpoints - fit.parameters();
  if (!(dof > 0)) return std::nullopt;
  const double expected = bench.within_variance() * dof +
                          bench.checkpoint_variance() * fit.own_scatter().between_share_at();
  if (!(expected > 0)) return std::nullopt;
  return stats::f_upper_p(fit.between_sum / expected, dof, bench.between_dof);
}

BenchCurves curves_of_bench(const std::vector<RunFit>& fits,
                            const std::vector<std::size_t>& members) {
  BenchCurves out;
  std::vector<double> rough;
  ScatterSums flexible;
  for (const std::size_t member : members) {
    const RunFit& run = fits[member];
    const CurveResiduals& residuals = run.curve->residuals[most_flexible(*run.curve)];
    flexible += residuals.sums;
    rough.insert(rough.end(), residuals.rough_squares.begin(), residuals.rough_squares.end());
  }
  if (members.size() < kLeastRuns || flexible.between_dof < kLeastFreedom - kRounding) return out;
  const RoughSquare square = rough_square(rough);
  out.mean_square = std::max({square.value, flexible.within_variance(), 1e-300});
  out.model = model_of(fits, members, out.mean_square);
  About found = about(fits, members, out.model);
  Pattern pattern = pattern_of(found, members.size());
  if (pattern.matters() && out.model != CurveModel::levelling) {
    About other = about(fits, members, CurveModel::levelling);
    if (const Pattern again = pattern_of(other, members.size()); !again.matters()) {
      out.model = CurveModel::levelling;
      found = std::move(other);
      pattern = again;
    }
  }
  out.no_model_fits = pattern.matters();
  ScatterSums sums = found.sums;
  if (out.no_model_fits && square.degrees_of_freedom > 0) {
    // What the curves miss is no scatter: what is rough about it is.
    sums = flexible;
    sums.between_sum = square.value * square.degrees_of_freedom;
    const double scale = square.degrees_of_freedom / sums.between_dof;
    sums.between_dof = square.degrees_of_freedom;
    for (double& share : sums.between_share) share *= scale;
  } else {
    sums.correlation = correlation_of(without_pattern(found));
  }
  out.scatter = sums;
  return out;
}

void add_residuals(RunFit& run) {
  if (!run.curve || !run.curve->residuals.empty()) return;
  std::vector<CurveResiduals> residuals;
  for (const auto& fit : run.curve->candidates)
    residuals.push_back(residuals_about(fit, run.table));
  run.curve->residuals = std::move(residuals);
}

void settle_on_bench(std::vector<RunFit>& fits, const std::vector<std::string>& work,
                     unsigned workers) {
  std::map<std::string, std::vector<std::size_t>> groups;
  for (std::size_t i = 0; i < fits.size(); ++i)
    if (fits[i].curve) groups[i < work.size() ? work[i] : std::string()].push_back(i);
  for (const auto& [name, members] : groups) {
    // A few runs at a time: one is done before a thread is at work.
    constexpr std::size_t kAtATime = 50;
    const auto each = [&, &of_group = members](const std::function<void(RunFit&)>& settle_one) {
      stats::for_each_piece(
          (of_group.size() + kAtATime - 1) / kAtATime, {workers}, [&](std::size_t piece) {
            const std::size_t end = std::min(of_group.size(), (piece + 1) * kAtATime);
            for (std::size_t i = piece * kAtATime; i < end; ++i) settle_one(fits[of_group[i]]);
          });
    };
    each([](RunFit& run) {
      add_residuals(run);
      settle_alone(run);
    });
    const BenchCurves bench = curves_of_bench(fits, members);
    if (bench.scatter) each([&](RunFit& run) { settle(run, bench); });
  }
}

}  // namespace bq::inline bluntness
