#include "bluntness/curve_fit.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "bluntness/curve_kernel.h"
#include "quantity/said.h"
#include "stats/dense.h"
#include "stats/distributions.h"

namespace bq::inline bluntness {
namespace {

/// Everything the fit needs to know of the data's size before it starts.
struct Scale {
  double log_lowest = 0, log_highest = 0;  ///< of the checkpoint means
  double lowest = 0, highest = 0;          ///< natural units
  double at_start = 0;                     ///< first checkpoint's mean
};

Scale scale_of(const CheckpointTable& t) {
  const auto end = t.mean_log.begin() + std::ptrdiff_t(t.checkpoints);
  const auto [low, high] = std::minmax_element(t.mean_log.begin(), end);
  return {*low, *high, std::exp(*low), std::exp(*high), std::exp(t.mean_log[0])};
}

/// A straight line y = r0 + k·x through the checkpoint means, weighted for relative errors.
std::pair<double, double> straight_start(const CheckpointTable& t, bool squares) {
  double sw = 0, sx = 0, sy = 0, sxx = 0, sxy = 0;
  for (std::size_t i = 0; i < t.checkpoints; ++i) {
    const double y = std::exp((squares ? 2 : 1) * t.mean_log[i]);
    const double x = t.cuts[i] / t.reference_cuts, w = t.weight[i] / (y * y);
    sw += w;
    sx += w * x;
    sy += w * y;
    sxx += w * x * x;
    sxy += w * x * y;
  }
  const double mx = sx / sw, my = sy / sw;
  const double k = (sxy - mx * sy) / std::max(sxx - mx * sx, 1e-300);
  return {my - k * mx, k};
}

Eigen::Vector2d two_parameter_start(const CheckpointTable& t, const Scale& scale, bool squares) {
  auto [base, k] = straight_start(t, squares);
  const double unit = squares ? scale.lowest * scale.lowest : scale.lowest;
  base = std::max(base, 0.05 * unit);
  if (squares) base = std::sqrt(base);
  return {std::log(base), std::log(std::max(k, 1e-4 * unit))};
}

/// ln(y − r0) against ln n by weighted least squares, for the power model.
Eigen::Vector3d power_start(const CheckpointTable& t, const Scale& scale) {
  const double r0 = t.has_zero() ? 0.99 * scale.at_start : 0.8 * scale.lowest;
  const kernel::StartSums sums = kernel::power_start(t, r0);
  if (sums.w == 0) return {std::log(r0), std::log(0.01 * r0), std::log(0.8)};
  const double mx = sums.x / sums.w, mz = sums.z / sums.w, spread = sums.xx - mx * sums.x;
  const double b =
      spread > 1e-9 * sums.w ? std::clamp((sums.xz - mx * sums.z) / spread, 0.2, 2.5) : 0.8;
  return {std::log(r0), mz - b * mx, std::log(b)};
}

template <int P>
using Vector = Eigen::Matrix<double, P, 1>;

/// Wear parameters may fall to 1e-7 of the response and rise to 1e7 of it.
constexpr double kWearRange = 16.0;

template <int P>
struct Box {
  Vector<P> lower, upper;
};

Box<3> power_box(const Scale& s) {
  const double l = s.log_lowest, h = s.log_highest;
  static const double least = std::log(kLeastExponent), largest = std::log(kLargestExponent);
  return {{l - kWearRange, l - kWearRange, least}, {h + 1, h + kWearRange, largest}};
}
Box<2> two_parameter_box(const Scale& s, bool squares) {
  const double l = s.log_lowest, h = s.log_highest, f = squares ? 2 : 1;
  return {{l - kWearRange, f * (l - kWearRange)}, {h + 1, f * (h + kWearRange)}};
}
Box<4> two_phase_box(const CheckpointTable& t, const Scale& s) {
  const double l = s.log_lowest, h = s.log_highest;
  const double first = t.cuts[t.has_zero() ? 1 : 0] / t.reference_cuts;
  return {{l - kWearRange, l - kWearRange, std::log(first / 5), l - kWearRange},
          {h + 1, h + 3, std::log(t.last_cuts() / t.reference_cuts), h + kWearRange}};
}

/// s from a slow start of a fifth to a sudden one of six; tau from a tenth of the first cuts to
/// three times the last; A no more than twenty times the response, where it is a power curve
/// anyway.
Box<4> levelling_box(const CheckpointTable& t, const Scale& s) {
  const double l = s.log_lowest, h = s.log_highest;
  const double first = t.cuts[t.has_zero() ? 1 : 0] / t.reference_cuts;
  return {{l - kWearRange, l - kWearRange, std::log(first / 10), std::log(0.2)},
          {h + 1, h + 3, std::log(3 * t.last_cuts() / t.reference_cuts), std::log(6.0)}};
}

/// Normal equations in the logarithms of r0, A, tau, s: value and gradient of Curve (levelling)
/// from one power, one exponential and one logarithm a checkpoint.
stats::NormalEquations<4> levelling(const CheckpointTable& t, const Eigen::Vector4d& logs) {
  const double r0 = std::exp(logs[0]), A = std::exp(logs[1]), s = std::exp(logs[3]);
  stats::NormalEquations<4> out;
  for (std::size_t i = 0; i < t.checkpoints; ++i) {
    Eigen::Vector4d j(1, 0, 0, 0);
    double value = r0;
    if (t.cuts[i] > 0) {
      const double log_x = t.log_cuts[i] - logs[2], power = std::exp(s * log_x);
      const double risen = -std::expm1(-power);
      value = r0 + A * risen;
      const double turn = A * power * (1 - risen) * s / value;
      j << r0 / value, A * risen / value, -turn, turn * log_x;
    }
    const double residual = t.mean_log[i] - std::log(value);
    out.sum_of_squares += t.weight[i] * residual * residual;
    out.gradient += t.weight[i] * residual * j;
    out.information += t.weight[i] * j * j.transpose();
  }
  return out;
}

double squares_floor(const CheckpointTable& t) { return 1e-24 * double(t.readings); }

template <int P, class Evaluate>
stats::LmResult<P> minimise(const Vector<P>& start, const Box<P>& box, const CheckpointTable& table,
                            Evaluate&& evaluate) {
  stats::LmOptions options;
  options.exact = squares_floor(table);
  return stats::levenberg_marquardt<P>(
      start, box.lower, box.upper, [&](const Vector<P>& logs) { return evaluate(table, logs); },
      options);
}

stats::LmResult<3> fit_power(const CheckpointTable& t, const Scale& scale) {
  const Box<3> box = power_box(scale);
  auto best = minimise<3>(power_start(t, scale), box, t, kernel::power);
  const bool doubtful =
      !best.converged() || best.at_bound[0] || best.at_bound[1] || best.at_bound[2];
  if (!doubtful) return best;
  for (const double b : {0.3, 1.0, 2.0}) {
    const Vector<3> start{std::log(0.9 * scale.lowest),
                          std::log(std::max(scale.highest - scale.lowest, 1e-3 * scale.lowest)),
                          std::log(b)};
    const auto again = minimise<3>(start, box, t, kernel::power);
    if (again.converged() &&
        (again.at.sum_of_squares < best.at.sum_of_squares || !best.converged()))
      best = again;
  }
  return best;
}

/// Two-phase has several local minima: start from four time constants, keep the least sum of
/// squares (the parameters of near-equal fits are not comparable).
stats::LmResult<4> fit_two_phase(const CheckpointTable& t, const Scale& scale) {
  const Box<4> box = two_phase_box(t, scale);
  const double r0 = t.has_zero() ? scale.at_start : 0.9 * scale.lowest;
  std::optional<stats::LmResult<4>> best;
  for (const double place : {0.1, 0.35, 0.6, 0.85}) {
    const double log_tau = box.lower[2] + place * (box.upper[2] - box.lower[2]);
    const double tau = std::exp(log_tau);
    // A and m by weighted linear least squares for this tau, kept positive.
    double aa = 0, am = 0, mm = 0, ay = 0, my = 0;
    for (std::size_t i = 0; i < t.checkpoints; ++i) {
      const double y = std::exp(t.mean_log[i]), w = t.weight[i] / (y * y);
      const double n = t.cuts[i] / t.reference_cuts, fast = -std::expm1(-n / tau), rise = y - r0;
      aa += w * fast * fast;
      am += w * fast * n;
      mm += w * n * n;
      ay += w * fast * rise;
      my += w * n * rise;
    }
    const double det = aa * mm - am * am;
    double A = det > 1e-12 * aa * mm ? (ay * mm - my * am) / det : ay / std::max(aa, 1e-300);
    double m = det > 1e-12 * aa * mm ? (my * aa - ay * am) / det : 0;
    A = std::max(A, 1e-3 * r0);
    m = std::max(m, 1e-4 * r0);
    const auto found =
        minimise<4>({std::log(r0), std::log(A), log_tau, std::log(m)}, box, t, kernel::two_phase);
    if (!best || (found.converged() && (found.at.sum_of_squares < best->at.sum_of_squares)))
      best = found;
  }
  return *best;
}

/// Several starts, as for two-phase: where it turns, and how suddenly.
stats::LmResult<4> fit_levelling(const CheckpointTable& t, const Scale& scale) {
  const Box<4> box = levelling_box(t, scale);
  const double r0 = t.has_zero() ? scale.at_start : 0.9 * scale.lowest;
  const double rise = std::max(scale.highest - r0, 1e-3 * r0);
  std::optional<stats::LmResult<4>> best;
  for (const double place : {0.25, 0.6, 1.2})
    for (const double s : {0.8, 1.6, 3.0}) {
      const double tau = place * t.last_cuts() / t.reference_cuts;
      const double reached = -std::expm1(-std::pow(1 / place, s));
      const auto found = minimise<4>(
          {std::log(r0), std::log(rise / std::max(0.05, reached)), std::log(tau), std::log(s)}, box,
          t, levelling);
      if (!best || (found.converged() && found.at.sum_of_squares < best->at.sum_of_squares))
        best = found;
    }
  return *best;
}

/// From reference cuts and logarithms back to natural parameters.
template <int P>
CurveSolution solution_of(CurveModel model, const CheckpointTable& t,
                          const stats::LmResult<P>& found) {
  CurveSolution out;
  out.curve.model = model;
  for (int i = 0; i < P; ++i) {
    out.curve.parameters[std::size_t(i)] = std::exp(found.parameters[i]);
    out.at_bound[i] = found.at_bound[i];
  }
  auto& p = out.curve.parameters;
  switch (model) {
    case CurveModel::power:
      p[1] = std::exp(found.parameters[1] - p[2] * t.log_reference);
      break;
    case CurveModel::linear:
    case CurveModel::wear_area:
      p[1] /= t.reference_cuts;
      break;
    case CurveModel::two_phase:
      p[2] *= t.reference_cuts;
      p[3] /= t.reference_cuts;
      break;
    case CurveModel::levelling:
      p[2] *= t.reference_cuts;
      break;
  }
  out.between_sum = found.at.sum_of_squares;
  out.converged = found.converged();
  out.evaluations = found.evaluations;
  out.information.template topLeftCorner<P, P>() = found.at.information;
  return out;
}

/// Adds what inference needs.
CurveFit describe(const CheckpointTable& t, const CurveSolution& found) {
  CurveFit fit;
  fit.curve = found.curve;
  const int P = parameter_count(found.curve.model);
  fit.readings = t.readings;
  fit.checkpoints = int(t.checkpoints);
  fit.last_cuts = t.last_cuts();
  fit.reference_cuts = t.reference_cuts;
  fit.has_zero = t.has_zero();
  fit.converged = found.converged;
  fit.between_sum = found.between_sum;
  fit.sum_of_squares = fit.between_sum + t.within_sum;
  const double n = t.readings;
  fit.sigma_log = std::sqrt(fit.sum_of_squares / (n - P));
  const double variance_ml = std::max(fit.sum_of_squares / n, 1e-300);
  fit.aicc =
      stats::aicc(-0.5 * n * (std::log(2 * std::numbers::pi * variance_ml) + 1), P + 1, t.readings);

  // Inverse information over the parameters that are free.
  std::vector<int> free;
  for (int i = 0; i < P; ++i)
    if (!found.at_bound[i]) free.push_back(i);
  const Eigen::MatrixXd part = found.information(free, free);
  if (const auto inverse = stats::inverse_if_regular(part)) {
    for (std::size_t a = 0; a < free.size(); ++a)
      for (std::size_t b = 0; b < free.size(); ++b)
        fit.inverse_information(free[a], free[b]) = (*inverse)(Eigen::Index(a), Eigen::Index(b));
  }
  double trace = 0;
  for (std::size_t i = 0; i < t.checkpoints; ++i) {
    const auto gradient = fit.curve.log_gradient(t.cuts[i], t.reference_cuts);
    const Eigen::Vector4d j(gradient[0], gradient[1], gradient[2], gradient[3]);
    fit.squared_weight_information += t.weight[i] * t.weight[i] * j * j.transpose();
    trace += t.weight[i] * t.weight[i] * j.dot(fit.inverse_information * j);
  }
  const int within_dof = t.readings - int(t.checkpoints);
  const int between_dof = int(t.checkpoints) - P;
  if (within_dof > 0 && between_dof > 0) {
    fit.within_variance = t.within_sum / within_dof;
    fit.checkpoint_variance = std::max(
        0.0, (fit.between_sum - fit.within_variance * between_dof) / std::max(1e-9, n - trace));
  } else {
    fit.within_variance = fit.sum_of_squares / (n - P);
  }
  return fit;
}

std::optional<Refusal> too_little(CurveModel model, const CheckpointTable& t) {
  const int needed = checkpoints_needed(model, t.has_zero());
  if (int(t.checkpoints) < needed)
    return Refusal{
        said("not enough to fit: {checkpoints}{checkpoint}{needed} are needed{without_one_at}",
             {{"checkpoints", std::to_string(t.checkpoints)},
              {"checkpoint", t.checkpoints == 1 ? said(" checkpoint, ") : said(" checkpoints, ")},
              {"needed", std::to_string(needed)},
              {"without_one_at", t.has_zero() ? "" : said(" without one at 0 cuts")}})};
  if (t.readings <= parameter_count(model))
    return Refusal{
        said("not enough to fit: {readings} readings, more than {parameter_count} are needed",
             {{"readings", std::to_string(t.readings)},
              {"parameter_count", std::to_string(parameter_count(model))}})};
  return std::nullopt;
}

}  // namespace

int checkpoints_needed(CurveModel model, bool has_zero) {
  switch (model) {
    case CurveModel::two_phase:
    case CurveModel::levelling:
      return 6;
    case CurveModel::power:
      return has_zero ? 3 : 4;
    case CurveModel::linear:
    case CurveModel::wear_area:
      return has_zero ? 2 : 3;
  }
  return 0;
}

ScatterSums CurveFit::own_scatter() const {
  ScatterSums own;
  own.within_dof = readings - checkpoints;
  own.within_sum = sum_of_squares - between_sum;
  own.between_dof = checkpoints - parameters();
  own.between_sum = between_sum;
  const double share = readings - (squared_weight_information * inverse_information).trace();
  own.between_share.fill(share);
  return own;
}

VarianceEstimate CurveFit::variance_of(const Eigen::Vector4d& gradient) const {
  const Eigen::Vector4d along = inverse_information * gradient;
  const double plain = gradient.dot(along);
  const ScatterSums scatter = bench ? *bench : own_scatter();
  const double readings_own = scatter.within_variance();
  const double checkpoints_own = scatter.checkpoint_variance();
  const double dof = scatter.within_dof + scatter.between_dof;
  if (checkpoints_own <= 0) return {(scatter.within_sum + scatter.between_sum) / dof * plain, dof};
  const double clustered = along.dot(squared_weight_information * along);
  const double variance = readings_own * plain + checkpoints_own * clustered;
  // Satterthwaite: the variance as a sum of the two mean squares it was made from. In shares: a
  // curve that hardly knows its parameters has a variance whose square would overflow.
  const double between = clustered * scatter.between_sum / scatter.between_share_at() / variance;
  const double within = 1 - between;
  const double known =
      1 / (between * between / scatter.between_dof + within * within / scatter.within_dof);
  if (!std::isfinite(known)) return {variance, scatter.between_dof};
  return {variance, std::clamp(known, scatter.between_dof, dof)};
}

CurveSolution solve_curve(CurveModel model, const CheckpointTable& t) {
  const Scale scale = scale_of(t);
  switch (model) {
    case CurveModel::power:
      return solution_of<3>(model, t, fit_power(t, scale));
    case CurveModel::linear:
      return solution_of<2>(model, t,
                            minimise<2>(two_parameter_start(t, scale, false),
                                        two_parameter_box(scale, false), t, kernel::linear));
    case CurveModel::wear_area:
      return solution_of<2>(model, t,
                            minimise<2>(two_parameter_start(t, scale, true),
                                        two_parameter_box(scale, true), t, kernel::wear_area));
    case CurveModel::two_phase:
      return solution_of<4>(model, t, fit_two_phase(t, scale));
    case CurveModel::levelling:
      return solution_of<4>(model, t, fit_levelling(t, scale));
  }
  return {};
}

CurveSolution resolve_curve(const Curve& near, const CheckpointTable& t) {
  const Scale scale = scale_of(t);
  const auto& p = near.parameters;
  const double reference = t.reference_cuts;
  switch (near.model) {
    case CurveModel::power:
      return solution_of<3>(
          near.model, t,
          minimise<3>({std::log(p[0]), std::log(p[1]) + p[2] * std::log(reference), std::log(p[2])},
                      power_box(scale), t, kernel::power));
    case CurveModel::linear:
      return solution_of<2>(near.model, t,
                            minimise<2>({std::log(p[0]), std::log(p[1] * reference)},
                                        two_parameter_box(scale, false), t, kernel::linear));
    case CurveModel::wear_area:
      return solution_of<2>(near.model, t,
                            minimise<2>({std::log(p[0]), std::log(p[1] * reference)},
                                        two_parameter_box(scale, true), t, kernel::wear_area));
    case CurveModel::two_phase:
      return solution_of<4>(near.model, t,
                            minimise<4>({std::log(p[0]), std::log(p[1]), std::log(p[2] / reference),
                                         std::log(p[3] * reference)},
                                        two_phase_box(t, scale), t, kernel::two_phase));
    case CurveModel::levelling:
      return solution_of<4>(
          near.model, t,
          minimise<4>({std::log(p[0]), std::log(p[1]), std::log(p[2] / reference), std::log(p[3])},
                      levelling_box(t, scale), t, levelling));
  }
  return {};
}

Checked<CurveFit> fit_curve(CurveModel model, const CheckpointTable& t) {
  if (auto refusal = too_little(model, t)) return *refusal;
  return describe(t, solve_curve(model, t));
}

}  // namespace bq::inline bluntness
