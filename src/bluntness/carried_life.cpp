#include "bluntness/carried_life.h"

#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/normal_mixture.h"
#include "trial/median.h"

namespace bq::inline bluntness {
namespace {

constexpr std::size_t kLeastToCheck = 4, kLeastPoints = 3;
constexpr int kNodes = 17;
constexpr double kFarthest = 4, kWorthTelling = 0.05, kLeastShapeSd = 0.03;

/// Checkpoints of a run: cuts over a reference, mean of ln reading, variance of that mean.
struct Points {
  std::vector<double> log_x, y, variance;
  double log_reference = 0;
  [[nodiscard]] std::size_t size() const { return y.size(); }
};

/// The first `count` checkpoints.
Points points_of(const RunFit& run, std::size_t count) {
  const ScatterSums& bench = *run.curve->fit.bench;
  // Neighbours that go together know less than their number says.
  const double alike = std::min(bench.correlation, 0.8),
               between = bench.checkpoint_variance() * (1 + alike) / (1 - alike),
               within = bench.within_variance();
  Points out;
  out.log_reference = run.table.log_reference;
  for (std::size_t i = 0; i < count; ++i) {
    out.log_x.push_back(run.table.cuts[i] > 0 ? std::log(run.table.cuts[i]) - out.log_reference
                                              : -INFINITY);
    out.y.push_back(run.table.mean_log[i]);
    out.variance.push_back(std::max(between + within / run.table.weight[i], 1e-8));
  }
  return out;
}

/// ln g = ln(e^(q·a) + e^c·x^b)/q at a given b, against the points.
struct AtShape {
  double a = 0, c = 0, chi2 = 0;
  double aa = 0, ac = 0, cc = 0;  ///< information of a and c
  double by_a = 0, by_c = 0;      ///< half the gradient of −chi2
  [[nodiscard]] double determinant() const { return aa * cc - ac * ac; }
};

AtShape sums_at(const Points& points, double q, double b, double a, double c) {
  AtShape out;
  out.a = a;
  out.c = c;
  const double fresh = std::exp(q * a);
  for (std::size_t i = 0; i < points.size(); ++i) {
    const double worn = std::isinf(points.log_x[i]) ? 0 : std::exp(c + b * points.log_x[i]);
    const double whole = fresh + worn, da = fresh / whole, dc = worn / (q * whole),
                 off = points.y[i] - std::log(whole) / q, weight = 1 / points.variance[i];
    out.chi2 += weight * off * off;
    out.aa += weight * da * da;
    out.ac += weight * da * dc;
    out.cc += weight * dc * dc;
    out.by_a += weight * da * off;
    out.by_c += weight * dc * off;
  }
  return out;
}

/// Least squares by damped Gauss–Newton steps; empty where the points rise nowhere.
std::optional<AtShape> fit_at(const Points& points, double q, double b) {
  const double a = points.y.front();
  const double rise = std::exp(q * points.y.back()) - std::exp(q * a);
  const double c = std::log(std::max(rise, 0.01 * std::exp(q * a))) - b * points.log_x.back();
  double damping = 1e-3;
  AtShape now = sums_at(points, q, b, a, c);
  for (int step = 0; step < 40; ++step) {
    const double aa = now.aa * (1 + damping), cc = now.cc * (1 + damping),
                 det = aa * cc - now.ac * now.ac;
    if (!(det > 0)) return std::nullopt;
    const AtShape next =
        sums_at(points, q, b, now.a + (cc * now.by_a - now.ac * now.by_c) / det,
                now.c + std::clamp((aa * now.by_c - now.ac * now.by_a) / det, -3.0, 3.0));
    if (!(next.chi2 <= now.chi2)) {
      damping *= 10;
      if (damping > 1e6) break;
      continue;
    }
    const bool still = now.chi2 - next.chi2 < 1e-9 * (1 + now.chi2);
    now = next;
    damping = std::max(damping / 10, 1e-9);
    if (still) break;
  }
  if (!(now.determinant() > 0) || !std::isfinite(now.chi2)) return std::nullopt;
  return now;
}

/// One figure, normal at a node of what is averaged over.
stats::WeightedNormal node(double log_weight, double mean, double variance) {
  return {log_weight, 0, Eigen::VectorXd::Constant(1, mean),
          Eigen::MatrixXd::Constant(1, 1, variance)};
}

/// Its mean and SD over all nodes.
std::pair<double, double> moments_of(const std::vector<stats::WeightedNormal>& nodes) {
  const stats::WeightedNormal whole = stats::mixture_of(nodes);
  return {whole.mean[0], std::sqrt(whole.covariance(0, 0))};
}

/// How the exponent spreads over runs: ln b normal.
struct Shape {
  double q = 1, mean = 0, sd = 0;
};

std::optional<CarriedLife> carry(const Points& points, const Shape& shape, double threshold) {
  if (points.size() < kLeastPoints || std::isinf(points.log_x.back())) return std::nullopt;
  const double target = std::pow(threshold, shape.q);
  std::vector<stats::WeightedNormal> lives;
  const int nodes = shape.sd > 0 ? kNodes : 1;
  for (int i = 0; i < nodes; ++i) {
    const double z = nodes == 1 ? 0 : 3.0 * (2.0 * i / (nodes - 1) - 1),
                 b = std::exp(shape.mean + shape.sd * z);
    const auto fit = fit_at(points, shape.q, b);
    if (!fit) continue;
    const double fresh = std::exp(shape.q * fit->a);
    if (!(target > 1.02 * fresh)) continue;
    const double log_x = (std::log(target - fresh) - fit->c) / b,
                 by_a = -shape.q * fresh / ((target - fresh) * b), by_c = -1 / b;
    const double det = fit->determinant(),
                 variance =
                     (by_a * by_a * fit->cc - 2 * by_a * by_c * fit->ac + by_c * by_c * fit->aa) /
                     det;
    lives.push_back(node(-0.5 * fit->chi2 - 0.5 * std::log(det) - 0.5 * z * z,
                         log_x + points.log_reference, variance));
  }
  if (lives.empty()) return std::nullopt;
  const auto [mean, sd] = moments_of(lives);
  return CarriedLife{mean, sd};
}

/// ln b of one run by its own readings.
std::optional<std::pair<double, double>> own_shape(const Points& points) {
  if (points.size() < kLeastPoints + 1) return std::nullopt;
  std::vector<stats::WeightedNormal> shapes;
  constexpr double kLow = -1.9, kHigh = 1.1;
  for (int i = 0; i < kNodes; ++i) {
    const double at = kLow + (kHigh - kLow) * i / (kNodes - 1);
    if (const auto fit = fit_at(points, 1, std::exp(at)))
      shapes.push_back(node(-0.5 * fit->chi2 - 0.5 * std::log(fit->determinant()), at, 0));
  }
  if (shapes.empty()) return std::nullopt;
  const auto [mean, sd] = moments_of(shapes);
  return std::pair(mean, std::max(sd, 0.5 * (kHigh - kLow) / (kNodes - 1)));
}

/// The bench's ln b from those of its runs but one (DerSimonian and Laird 1986).
Shape shape_without(const std::vector<std::optional<std::pair<double, double>>>& own,
                    std::size_t without) {
  double w = 0, w2 = 0, wy = 0, wyy = 0, n = 0;
  for (std::size_t i = 0; i < own.size(); ++i) {
    if (i == without || !own[i]) continue;
    const auto [mean, sd] = *own[i];
    const double weight = 1 / (sd * sd);
    w += weight;
    w2 += weight * weight;
    wy += weight * mean;
    wyy += weight * mean * mean;
    ++n;
  }
  if (n < 2) return {};
  const double between = std::max(0.0, (wyy - wy * wy / w - (n - 1)) / (w - w2 / w));
  double sum = 0, first = 0;
  for (std::size_t i = 0; i < own.size(); ++i) {
    if (i == without || !own[i]) continue;
    const double weight = 1 / (own[i]->second * own[i]->second + between);
    sum += weight;
    first += weight * own[i]->first;
  }
  return {1, first / sum, std::sqrt(between + 1 / sum + kLeastShapeSd * kLeastShapeSd)};
}

/// Whether a run goes by the bench's scatter and has no fast part of its own (a burr). A curve that
/// levels off is a power of the cuts as far as the check says so.
bool follows(const RunFit& run) {
  return run.curve->fit.bench && !run.interpolated &&
         run.curve->fit.curve.model != CurveModel::two_phase;
}

/// q of the bench: 2 where nearly all runs are worn areas; empty where too few follow any.
std::optional<double> family_of(const std::vector<const RunFit*>& runs) {
  std::size_t following = 0, areas = 0;
  for (const auto* run : runs) {
    following += follows(*run);
    areas += follows(*run) && run->curve->fit.curve.model == CurveModel::wear_area;
  }
  if (3 * following < 2 * runs.size()) return std::nullopt;
  return 5 * areas >= 4 * following ? 2 : 1;
}

}  // namespace

CarriedLives carry_lives(const std::vector<const RunFit*>& runs,
                         const std::vector<CutsToThreshold>& lives, double threshold) {
  CarriedLives out;
  out.of.resize(runs.size());
  std::vector<std::size_t> reached, stopped;
  std::vector<double> fractions;
  for (std::size_t i = 0; i < runs.size(); ++i) {
    if (lives[i].censoring == Censoring::none) reached.push_back(i);
    if (lives[i].censoring != Censoring::right) continue;
    stopped.push_back(i);
    fractions.push_back(runs[i]->table.mean_log[runs[i]->table.checkpoints - 1]);
  }
  if (stopped.empty()) return out;
  const auto q = family_of(runs);
  if (!q) {
    out.why_not = said("their curves are of no kind that can be carried on");
    return out;
  }
  // The shape by every run that reached the limit.
  std::vector<std::optional<std::pair<double, double>>> own(runs.size());
  if (*q == 1)
    for (const std::size_t i : reached)
      if (follows(*runs[i])) own[i] = own_shape(points_of(*runs[i], runs[i]->table.checkpoints));
  const auto shape = [&](std::size_t without) {
    return *q == 1 ? shape_without(own, without) : Shape{2, 0, 0};
  };
  // Those that reached the limit, cut down to where the others were stopped.
  const double stopped_at = std::min(median_of(fractions), std::log(0.97 * threshold));
  std::vector<double> off;
  double expected = 0;
  for (const std::size_t i : reached) {
    if (!follows(*runs[i])) continue;
    std::size_t kept = 0;
    while (kept < runs[i]->table.checkpoints && runs[i]->table.mean_log[kept] <= stopped_at) ++kept;
    if (kept == runs[i]->table.checkpoints) continue;
    const auto carried = carry(points_of(*runs[i], kept), shape(i), threshold);
    if (!carried) continue;
    off.push_back(carried->log_life - std::log(*lives[i].estimate));
    expected += carried->log_sd * carried->log_sd + lives[i].log_variance;
  }
  out.checked = int(off.size());
  if (off.size() < kLeastToCheck) {
    out.why_not = said("too few runs reached the limit to check how well lives can be carried on");
    return out;
  }
  double squares = 0, centred = 0;
  for (const double d : off) out.off += d / double(off.size());
  for (const double d : off) {
    squares += d * d;
    centred += (d - out.off) * (d - out.off);
  }
  out.spread = std::sqrt(centred / double(off.size() - 1));
  if (std::fabs(out.off) >
      std::max(kWorthTelling, 2 * out.spread / std::sqrt(double(off.size())))) {
    out.why_not = said(
        "runs that reached the limit, cut down to where these were stopped and carried on, come "
        "out {off_percent} % off",
        {{"off_percent", print_number(100 * std::expm1(out.off), 2)}});
    return out;
  }
  const double wider = std::max(1.0, std::sqrt(squares / expected));
  const Shape of_all = shape(runs.size());
  for (const std::size_t i : stopped) {
    if (!follows(*runs[i])) continue;
    auto carried = carry(points_of(*runs[i], runs[i]->table.checkpoints), of_all, threshold);
    if (!carried || carried->log_life > std::log(kFarthest * runs[i]->table.last_cuts())) continue;
    carried->log_sd *= wider;
    out.of[i] = *carried;
    ++out.carried;
  }
  return out;
}

}  // namespace bq::inline bluntness
