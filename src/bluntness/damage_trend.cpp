#include "bluntness/damage_trend.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "quantity/angle.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/distributions.h"

namespace bq::inline bluntness {
namespace {

constexpr double kSameAngle_deg = 0.05;

double log_tangent(double angle_deg) { return std::log(std::tan(radians(angle_deg))); }

struct Sums {
  double log_likelihood = 0, score_a = 0, score_b = 0, aa = 0, ab = 0, bb = 0;
};

Sums look(const std::vector<AngledBlock>& blocks, double a, double b, double centre) {
  Sums out;
  for (const auto& one : blocks) {
    const double x = log_tangent(one.angle_deg) - centre;
    const double mu = std::min(1e6, std::exp(a + b * x + std::log(double(one.block.cuts))));
    const double damaged = -std::expm1(-mu), ratio = damaged > 0 ? mu * std::exp(-mu) / damaged : 1;
    out.log_likelihood += one.block.damaged ? std::log(std::max(damaged, 1e-300)) : -mu;
    const double score = one.block.damaged ? ratio : -mu, weight = mu * ratio;
    out.score_a += score;
    out.score_b += score * x;
    out.aa += weight;
    out.ab += weight * x;
    out.bb += weight * x * x;
  }
  return out;
}

}  // namespace

double DamageTrend::rate(double angle_deg) const {
  return std::exp(intercept + slope * log_tangent(angle_deg));
}

double DamageTrend::rate_high(double angle_deg) const {
  const double x = log_tangent(angle_deg);
  const double variance = covariance[0] + 2 * x * covariance[1] + x * x * covariance[2];
  return rate(angle_deg) *
         std::exp(stats::normal_quantile(0.975) * std::sqrt(std::max(0.0, variance)));
}

double DamageTrend::slope_standard_error() const { return std::sqrt(covariance[2]); }

Checked<DamageTrend> damage_trend(const std::vector<AngledBlock>& blocks,
                                  AngleConvention angles_in) {
  DamageTrend out;
  double low_clean = 1e9, high_clean = 0, low_damaged = 1e9, high_damaged = 0, total = 0,
         centre = 0;
  std::set<double> angles;
  for (const auto& one : blocks) {
    if (one.block.cuts < 1 || !(one.angle_deg > 0 && one.angle_deg < 90))
      return Refusal{said("a block needs cuts and an angle")};
    (one.block.damaged ? low_damaged : low_clean) =
        std::min(one.block.damaged ? low_damaged : low_clean, one.angle_deg);
    (one.block.damaged ? high_damaged : high_clean) =
        std::max(one.block.damaged ? high_damaged : high_clean, one.angle_deg);
    angles.insert(one.angle_deg);
    out.damaged += one.block.damaged;
    total += double(one.block.cuts);
    centre += log_tangent(one.angle_deg) / double(blocks.size());
  }
  out.blocks = int(blocks.size());
  if (angles.size() < 2) return Refusal{said("blocks at two angles or more are needed")};
  if (out.damaged == 0)
    return Refusal{said("no block was damaged: there is nothing to relate to the angle")};
  if (out.damaged == out.blocks)
    return Refusal{said("every block was damaged: cut shorter blocks, or go steeper")};
  out.least_deg = *angles.begin();
  out.largest_deg = *angles.rbegin();
  const auto deg = [&](double angle) { return print_angle(angle, angles_in); };
  if (high_damaged <= low_clean)
    return Refusal{
        said("every block up to {high_damaged} was damaged and none from {low_clean} on: the "
             "change lies there, how steep it is cannot be told",
             {{"high_damaged", deg(high_damaged)}, {"low_clean", deg(low_clean)}})};
  if (low_damaged >= high_clean)
    return Refusal{
        said("only the steeper edges were damaged (from {low_damaged} on): look for another cause "
             "than the angle",
             {{"low_damaged", deg(low_damaged)}})};

  double a = std::log(-std::log1p(-double(out.damaged) / double(out.blocks)) * double(out.blocks) /
                      total),
         b = 0;
  Sums now = look(blocks, a, b, centre);
  for (int round = 0; round < 100; ++round) {
    const double determinant = now.aa * now.bb - now.ab * now.ab;
    if (!(determinant > 0)) break;
    const double step_a = (now.bb * now.score_a - now.ab * now.score_b) / determinant,
                 step_b = (now.aa * now.score_b - now.ab * now.score_a) / determinant;
    double scale = 1;
    Sums next = look(blocks, a + step_a, b + step_b, centre);
    while (next.log_likelihood < now.log_likelihood && scale > 1e-8) {
      scale /= 2;
      next = look(blocks, a + scale * step_a, b + scale * step_b, centre);
    }
    a += scale * step_a;
    b += scale * step_b;
    now = next;
    if (std::fabs(scale * step_a) + std::fabs(scale * step_b) < 1e-11) break;
  }
  const double determinant = now.aa * now.bb - now.ab * now.ab;
  if (!(determinant > 0) || !std::isfinite(b) || std::fabs(b) > 200)
    return Refusal{said("the blocks do not hold a slope: the likelihood has no peak")};
  // Back from the centred angle.
  const double var_a = now.bb / determinant, cov = -now.ab / determinant,
               var_b = now.aa / determinant;
  out.slope = b;
  out.intercept = a - b * centre;
  out.covariance = {var_a - 2 * centre * cov + centre * centre * var_b, cov - centre * var_b,
                    var_b};
  out.log_likelihood = now.log_likelihood;
  return out;
}

std::optional<DamageBound> damage_bound(const std::vector<AngledBlock>& blocks, double angle_deg) {
  double nearest = -1;
  for (const auto& one : blocks)
    if (one.angle_deg <= angle_deg + kSameAngle_deg) nearest = std::max(nearest, one.angle_deg);
  if (nearest < 0) return std::nullopt;
  DamageBound out;
  out.tested_deg = nearest;
  for (const auto& one : blocks)
    if (std::fabs(one.angle_deg - nearest) < kSameAngle_deg) out.blocks.push_back(one.block);
  const auto upper = damage_rate_upper(out.blocks);
  if (!upper || *upper >= 1) return std::nullopt;
  out.rate_upper = *upper;
  return out;
}

}  // namespace bq::inline bluntness
