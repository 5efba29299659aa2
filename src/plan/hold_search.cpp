#include "plan/hold_search.h"

#include <cmath>

#include "quantity/angle.h"
#include "quantity/said.h"
#include "stats/distributions.h"

namespace bq::inline plan {
namespace {

/// Steepest angle a search goes to, as the Bench's does.
constexpr double kSteepest_deg = 45;
constexpr int kPlaces = 40;

double log_strength(double angle_deg) { return 2 * std::log(std::tan(radians(angle_deg))); }

/// The search when the slimmest angle that holds is `true_deg`.
HoldChance chance_at(const HoldSearch& s, double true_deg) {
  const double held = stats::normal_quantile(1 - 1 / double(s.wanted_cuts));
  // Chance that n cuts leave the edge whole, at an angle.
  const auto clean = [&](double angle_deg, std::int64_t n) {
    const double z = held + (log_strength(angle_deg) - log_strength(true_deg)) / s.load_sd;
    return std::exp(double(n) * std::log1p(-stats::normal_cdf(-z)));
  };
  HoldChance out;
  double reached = 1;
  bool first = true;
  // The margin is a rounding's: stairs of 0.1° add up.
  for (int step = 0;; ++step) {
    const double angle = s.start_deg + step * s.step_deg;
    if (angle > kSteepest_deg + 1e-9 || reached < 1e-12) break;
    const double block = clean(angle, s.rough_cuts);
    const double confirmed = s.confirm_cuts > 0 ? clean(angle, s.confirm_cuts) : 1;
    out.blocks += reached * (1 + (s.confirm_cuts > 0 ? block : 0));
    out.cuts += reached * (double(s.rough_cuts) + block * double(s.confirm_cuts));
    const double ends = reached * block * confirmed;
    if (angle < true_deg - 1e-9)
      out.too_slim += ends;
    else if (first)
      out.slimmest += ends;
    else
      out.too_steep += ends;
    if (angle >= true_deg - 1e-9) first = false;
    reached -= ends;
  }
  out.too_steep += reached;
  return out;
}

bool within(double value, double low, double high) { return value >= low && value <= high; }

}  // namespace

Checked<HoldChance> hold_chance(const HoldSearch& s) {
  if (!within(s.start_deg, 1, kSteepest_deg) || !within(s.expected_deg, 1, kSteepest_deg))
    return Refusal{said("the angles of a search lie between 1° and 45° per side")};
  if (!within(s.step_deg, 0.1, 15)) return Refusal{said("a step of a search is 0.1° to 15°")};
  if (s.rough_cuts < 1 || s.rough_cuts > 1000000 || s.confirm_cuts < 0 || s.confirm_cuts > 1000000)
    return Refusal{said("a block has 1 to a million cuts, a confirmation at most as many")};
  if (s.wanted_cuts < 2 || s.wanted_cuts > 1000000)
    return Refusal{said("what is wanted is damage less than once in 2 to a million cuts")};
  if (!within(s.load_sd, 0.01, 5))
    return Refusal{said("the spread of the side load is 0.01 to 5 (SD of its logarithm)")};
  HoldChance out;
  for (int i = 0; i < kPlaces; ++i) {
    const double off = s.step_deg * ((i + 0.5) / kPlaces - 0.5);
    const HoldChance at = chance_at(s, std::max(0.5, s.expected_deg + off));
    out.slimmest += at.slimmest / kPlaces;
    out.too_slim += at.too_slim / kPlaces;
    out.too_steep += at.too_steep / kPlaces;
    out.blocks += at.blocks / kPlaces;
    out.cuts += at.cuts / kPlaces;
  }
  return out;
}

Checked<std::int64_t> best_confirmation(const HoldSearch& search) {
  if (const auto now = hold_chance(search); !now) return now.refusal();
  std::int64_t best = 0;
  double most = -1;
  for (double step = 10; step <= 20 * double(search.wanted_cuts); step *= 10)
    for (const int times : {1, 2, 3, 5, 7}) {
      HoldSearch other = search;
      other.confirm_cuts = std::int64_t(step) * times;
      const auto chance = hold_chance(other);
      if (!chance || chance->slimmest <= most) continue;
      most = chance->slimmest;
      best = other.confirm_cuts;
    }
  return best;
}

}  // namespace bq::inline plan
