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

LookEvent look_after(const VirtualSideLoad& load, const ApexProfile& section, double limit_MPa,
                     bool brittle, std::int64_t cuts, stats::Random& random) {
  LookEvent out;
  const double hardest = stats::normal_quantile(
      std::clamp(std::pow(random.uniform(), 1 / double(cuts)), 1e-15, 1 - 1e-15));
  const double met = load.median_N_per_mm * std::exp(load.sd_log * hardest);
  const double thick = yield_thickness_um(section, met, limit_MPa, load.depth_mm);
  if (!(thick > 0)) return out;
  const double read = std::max(kApexFloor_um, thick * std::exp(0.1 * random.normal()));
  out.found = thick < kBrightSpot_um ? DamageFound::bright_spot
              : brittle              ? DamageFound::broken_out
                                     : DamageFound::bent;
  out.widest_um = std::round(read);
  out.at_mm = std::round(20 + 80 * random.uniform());
  return out;
}

}  // namespace bq::inline rehearsal
