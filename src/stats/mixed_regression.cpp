#include "stats/mixed_regression.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "quantity/said.h"
#include "stats/dense.h"
#include "stats/distributions.h"
#include "stats/least_squares.h"

namespace bq::stats {
namespace {

constexpr int kNodes = 21;

/// Nodes and ln(weights) of ∫ f(x) e^(−x²) dx (Golub & Welsch 1969: eigenvalues of the Jacobi
/// matrix of the Hermite polynomials).
struct Rule {
  std::array<double, kNodes> node, log_weight;
  Rule() {
    Eigen::MatrixXd jacobi = Eigen::MatrixXd::Zero(kNodes, kNodes);
    for (int i = 1; i < kNodes; ++i) jacobi(i, i - 1) = jacobi(i - 1, i) = std::sqrt(i / 2.0);
    const SymmetricSpectrum spectrum = symmetric_spectrum(jacobi);
    for (int i = 0; i < kNodes; ++i) {
      node[std::size_t(i)] = spectrum.values[i];
      log_weight[std::size_t(i)] =
          0.5 * std::log(M_PI) + 2 * std::log(std::fabs(spectrum.first_components[i]));
    }
  }
};

/// ln density of a response whose standardised bounds are a and b, with ∂/∂a + ∂/∂b (for shifts),
/// its curvature, and a·∂/∂a + b·∂/∂b (for the scale).
struct Piece {
  double log_density = 0, shift = 0, curve = 0, scale = 0;
};

constexpr double kLogRoot2Pi = 0.91893853320467274178;

Piece piece_of(const Bounds& y, double mean, double sigma) {
  const double a = (y.low - mean) / sigma, b = (y.high - mean) / sigma;
  if (y.is_exact()) return {-0.5 * a * a - kLogRoot2Pi - std::log(sigma), -a, -1, -a * a};
  if (!std::isfinite(y.high)) {
    const double h = normal_hazard(a);
    return {normal_log_survival(a), -h, -h * (h - a), -h * a};
  }
  if (!std::isfinite(y.low)) {
    const double h = normal_hazard(-b);
    return {normal_log_survival(-b), h, -h * (h + b), h * b};
  }
  const bool upper = a > 0;
  const double far = upper ? normal_log_survival(a) : normal_log_survival(-b);
  const double near = upper ? normal_log_survival(b) : normal_log_survival(-a);
  const double log_mass = far + std::log(-std::expm1(near - far));
  const double fa = std::exp(-0.5 * a * a - kLogRoot2Pi - log_mass),
               fb = std::exp(-0.5 * b * b - kLogRoot2Pi - log_mass);
  return {log_mass, fb - fa, a * fa - b * fb - (fb - fa) * (fb - fa), b * fb - a * fa};
}

class MixedLikelihood {
 public:
  MixedLikelihood(const Eigen::MatrixXd& X, const std::vector<Bounds>& y,
                  const std::vector<int>& group, int groups)
      : X_(X), y_(y), members_(std::size_t(groups)) {
    for (std::size_t i = 0; i < y.size(); ++i) members_[std::size_t(group[i])].push_back(int(i));
  }

  /// θ = (β, ln σ, ln τ). The gradient is filled in where wanted.
  double operator()(const Eigen::VectorXd& theta, Eigen::VectorXd* gradient) const {
    static const Rule rule;
    const Eigen::Index p = X_.cols();
    const double sigma = std::exp(theta[p]), tau = std::exp(theta[p + 1]);
    const Eigen::VectorXd mean = X_ * theta.head(p);
    if (gradient) *gradient = Eigen::VectorXd::Zero(p + 2);
    double total = 0;
    for (const auto& members : members_) {
      if (std::all_of(members.begin(), members.end(),
                      [&](int i) { return y_[std::size_t(i)].is_exact(); })) {
        total += exact_group(members, mean, sigma, tau, gradient);
        continue;
      }
      const auto [centre, width] = mode(members, mean, sigma, tau);
      std::array<double, kNodes> log_value;
      double largest = -1e300;
      for (int k = 0; k < kNodes; ++k) {
        const double node = rule.node[std::size_t(k)], u = centre + std::sqrt(2.0) * width * node;
        double sum = rule.log_weight[std::size_t(k)] + node * node - 0.5 * u * u - kLogRoot2Pi +
                     std::log(std::sqrt(2.0) * width);
        for (const int i : members)
          sum += piece_of(y_[std::size_t(i)], mean[i] + tau * u, sigma).log_density;
        log_value[std::size_t(k)] = sum;
        largest = std::max(largest, sum);
      }
      double mass = 0;
      for (const double value : log_value) mass += std::exp(value - largest);
      total += largest + std::log(mass);
      if (!gradient) continue;
      for (int k = 0; k < kNodes; ++k) {
        const double weight = std::exp(log_value[std::size_t(k)] - largest) / mass;
        if (weight < 1e-16) continue;
        const double u = centre + std::sqrt(2.0) * width * rule.node[std::size_t(k)];
        for (const int i : members) {
          const Piece piece = piece_of(y_[std::size_t(i)], mean[i] + tau * u, sigma);
          const double by_mean = -piece.shift / sigma;
          gradient->head(p) += weight * by_mean * X_.row(i).transpose();
          // ln σ: bounds shrink as 1/σ; the exact density carries its own −ln σ.
          (*gradient)[p] +=
              weight * (y_[std::size_t(i)].is_exact() ? -piece.scale - 1 : -piece.scale);
          (*gradient)[p + 1] += weight * by_mean * tau * u;
        }
      }
    }
    return total;
  }

 private:
  /// A group without censoring in closed form: normal with variance σ² on and τ² off the diagonal.
  double exact_group(const std::vector<int>& members, const Eigen::VectorXd& mean, double sigma,
                     double tau, Eigen::VectorXd* gradient) const {
    const double n = double(members.size()), within = sigma * sigma, between = tau * tau,
                 sum_variance = within + n * between;
    double sum = 0, squares = 0;
    for (const int i : members) {
      const double residual = y_[std::size_t(i)].low - mean[i];
      sum += residual;
      squares += residual * residual;
    }
    const double form = squares / within - between * sum * sum / (within * sum_variance);
    if (gradient) {
      const Eigen::Index p = X_.cols();
      for (const int i : members)
        gradient->head(p) += ((y_[std::size_t(i)].low - mean[i]) / within -
                              between * sum / (within * sum_variance)) *
                             X_.row(i).transpose();
      const double by_within =
          -squares / (within * within) + between * sum * sum * (sum_variance + within) /
                                             (within * within * sum_variance * sum_variance);
      (*gradient)[p] +=
          2 * within * (-(n - 1) / (2 * within) - 1 / (2 * sum_variance) - 0.5 * by_within);
      (*gradient)[p + 1] +=
          2 * between * (-n / (2 * sum_variance) + sum * sum / (2 * sum_variance * sum_variance));
    }
    return -n * kLogRoot2Pi - (n - 1) * std::log(sigma) - 0.5 * std::log(sum_variance) - 0.5 * form;
  }

  /// Where the integrand over the standardised intercept u peaks, and 1/√(its curvature there).
  std::pair<double, double> mode(const std::vector<int>& members, const Eigen::VectorXd& mean,
                                 double sigma, double tau) const {
    double u = 0, curve = 1;
    for (int step = 0; step < 50; ++step) {
      double slope = -u;
      curve = 1;
      for (const int i : members) {
        const Piece piece = piece_of(y_[std::size_t(i)], mean[i] + tau * u, sigma);
        slope -= piece.shift * tau / sigma;
        curve -= piece.curve * tau * tau / (sigma * sigma);
      }
      const double move = slope / curve;  // concave: Newton's step is safe
      u += std::clamp(move, -3.0, 3.0);
      if (std::fabs(move) < 1e-10) break;
    }
    return {u, 1 / std::sqrt(curve)};
  }

  const Eigen::MatrixXd& X_;
  const std::vector<Bounds>& y_;
  std::vector<std::vector<int>> members_;
};

/// The largest value of `f` from `theta`: BFGS with step halving. False when it does not settle.
bool climb(const MixedLikelihood& f, Eigen::VectorXd& theta, double& value) {
  const Eigen::Index n = theta.size();
  Eigen::VectorXd gradient;
  value = f(theta, &gradient);
  Eigen::MatrixXd inverse = Eigen::MatrixXd::Identity(n, n) * 0.05;
  int poor = 0;
  for (int round = 0; round < 500; ++round) {
    if (gradient.lpNorm<Eigen::Infinity>() < 1e-6) return true;
    Eigen::VectorXd step = inverse * gradient;
    if (!(step.dot(gradient) > 0)) {
      inverse = Eigen::MatrixXd::Identity(n, n) * 0.05;
      step = inverse * gradient;
    }
    if (const double longest = step.lpNorm<Eigen::Infinity>(); longest > 2) step *= 2 / longest;
    double length = 1;
    Eigen::VectorXd next, next_gradient;
    double next_value = value;
    bool moved = false;
    for (; length > 1e-10; length /= 2) {
      next = theta + length * step;
      next[n - 1] = std::max(next[n - 1], -12.0);
      next_value = f(next, &next_gradient);
      if (std::isfinite(next_value) && next_value >= value + 1e-4 * length * step.dot(gradient)) {
        moved = true;
        break;
      }
    }
    // The gradient of a quadrature is not the quadrature of the gradient: where no step helps any
    // more, what is left of it stands for less than 1e-5 of likelihood.
    if (!moved) return gradient.lpNorm<Eigen::Infinity>() < 1e-2;
    const Eigen::VectorXd s = next - theta, g = gradient - next_gradient;
    if (const double sg = s.dot(g); sg > 1e-14) {
      const Eigen::MatrixXd left = Eigen::MatrixXd::Identity(n, n) - s * g.transpose() / sg;
      inverse = (left * inverse * left.transpose() + s * s.transpose() / sg).eval();
    }
    poor = next_value - value < 1e-12 * std::fabs(value) ? poor + 1 : 0;
    theta = next;
    value = next_value;
    gradient = next_gradient;
    if (poor > 5) return true;
  }
  return false;
}

}  // namespace

int MixedFit::degrees_of_freedom(const Eigen::VectorXd& contrast) const {
  const int columns_between = int(std::count(between.begin(), between.end(), true));
  bool is_between = false;
  for (std::size_t i = 0; i < between.size(); ++i)
    is_between = is_between || (between[i] && contrast[Eigen::Index(i)] != 0);
  const int dof = is_between ? groups - columns_between
                             : observations - groups - (int(between.size()) - columns_between);
  return std::max(1, dof);
}

double MixedFit::standard_error(const Eigen::VectorXd& contrast) const {
  const int columns_between = int(std::count(between.begin(), between.end(), true));
  const int dof = degrees_of_freedom(contrast);
  bool is_between = false;
  for (std::size_t i = 0; i < between.size(); ++i)
    is_between = is_between || (between[i] && contrast[Eigen::Index(i)] != 0);
  const double of =
      is_between ? dof + columns_between : dof + (int(between.size()) - columns_between);
  return std::sqrt(std::max(0.0, contrast.dot(covariance * contrast)) * of / dof);
}

double MixedFit::sigma() const {
  const int within = int(std::count(between.begin(), between.end(), false));
  const int dof = std::max(1, observations - groups - within);
  return sigma_ml * std::sqrt(double(dof + within) / dof);
}

double MixedFit::group_sd() const {
  const int columns = int(std::count(between.begin(), between.end(), true));
  const int dof = std::max(1, groups - columns);
  return group_sd_ml * std::sqrt(double(groups) / dof);
}

Checked<MixedFit> mixed_regression(const Eigen::MatrixXd& X, const std::vector<Bounds>& y,
                                   const std::vector<int>& group) {
  const auto plain = censored_regression(X, y);
  if (!plain) return plain.refusal();
  const int p = int(X.cols()), n = int(X.rows());
  MixedFit fit;
  fit.groups = group.empty() ? 0 : *std::max_element(group.begin(), group.end()) + 1;
  if (fit.groups >= n)
    return Refusal{said("no blade was used twice: there is no blade effect to be seen")};
  fit.between.assign(std::size_t(p), true);
  std::vector<int> first(std::size_t(fit.groups), -1);
  for (int i = 0; i < n; ++i) {
    int& at = first[std::size_t(group[std::size_t(i)])];
    if (at < 0) at = i;
    for (int c = 0; c < p; ++c)
      if (std::fabs(X(i, c) - X(at, c)) > 1e-12) fit.between[std::size_t(c)] = false;
  }
  const int columns_between = int(std::count(fit.between.begin(), fit.between.end(), true));
  if (fit.groups <= columns_between)
    return Refusal{
        said("there are not more blades than coefficients that differ only between blades")};
  if (n - fit.groups - (p - columns_between) < 1)
    return Refusal{said("too few blades were used twice to tell blades from runs")};

  const MixedLikelihood likelihood(X, y, group, fit.groups);
  Eigen::VectorXd best;
  double best_value = -1e300;
  bool settled = false;
  for (const double share : {0.5, 0.05}) {
    Eigen::VectorXd theta(p + 2);
    theta << plain->coefficients, std::log(plain->sigma_ml * std::sqrt(1 - share)),
        std::log(plain->sigma_ml * std::sqrt(share));
    double value = 0;
    const bool good = climb(likelihood, theta, value);
    if (value > best_value) {
      best_value = value;
      best = theta;
      settled = good;
    }
  }
  if (!settled) return Refusal{said("the likelihood with a blade effect has no clear maximum")};
  fit.converged = true;
  fit.observations = n;
  fit.exact = plain->exact;
  fit.coefficients = best.head(p);
  fit.sigma_ml = std::exp(best[p]);
  fit.group_sd_ml = std::exp(best[p + 1]);
  fit.log_likelihood = best_value;
  // A blade effect at the edge of its range is none; its row would make the information singular.
  const bool seen =
      fit.group_sd_ml > 1e-3 * fit.sigma_ml && best_value > plain->log_likelihood + 1e-9;
  if (!seen) {
    fit.group_sd_ml = 0;
    fit.coefficients = plain->coefficients;
    fit.sigma_ml = plain->sigma_ml;
    fit.log_likelihood = plain->log_likelihood;
    fit.covariance = plain->covariance;
    return fit;
  }
  Eigen::MatrixXd hessian(p + 2, p + 2);
  for (int c = 0; c < p + 2; ++c) {
    const double h = 1e-4 * std::max(0.1, c < p ? fit.sigma_ml : 1.0);
    Eigen::VectorXd up, down, theta = best;
    theta[c] = best[c] + h;
    likelihood(theta, &up);
    theta[c] = best[c] - h;
    likelihood(theta, &down);
    hessian.col(c) = (up - down) / (2 * h);
  }
  hessian = (0.5 * (hessian + hessian.transpose())).eval();
  const auto inverse = inverse_if_positive(-hessian);
  if (!inverse) return Refusal{said("the likelihood with a blade effect has no clear maximum")};
  fit.covariance = inverse->topLeftCorner(p, p);
  if (!fit.covariance.allFinite())
    return Refusal{said("the likelihood with a blade effect has no clear maximum")};
  return fit;
}

}  // namespace bq::stats
