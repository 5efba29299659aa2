#pragma once

#include "bluntness/search_load.h"
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

/// The same of a whole section: the hardest of the cuts' loads decides, and the damage is as thick
/// as the section where it still takes it over the limit, read to a tenth. A bright spot where that
/// is less than kBrightSpot_um.
LookEvent look_after(const VirtualSideLoad& load, const ApexProfile& section, double limit_MPa,
                     bool brittle, std::int64_t cuts, stats::Random& random);
inline constexpr double kBrightSpot_um = 30;

}  // namespace bq::inline rehearsal
