#pragma once

#include <utility>

namespace bq::stats {

/// Quantile of Student's t (Boost.Math; absolute accuracy about 1e-14). 0 < probability < 1,
/// degrees_of_freedom > 0.
double t_quantile(double probability, double degrees_of_freedom);

/// Quantile of Fisher's F.
double f_quantile(double probability, double numerator_dof, double denominator_dof);

/// Upper p value of an F statistic: f ≥ 0, both degrees of freedom above 0.
double f_upper_p(double f, double numerator_dof, double denominator_dof);

/// Two-sided p value of a t statistic.
double t_two_sided_p(double t, double degrees_of_freedom);

/// Exact interval of a Poisson mean from one count (Garwood 1936), e.g. level 0.95; the lower end
/// of a count of 0 is 0.
std::pair<double, double> poisson_mean_interval(int count, double level);
double normal_density(double z);
double normal_cdf(double z);
double normal_quantile(double probability);

/// ln of the upper tail 1 − Φ(z) without underflow, and the hazard φ(z)/(1 − Φ(z)).
double normal_log_survival(double z);
double normal_hazard(double z);

/// Small-sample Akaike criterion: −2·lnL + 2q + 2q(q+1)/(n−q−1), q parameters, n observations.
/// +infinity where n − q − 1 <= 0 (the criterion is not defined there).
double aicc(double log_likelihood, int parameters, int observations);

}  // namespace bq::stats
