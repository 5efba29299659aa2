#include "stats/censored_regression.h"

#include <boost/math/tools/toms748_solve.hpp>
#include <cmath>
#include <limits>

#include "quantity/said.h"
#include "stats/dense.h"
#include "stats/distributions.h"
#include "stats/least_squares.h"

namespace bq::stats {
namespace {

/// ln f, its slope and its curvature along the standardised bounds of one observation.
/// The linear predictor enters through a = γ·low − x'δ and b = γ·high − x'δ.
struct Term {
  double log_density;
  double slope_a, slope_b;  // ∂/∂a, ∂/∂b
  double curve_aa, curve_ab, curve_bb;
};

Term exact_term(double a) {
  // γ's own ln γ is added by the caller.
  return {-0.5 * a * a - 0.91893853320467274178, -a, 0, -1, 0, 0};
}

Term right_censored_term(double a) {
  const double h = normal_hazard(a);
  return {normal_log_survival(a), -h, 0, -h * (h - a), 0, 0};
}

Term left_censored_term(double b) {
  const double h = normal_hazard(-b);
  return {normal_log_survival(-b), 0, h, 0, 0, -h * (h + b)};
}

Term interval_term(double a, double b) {
  // ln(Φ(b) − Φ(a)), taken in the lighter tail so that nothing cancels.
  const bool upper = a > 0;
  const double far = upper ? normal_log_survival(a) : normal_log_survival(-b);
  const double near = upper ? normal_log_survival(b) : normal_log_survival(-a);
  const double log_mass = far + std::log(-std::expm1(near - far));
  const double fa = std::exp(-0.5 * a * a - 0.91893853320467274178 - log_mass);
  const double fb = std::exp(-0.5 * b * b - 0.91893853320467274178 - log_mass);
  return {log_mass, -fa, fb, a * fa - fa * fa, fa * fb, -b * fb - fb * fb};
}

Term term_of(const Bounds& y, double gamma, double predictor) {
  const double a = gamma * y.low - predictor, b = gamma * y.high - predictor;
  if (y.is_exact()) return exact_term(a);
  if (std::isinf(y.high)) return right_censored_term(a);
  if (std::isinf(y.low)) return left_censored_term(b);
  return interval_term(a, b);
}

/// The log-likelihood with its gradient and Hessian in (δ, γ).
struct Likelihood {
  double value = 0;
  Eigen::VectorXd gradient;
  Eigen::MatrixXd hessian;
};

double log_likelihood_at(const Eigen::MatrixXd& X, const std::vector<Bounds>& y,
                         const Eigen::VectorXd& theta) {
  const int p = int(X.cols());
  const double gamma = theta[p];
  if (!(gamma > 0)) return -std::numeric_limits<double>::infinity();
  const Eigen::VectorXd predictor = X * theta.head(p);
  double sum = 0;
  for (std::size_t i = 0; i < y.size(); ++i) {
    sum += term_of(y[i], gamma, predictor[Eigen::Index(i)]).log_density;
    if (y[i].is_exact()) sum += std::log(gamma);
  }
  return sum;
}

Likelihood likelihood_at(const Eigen::MatrixXd& X, const std::vector<Bounds>& y,
                         const Eigen::VectorXd& theta) {
  const int p = int(X.cols());
  const double gamma = theta[p];
  Likelihood out{0, Eigen::VectorXd::Zero(p + 1), Eigen::MatrixXd::Zero(p + 1, p + 1)};
  const Eigen::VectorXd predictor = X * theta.head(p);
  for (std::size_t k = 0; k < y.size(); ++k) {
    const auto i = Eigen::Index(k);
    const Term t = term_of(y[k], gamma, predictor[i]);
    const double low = std::isfinite(y[k].low) ? y[k].low : 0;
    const double high = std::isfinite(y[k].high) ? y[k].high : 0;
    out.value += t.log_density;
    const Eigen::RowVectorXd x = X.row(i);
    // ∂a/∂δ = −x, ∂a/∂γ = low; likewise for b.
    out.gradient.head(p) -= (t.slope_a + t.slope_b) * x.transpose();
    out.gradient[p] += t.slope_a * low + t.slope_b * high;
    const double both = t.curve_aa + 2 * t.curve_ab + t.curve_bb;
    const double mixed = (t.curve_aa + t.curve_ab) * low + (t.curve_ab + t.curve_bb) * high;
    out.hessian.topLeftCorner(p, p) += both * x.transpose() * x;
    out.hessian.topRightCorner(p, 1) -= mixed * x.transpose();
    out.hessian(p, p) +=
        t.curve_aa * low * low + 2 * t.curve_ab * low * high + t.curve_bb * high * high;
    if (y[k].is_exact()) {
      out.value += std::log(gamma);
      out.gradient[p] += 1 / gamma;
      out.hessian(p, p) -= 1 / (gamma * gamma);
    }
  }
  out.hessian.bottomLeftCorner(1, p) = out.hessian.topRightCorner(p, 1).transpose();
  return out;
}

struct NewtonOutcome {
  Eigen::VectorXd theta;
  Likelihood at;
  int iterations = 0;
  bool converged = false;
};

NewtonOutcome maximise(const Eigen::MatrixXd& X, const std::vector<Bounds>& y,
                       Eigen::VectorXd theta) {
  NewtonOutcome out;
  out.at = likelihood_at(X, y, theta);
  for (; out.iterations < 200; ++out.iterations) {
    const Eigen::VectorXd step = solve_symmetric(-out.at.hessian, out.at.gradient);
    const double decrement = step.dot(out.at.gradient);
    if (!std::isfinite(decrement)) break;
    if (decrement < 1e-18 * double(y.size())) {
      out.converged = true;
      break;
    }
    double length = 1;
    bool moved = false;
    for (; length > 1e-12; length /= 2) {
      const Eigen::VectorXd trial = theta + length * step;
      const double value = log_likelihood_at(X, y, trial);
      if (value >= out.at.value + 1e-4 * length * decrement ||
          (decrement < 1e-9 && value >= out.at.value - 1e-12 * std::fabs(out.at.value))) {
        theta = trial;
        moved = true;
        break;
      }
    }
    if (!moved) {
      out.converged = decrement < 1e-9;
      break;
    }
    out.at = likelihood_at(X, y, theta);
  }
  out.theta = theta;
  return out;
}

/// Least squares on the nearest finite bound (or the middle), as a place to start from.
Eigen::VectorXd starting_point(const Eigen::MatrixXd& X, const std::vector<Bounds>& y) {
  Eigen::VectorXd middle(X.rows());
  for (std::size_t i = 0; i < y.size(); ++i) {
    const bool low = std::isfinite(y[i].low), high = std::isfinite(y[i].high);
    middle[Eigen::Index(i)] = low && high ? (y[i].low + y[i].high) / 2 : low ? y[i].low : y[i].high;
  }
  const Eigen::VectorXd beta = least_squares_solution(X, middle);
  const double rss = (middle - X * beta).squaredNorm();
  const double spread = std::sqrt(middle.squaredNorm() / double(X.rows()));
  const double sigma = std::max(std::sqrt(rss / double(X.rows())), 1e-8 * spread + 1e-300);
  Eigen::VectorXd theta(X.cols() + 1);
  theta << beta / sigma, 1 / sigma;
  return theta;
}

/// The direction across `basis`, whose columns span all but one dimension.
Eigen::VectorXd direction_across(const Eigen::MatrixXd& basis) {
  const Eigen::Index p = basis.rows();
  Eigen::VectorXd across = Eigen::VectorXd::Zero(p);
  for (Eigen::Index i = 0; i < p; ++i) {
    const Eigen::VectorXd axis = Eigen::VectorXd::Unit(p, i),
                          rest = axis - basis * (basis.transpose() * axis);
    if (rest.norm() > across.norm()) across = rest;
  }
  return across.normalized();
}

double nothing_beside(const Eigen::VectorXd& along) {
  return 1e-9 * std::max(1.0, along.cwiseAbs().maxCoeff());
}

/// Whether a bound ends the way in a direction, wherever one starts.
bool ends_somewhere(const Eigen::VectorXd& along, const std::vector<Bounds>& y) {
  const double nothing = nothing_beside(along);
  for (std::size_t i = 0; i < y.size(); ++i) {
    const double step = along[Eigen::Index(i)];
    if (!y[i].is_exact() && ((std::isfinite(y[i].low) && step < -nothing) ||
                             (std::isfinite(y[i].high) && step > nothing)))
      return true;
  }
  return false;
}

/// How far one can go along a direction: z from `least` to `most` keeps within every bound.
struct Reach {
  double least = -std::numeric_limits<double>::infinity();
  double most = std::numeric_limits<double>::infinity();
};
Reach reach_along(const Eigen::VectorXd& along, const Eigen::VectorXd& from,
                  const std::vector<Bounds>& y) {
  const double nothing = nothing_beside(along);
  Reach out;
  for (std::size_t i = 0; i < y.size(); ++i) {
    if (y[i].is_exact()) continue;
    const double step = along[Eigen::Index(i)], at = from[Eigen::Index(i)];
    if (std::fabs(step) <= nothing) {
      if (at < y[i].low || at > y[i].high) return {1, 0};
      continue;
    }
    const double one = (y[i].low - at) / step, other = (y[i].high - at) / step;
    out.least = std::max(out.least, std::min(one, other));
    out.most = std::min(out.most, std::max(one, other));
  }
  return out;
}

/// Whether the likelihood has no maximum: the coefficients run away, or they can pass through every
/// exact value and leave every bound alone, so that the scatter can shrink to nothing. Newton's
/// steps would stop somewhere on the way, by rounding. With two directions or more that the exact
/// values do not notice it is taken for granted.
bool has_no_maximum(const Eigen::MatrixXd& X, const std::vector<Bounds>& y, int exact) {
  if (exact == int(y.size())) return false;
  Eigen::MatrixXd rows(exact, X.cols());
  Eigen::VectorXd values(exact);
  Eigen::Index at = 0;
  for (std::size_t i = 0; i < y.size(); ++i)
    if (y[i].is_exact()) {
      rows.row(at) = X.row(Eigen::Index(i));
      values[at++] = y[i].low;
    }
  const Eigen::MatrixXd basis = orthonormal_basis(rows.transpose());
  const Eigen::Index unseen = X.cols() - basis.cols();
  if (unseen > 1) return true;
  const Eigen::VectorXd along =
      unseen == 1 ? Eigen::VectorXd(X * direction_across(basis)) : Eigen::VectorXd::Zero(X.rows());
  if (unseen == 1 && !(ends_somewhere(along, y) && ends_somewhere(-along, y))) return true;
  const Eigen::VectorXd fitted = X * least_squares_solution(rows, values);
  for (std::size_t i = 0; i < y.size(); ++i) {
    const double missed = std::fabs(fitted[Eigen::Index(i)] - y[i].low);
    if (y[i].is_exact() && missed > 1e-9 * std::max(1.0, std::fabs(y[i].low))) return false;
  }
  const Reach within = reach_along(along, fitted, y);
  return within.least <= within.most;
}

}  // namespace

double CensoredFit::sigma() const {
  return sigma_ml * std::sqrt(double(observations) / degrees_of_freedom());
}

double CensoredFit::standard_error(const Eigen::VectorXd& contrast) const {
  return std::sqrt(contrast.dot(covariance * contrast) * observations / degrees_of_freedom());
}

Checked<CensoredFit> censored_regression(const Eigen::MatrixXd& X, const std::vector<Bounds>& y) {
  const int p = int(X.cols()), n = int(X.rows());
  if (n <= p) return Refusal{said("there are not more runs than coefficients")};
  if (!X.allFinite()) return Refusal{said("a value in the model is not finite")};
  if (const int column = first_dependent_column(X); column >= 0)
    return Refusal{said("a column is determined by the columns before it"), std::size_t(column)};
  int exact = 0;
  for (const auto& bounds : y) exact += bounds.is_exact();
  if (exact == 0) return Refusal{said("every run is censored; no life was seen to end")};

  if (has_no_maximum(X, y, exact))
    return Refusal{said("the likelihood has no maximum: too many censored runs for these terms")};

  const NewtonOutcome newton = maximise(X, y, starting_point(X, y));
  const double gamma = newton.theta[p];
  if (!newton.converged || !(gamma > 0) || !std::isfinite(gamma))
    return Refusal{said("the likelihood has no maximum: too many censored runs for these terms")};

  CensoredFit fit;
  fit.coefficients = newton.theta.head(p) / gamma;
  fit.sigma_ml = 1 / gamma;
  fit.log_likelihood = newton.at.value;
  fit.observations = n;
  fit.exact = exact;
  fit.iterations = newton.iterations;
  fit.converged = true;
  // β = δ/γ: carry the covariance of (δ, γ) over by the chain rule.
  const Eigen::MatrixXd inverse = inverse_symmetric(-newton.at.hessian);
  Eigen::MatrixXd chain(p, p + 1);
  chain << Eigen::MatrixXd::Identity(p, p) / gamma, -fit.coefficients / gamma;
  fit.covariance = chain * inverse * chain.transpose();
  if (!fit.covariance.allFinite() || !(fit.covariance.diagonal().minCoeff() > 0) ||
      fit.covariance.diagonal().maxCoeff() > 1e12 * fit.sigma_ml)
    return Refusal{said("the likelihood has no maximum: too many censored runs for these terms")};
  return fit;
}

double constrained_log_likelihood(const Eigen::MatrixXd& X, const std::vector<Bounds>& y,
                                  const Eigen::VectorXd& contrast, double value) {
  // β = β₀ + Zγ with Z a basis of the plane contrastᵀγ = 0 (Householder).
  const double size = contrast.norm();
  if (!(size > 0)) return -std::numeric_limits<double>::infinity();
  const Eigen::VectorXd base = contrast * (value / (size * size));
  const Eigen::MatrixXd Z = plane_square_to(contrast);
  const Eigen::VectorXd shift = X * base;
  std::vector<Bounds> shifted = y;
  for (std::size_t i = 0; i < y.size(); ++i) {
    shifted[i].low -= shift[Eigen::Index(i)];
    shifted[i].high = y[i].is_exact() ? shifted[i].low : shifted[i].high - shift[Eigen::Index(i)];
  }
  const Eigen::MatrixXd reduced = X * Z;
  const NewtonOutcome newton = maximise(reduced, shifted, starting_point(reduced, shifted));
  return newton.converged ? newton.at.value : -std::numeric_limits<double>::infinity();
}

double profile_cutoff(int observations, int parameters, double level) {
  const double dof = observations - parameters;
  const double t = t_quantile(0.5 + level / 2, dof);
  return observations * std::log1p(t * t / dof);
}

ProfileInterval profile_interval(const std::function<double(double)>& deviance, double estimate,
                                 double step, double x_min, double x_max, double cutoff) {
  // Where the likelihood has no value the model is out of its depth: far outside. What is no number
  // decides nothing and counts as inside.
  const auto beyond = [&](double x) {
    const double over = deviance(x) - cutoff;
    return std::isnan(over) ? -1.0 : std::clamp(over, -1e9, 1e9);
  };
  const auto near = [](double a, double b) {
    return std::fabs(b - a) <= 1e-10 * std::max(1.0, std::fabs(a));
  };
  const auto search = [&](double direction, double limit) -> std::optional<double> {
    double inside = estimate, over_inside = -cutoff, reach = step;
    while (true) {
      double outside = inside + direction * reach;
      const bool last = direction > 0 ? outside >= limit : outside <= limit;
      if (last) outside = limit;
      const double over = beyond(outside);
      if (over > 0) {
        std::uintmax_t most = 200;
        const auto ends = direction > 0
                              ? boost::math::tools::toms748_solve(beyond, inside, outside,
                                                                  over_inside, over, near, most)
                              : boost::math::tools::toms748_solve(beyond, outside, inside, over,
                                                                  over_inside, near, most);
        return 0.5 * (ends.first + ends.second);
      }
      if (last) return std::nullopt;
      inside = outside;
      over_inside = over;
      reach *= 1.3;
    }
  };
  return {search(-1, x_min), search(+1, x_max)};
}

}  // namespace bq::stats
