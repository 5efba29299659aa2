#pragma once

#include <Eigen/Core>
#include <algorithm>
#include <cmath>

namespace bq::stats {

/// What one look at a least-squares problem gives: the weighted sum of squares of the residuals
/// r = data − model, Jᵀr and JᵀJ, with J the derivatives of the model by the parameters.
template <int P>
struct NormalEquations {
  double sum_of_squares = 0;
  Eigen::Matrix<double, P, 1> gradient = Eigen::Matrix<double, P, 1>::Zero();
  Eigen::Matrix<double, P, P> information = Eigen::Matrix<double, P, P>::Zero();
};

struct LmOptions {
  int max_evaluations = 200;
  /// Stops when the step would lower the sum of squares by less than this share of it.
  double tolerance = 1e-9;
  /// A sum of squares below this counts as an exact fit.
  double exact = 1e-26;
};

enum class LmReason { converged, exact_fit, evaluation_limit, not_finite };

template <int P>
struct LmResult {
  Eigen::Matrix<double, P, 1> parameters;
  NormalEquations<P> at;
  int evaluations = 0;
  LmReason reason = LmReason::evaluation_limit;
  bool at_bound[P] = {};
  [[nodiscard]] bool converged() const {
    return reason == LmReason::converged || reason == LmReason::exact_fit;
  }
};

/// Solves the symmetric positive definite system in place by LDLᵀ, unrolled for its size; the right
/// side becomes the solution. Not finite when the system is singular.
template <int P>
inline void solve_in_place(Eigen::Matrix<double, P, P>& a, Eigen::Matrix<double, P, 1>& b) {
  double pivots[P], inverse_pivot[P], scaled[P];
  for (int j = 0; j < P; ++j) {
    double pivot = a(j, j);
    for (int k = 0; k < j; ++k) {
      scaled[k] = a(j, k) * pivots[k];  // L·D of the row
      pivot -= a(j, k) * scaled[k];
    }
    pivots[j] = pivot;
    inverse_pivot[j] = 1 / pivot;
    for (int i = j + 1; i < P; ++i) {
      double sum = a(i, j);
      for (int k = 0; k < j; ++k) sum -= a(i, k) * scaled[k];
      a(i, j) = sum * inverse_pivot[j];
    }
  }
  for (int i = 0; i < P; ++i)
    for (int k = 0; k < i; ++k) b[i] -= a(i, k) * b[k];
  for (int i = P - 1; i >= 0; --i) {
    b[i] *= inverse_pivot[i];
    for (int k = i + 1; k < P; ++k) b[i] -= a(k, i) * b[k];
  }
}

/// Least squares by Levenberg–Marquardt (Marquardt 1963, diagonal scaling) inside a box.
/// evaluate(parameters) returns the NormalEquations there. A parameter at its bound whose step
/// points outward is held there for that step. Small fixed sizes only: everything is on the stack.
template <int P, class Evaluate>
LmResult<P> levenberg_marquardt(const Eigen::Matrix<double, P, 1>& start,
                                const Eigen::Matrix<double, P, 1>& lower,
                                const Eigen::Matrix<double, P, 1>& upper, Evaluate&& evaluate,
                                const LmOptions& options = {}) {
  using Vector = Eigen::Matrix<double, P, 1>;
  LmResult<P> result;
  result.parameters = start.cwiseMax(lower).cwiseMin(upper);
  result.at = evaluate(result.parameters);
  result.evaluations = 1;
  double damping = 1e-4;
  while (true) {
    if (!std::isfinite(result.at.sum_of_squares)) {
      result.reason = LmReason::not_finite;
      return result;
    }
    if (result.at.sum_of_squares <= options.exact) {
      result.reason = LmReason::exact_fit;
      return result;
    }
    const double largest = result.at.information.diagonal().maxCoeff();
    // Solve the damped system; parameters held at a bound are taken out of it.
    Eigen::Matrix<double, P, P> system = result.at.information;
    Vector right = result.at.gradient;
    for (int i = 0; i < P; ++i) {
      const bool held = (result.parameters[i] <= lower[i] && right[i] < 0) ||
                        (result.parameters[i] >= upper[i] && right[i] > 0);
      result.at_bound[i] = held;
      if (held) {
        system.row(i).setZero();
        system.col(i).setZero();
        right[i] = 0;
        system(i, i) = 1;
      } else {
        system(i, i) += damping * std::max(system(i, i), 1e-12 * largest) + 1e-300;
      }
    }
    solve_in_place<P>(system, right);
    const Vector trial = (result.parameters + right).cwiseMax(lower).cwiseMin(upper);
    const Vector moved = trial - result.parameters;
    const double predicted =
        2 * moved.dot(result.at.gradient) - moved.dot(result.at.information * moved);
    if (!(predicted > options.tolerance * result.at.sum_of_squares)) {
      // A step cut short by a bound may promise nothing though a longer damped one would.
      if (predicted < 0 && damping < 1e8) {
        damping *= 10;
        continue;
      }
      result.reason = std::isfinite(predicted) ? LmReason::converged : LmReason::not_finite;
      return result;
    }
    if (result.evaluations >= options.max_evaluations) return result;
    const NormalEquations<P> there = evaluate(trial);
    ++result.evaluations;
    const double gained = result.at.sum_of_squares - there.sum_of_squares;
    if (gained > 0) {
      const double trust = gained / predicted;
      result.parameters = trial;
      result.at = there;
      damping = std::max(1e-12, damping * (trust > 0.75 ? 0.01 : trust > 0.25 ? 0.3 : 3));
    } else {
      damping *= 10;
      if (!(damping < 1e12)) {  // no step helps any more: rounding is all that is left
        result.reason = LmReason::converged;
        return result;
      }
    }
  }
}

}  // namespace bq::stats
