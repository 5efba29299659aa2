#pragma once

#include "edge/weakest_place.h"
#include "stats/random.h"
#include "trial/bench_event.h"

namespace bq::inline rehearsal {

/// Sideways loads of a kind of work: every cut draws one, log-normally (DOMAIN §12).
struct VirtualSideLoad {
  double median_N_per_mm = 1;
  double sd_log = 0.6;
  double depth_mm = 0.08;
};

/// Chance that one cut damages a plain wedge: that its load brings the stress of DOMAIN §1 over the
/// steel's limit.
double damage_chance(const VirtualSideLoad& load, double angle_deg, double limit_MPa);

/// What a look after `cuts` cuts finds. Brittle steels break out, others bend or show a bright
/// spot.
LookEvent look_after(const VirtualSideLoad& load, double angle_deg, double limit_MPa, bool brittle,
                     std::int64_t cuts, stats::Random& random);

}  // namespace bq::inline rehearsal
