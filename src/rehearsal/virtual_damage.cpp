#include "rehearsal/virtual_damage.h"

#include <algorithm>
#include <cmath>

#include "stats/distributions.h"

namespace bq::inline rehearsal {

double damage_chance(const VirtualSideLoad& load, double angle_deg, double limit_MPa) {
  // The stress grows with the load: at which load is the limit reached?
  const double per_newton = wedge_stress_MPa({1, load.depth_mm}, angle_deg);
  return stats::normal_cdf((std::log(load.median_N_per_mm) - std::log(limit_MPa / per_newton)) /
                           load.sd_log);
}

LookEvent look_after(const VirtualSideLoad& load, double angle_deg, double limit_MPa, bool brittle,
                     std::int64_t cuts, stats::Random& random) {
  LookEvent out;
  const double clean = std::pow(1 - damage_chance(load, angle_deg, limit_MPa), double(cuts));
  if (random.uniform() < clean) return out;
  const double size = 25 * std::exp(0.5 * random.normal());
  out.found = brittle     ? DamageFound::broken_out
              : size < 20 ? DamageFound::bright_spot
                          : DamageFound::bent;
  out.widest_um = std::max(3.0, std::round(size));
  out.at_mm = std::round(20 + 80 * random.uniform());
  return out;
}

}  // namespace bq::inline rehearsal
