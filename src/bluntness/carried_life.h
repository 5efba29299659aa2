#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bluntness/cuts_to_threshold.h"
#include "bluntness/run_fits.h"

namespace bq::inline bluntness {

/// The life of a run that was stopped before the limit, carried on to it by its own readings and
/// the shape that the curves of the others have (DOMAIN §7: one model of readings and lives).
struct CarriedLife {
  double log_life = 0;
  double log_sd = 0;  ///< of ln life, given the run: what its readings leave open
};

/// Lives of the runs of one work that did not reach the limit.
struct CarriedLives {
  std::vector<std::optional<CarriedLife>> of;  ///< by run; empty: it is a bound, or reached it
  int carried = 0;
  /// Runs that reached the limit, cut down to where the others were stopped and carried on: how far
  /// off that came (mean of ln, and its spread).
  int checked = 0;
  double off = 0, spread = 0;
  std::string why_not;  ///< why no life was carried on; "" some were, or there was none to carry
};

/// ln reading = ln(r₀ᵠ + κ·nᵇ)/q, q and b those of the bench's curve: q = 2 and b = 1 on a bench of
/// worn areas, else q = 1 and ln b of each run a normal draw about the bench's (mean and SD by
/// moments from the runs that reached the limit); checkpoints scatter as on the bench. Each run's
/// ln life is integrated over b. Nothing is carried on where that cannot be checked (fewer than
/// four runs that reached the limit), where the check comes off (more than two standard errors and
/// 5 %), or by more than fourfold. The spread of the check widens what is said where it is the
/// larger. `lives` are those of `runs` (each with a curve), in order.
CarriedLives carry_lives(const std::vector<const RunFit*>& runs,
                         const std::vector<CutsToThreshold>& lives, double threshold);

}  // namespace bq::inline bluntness
