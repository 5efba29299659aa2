#pragma once

#include <Eigen/Core>
#include <cmath>
#include <functional>
#include <limits>
#include <optional>
#include <vector>

#include "quantity/checked.h"

namespace bq::stats {

/// What is known of one response: it lies in [low, high]. Exact when both are equal,
/// right-censored when high is +∞, left-censored when low is −∞, else interval-censored.
struct Bounds {
  double low = 0;
  double high = 0;
  static Bounds exact(double y) { return {y, y}; }
  static Bounds above(double y) { return {y, std::numeric_limits<double>::infinity()}; }
  static Bounds below(double y) { return {-std::numeric_limits<double>::infinity(), y}; }
  [[nodiscard]] bool is_exact() const { return low == high; }
  /// The response, the middle of its interval, or the one end that is known.
  [[nodiscard]] double middle() const {
    return std::isinf(low) ? high : std::isinf(high) ? low : low + 0.5 * (high - low);
  }
};

/// A fitted linear model with normal errors, some responses censored (Tobin 1958).
struct CensoredFit {
  Eigen::VectorXd coefficients;
  double sigma_ml = 0;  ///< maximum-likelihood error SD
  double log_likelihood = 0;
  Eigen::MatrixXd covariance;  ///< of the coefficients, from the observed information, ML scale
  int observations = 0;
  int exact = 0;
  int iterations = 0;
  bool converged = false;
  [[nodiscard]] int parameters() const { return int(coefficients.size()); }
  [[nodiscard]] int degrees_of_freedom() const { return observations - parameters(); }
  /// Error SD with variance × n/(n − p): equals the least-squares SD when nothing is censored.
  [[nodiscard]] double sigma() const;
  /// Standard error with the same factor.
  [[nodiscard]] double standard_error(const Eigen::VectorXd& contrast) const;
};

/// Maximum likelihood in Olsen's (1978) parameters δ = β/σ, γ = 1/σ, where the log-likelihood is
/// concave, by Newton steps with the analytic gradient and Hessian; converged when the Newton
/// decrement is below 1e-18·n. With nothing censored the answer is the least-squares one.
/// Refused: fewer observations than columns + 1, dependent columns (Refusal::place), no exact or
/// two-sided observation that could tell σ, or a likelihood without a maximum.
Checked<CensoredFit> censored_regression(const Eigen::MatrixXd& X, const std::vector<Bounds>& y);

/// The largest log-likelihood under the linear constraint contrastᵀβ = value.
/// -∞ when no constrained fit exists.
double constrained_log_likelihood(const Eigen::MatrixXd& X, const std::vector<Bounds>& y,
                                  const Eigen::VectorXd& contrast, double value);

/// How far 2·(lnL_max − lnL) may rise inside an interval at `level`, in its small-sample form
/// n·ln(1 + t²/(n − p)). With nothing censored the interval is then exactly the t interval of a
/// linear contrast, and Fieller's for a ratio.
double profile_cutoff(int observations, int parameters, double level);

/// One or both ends may be absent: the data do not bound the answer on that side.
struct ProfileInterval {
  std::optional<double> low;
  std::optional<double> high;
};

/// Ends of the interval around `estimate` where deviance(x) crosses `cutoff`, searched outward in
/// growing steps until x_min and x_max, then to 1e-10 relative (Alefeld, Potra and Shi's
/// Algorithm 748). Steps start at `step` > 0. An end is absent when the deviance stays below the
/// cutoff.
ProfileInterval profile_interval(const std::function<double(double)>& deviance, double estimate,
                                 double step, double x_min, double x_max, double cutoff);

}  // namespace bq::stats
