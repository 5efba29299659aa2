#include "stats/power.h"

#include <algorithm>
#include <boost/math/distributions/beta.hpp>
#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/non_central_f.hpp>
#include <boost/math/distributions/non_central_t.hpp>
#include <boost/math/quadrature/gauss_kronrod.hpp>
#include <cmath>

#include "quantity/said.h"
#include "stats/distributions.h"

namespace bq::stats {
namespace {

/// Beyond this the rejection is certain to 1e-15 and the series is slow.
constexpr double kCertain = 37;

std::optional<Refusal> wrong(int count, double sd, double ratio, double level) {
  if (count < 2)
    return Refusal{said("at least 2 are needed: one alone says nothing about the spread")};
  if (!(sd > 0) || !std::isfinite(sd)) return Refusal{said("the SD must be above 0")};
  if (!(ratio > 0) || !std::isfinite(ratio)) return Refusal{said("the ratio must be above 0")};
  if (!(level > 0 && level < 1)) return Refusal{said("the level must lie between 0 and 1")};
  return std::nullopt;
}

}  // namespace

double t_power(double noncentrality, double dof, double level) {
  const double delta = std::fabs(noncentrality);
  const double t = t_quantile(0.5 + level / 2, dof);
  if (delta == 0) return 1 - level;
  if (delta > kCertain && delta > t + 10) return 1;
  if (delta > kCertain) {
    // Only with very few degrees of freedom: the tail by the scaled normal, averaged over the SD.
    return normal_cdf((delta * (1 - 1 / (4 * dof)) - t) / std::sqrt(1 + t * t / (2 * dof)));
  }
  const boost::math::non_central_t law(dof, delta);
  return std::clamp(boost::math::cdf(boost::math::complement(law, t)) + boost::math::cdf(law, -t),
                    1 - level, 1.0);
}

double f_power(double noncentrality, double numerator, double denominator, double level) {
  if (!(noncentrality > 0)) return 1 - level;
  if (noncentrality > kCertain * kCertain) return 1;
  const double f = f_quantile(level, numerator, denominator);
  return boost::math::cdf(boost::math::complement(
      boost::math::non_central_f(numerator, denominator, noncentrality), f));
}

Checked<double> two_group_power(int runs_each, double sd, double ratio, double level) {
  if (const auto refusal = wrong(runs_each, sd, ratio, level)) return *refusal;
  return t_power(std::log(ratio) / (sd * std::sqrt(2.0 / runs_each)), 2.0 * runs_each - 2, level);
}

Checked<double> paired_power(int pairs, double sd, double ratio, double level) {
  if (const auto refusal = wrong(pairs, sd, ratio, level)) return *refusal;
  return t_power(std::log(ratio) / (sd / std::sqrt(double(pairs))), pairs - 1.0, level);
}

Checked<double> sameness_power(int pairs, double sd, double margin, double ratio, double level) {
  if (const auto refusal = wrong(pairs, sd, ratio, level)) return *refusal;
  if (!(margin > 1)) return Refusal{said("the margin must be above 1")};
  const double edge = std::log(margin), shift = std::log(ratio), n = pairs, dof = n - 1;
  const double t = t_quantile(0.5 + level / 2, dof), error = sd / std::sqrt(n);
  // Given s the interval fits when |mean| <= edge − t·s/√n; u = s²·dof/σ² is chi-squared.
  const double most = dof * std::pow(edge / (t * error), 2);
  const boost::math::chi_squared law(dof);
  const double upper = std::min(most, boost::math::quantile(boost::math::complement(law, 1e-14)));
  const auto integrand = [&](double root) {  // in √u: no pole at 0
    const double u = root * root, room = edge - t * error * std::sqrt(u / dof);
    if (room <= 0 || u <= 0) return 0.0;
    const double inside = normal_cdf((room - shift) / error) - normal_cdf((-room - shift) / error);
    return inside * boost::math::pdf(law, u) * 2 * root;
  };
  return std::clamp(boost::math::quadrature::gauss_kronrod<double, 61>::integrate(
                        integrand, 0.0, std::sqrt(upper), 12, 1e-10),
                    0.0, 1.0);
}

double noncentrality_for(double power, double dof, double level) {
  if (power <= 1 - level) return 0;
  double low = 0, high = 1;
  while (high < 1e6 && t_power(high, dof, level) < power) high *= 2;
  for (int i = 0; i < 80; ++i) {
    const double middle = 0.5 * (low + high);
    (t_power(middle, dof, level) < power ? low : high) = middle;
  }
  return high;
}

Share share_of(long hits, long of, double level) {
  Share share;
  if (of <= 0) return share;
  const double tail = (1 - level) / 2, h = double(hits), n = double(of);
  share.value = h / n;
  if (hits > 0)
    share.low = boost::math::quantile(boost::math::beta_distribution<>(h, n - h + 1), tail);
  else
    share.low = 0;
  if (hits < of)
    share.high = boost::math::quantile(boost::math::beta_distribution<>(h + 1, n - h), 1 - tail);
  return share;
}

std::optional<int> readings_needed(double cv, double precision, double level, int most) {
  if (!(precision > 0)) return std::nullopt;
  if (!(cv > 0)) return 1;
  for (int m = 2; m <= most; ++m)
    if (t_quantile(0.5 + level / 2, m - 1) * cv / std::sqrt(double(m)) <= precision) return m;
  return std::nullopt;
}

}  // namespace bq::stats
