#pragma once

#include <array>
#include <vector>

#include "bluntness/damage_search.h"
#include "quantity/angle.h"
#include "quantity/checked.h"

namespace bq::inline bluntness {

/// A block of cuts with one edge angle (degrees per side, of the bevel at the apex).
struct AngledBlock {
  double angle_deg = 0;
  DamageBlock block;
};

/// Damaging events per cut against the angle: ln rate = intercept + slope·ln tan θ, from blocks
/// that say "at least one" or "none" (complementary log-log regression with ln cuts as offset;
/// maximum likelihood by Fisher scoring).
struct DamageTrend {
  double intercept = 0, slope = 0;
  std::array<double, 3>
      covariance{};  ///< var intercept, covariance, var slope (inverse expected information)
  double log_likelihood = 0;
  int blocks = 0, damaged = 0;
  double least_deg = 0, largest_deg = 0;  ///< angles the blocks had
  [[nodiscard]] double rate(double angle_deg) const;
  /// Upper end of the two-sided 95 % interval of the rate (normal on ln rate; large-sample).
  [[nodiscard]] double rate_high(double angle_deg) const;
  [[nodiscard]] double slope_standard_error() const;
};

/// Refused in words, angles said in `angles`: blocks at one angle only, all or none damaged, angles
/// that part the damaged from the clean blocks without overlap (then the slope has no finite
/// estimate; the bounds by angle are what the data say).
Checked<DamageTrend> damage_trend(const std::vector<AngledBlock>& blocks,
                                  AngleConvention angles = AngleConvention::per_side);

/// The bound on damaging events per cut that blocks give for an edge of this angle: that of the
/// steepest tested angle which is not steeper than it. It holds as long as a steeper edge is not
/// damaged more often than a slimmer one; no other angle's blocks are mixed in, so the bound stays
/// exact. Empty where nothing at or below the angle was tried, or nothing bounds it.
struct DamageBound {
  double rate_upper = 0;  ///< one-sided 95 %, events per cut
  double tested_deg = 0;  ///< the angle whose blocks it comes from
  std::vector<DamageBlock> blocks;
};
std::optional<DamageBound> damage_bound(const std::vector<AngledBlock>& blocks, double angle_deg);

}  // namespace bq::inline bluntness
