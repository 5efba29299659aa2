#include "stats/distributions.h"

#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/fisher_f.hpp>
#include <boost/math/distributions/normal.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>
#include <limits>
#include <numbers>

namespace bq::stats {
namespace {
constexpr double kLogRootTwoPi = 0.91893853320467274178;
}

double t_quantile(double probability, double degrees_of_freedom) {
  return boost::math::quantile(boost::math::students_t(degrees_of_freedom), probability);
}

double f_quantile(double probability, double numerator_dof, double denominator_dof) {
  return boost::math::quantile(boost::math::fisher_f(numerator_dof, denominator_dof), probability);
}

double f_upper_p(double f, double numerator_dof, double denominator_dof) {
  if (!std::isfinite(f)) return 0;
  const boost::math::fisher_f distribution(numerator_dof, denominator_dof);
  return boost::math::cdf(boost::math::complement(distribution, f));
}

double t_two_sided_p(double t, double degrees_of_freedom) {
  if (!std::isfinite(t)) return 0;
  const boost::math::students_t distribution(degrees_of_freedom);
  return 2 * boost::math::cdf(boost::math::complement(distribution, std::fabs(t)));
}

std::pair<double, double> poisson_mean_interval(int count, double level) {
  using boost::math::chi_squared;
  const double tail = 0.5 * (1 - level);
  const double low = count > 0 ? 0.5 * boost::math::quantile(chi_squared(2.0 * count), tail) : 0;
  return {low, 0.5 * boost::math::quantile(chi_squared(2.0 * count + 2), 1 - tail)};
}

double normal_density(double z) { return std::exp(-0.5 * z * z - kLogRootTwoPi); }
double normal_cdf(double z) { return 0.5 * std::erfc(-z / std::numbers::sqrt2); }
double normal_quantile(double probability) {
  return boost::math::quantile(boost::math::normal(), probability);
}

double normal_log_survival(double z) {
  if (z < 20) return std::log(0.5 * std::erfc(z / std::numbers::sqrt2));
  return -0.5 * z * z - kLogRootTwoPi - std::log(z) +
         std::log1p(-1 / (z * z) + 3 / (z * z * z * z));
}

double normal_hazard(double z) {
  return std::exp(-0.5 * z * z - kLogRootTwoPi - normal_log_survival(z));
}

double aicc(double log_likelihood, int parameters, int observations) {
  const double room = observations - parameters - 1;
  if (room <= 0) return std::numeric_limits<double>::infinity();
  return -2 * log_likelihood + 2.0 * parameters + 2.0 * parameters * (parameters + 1) / room;
}

}  // namespace bq::stats
