#pragma once

#include <optional>
#include <string>
#include <vector>

#include "edge/resharpening.h"
#include "trial/trial.h"

namespace bq::inline workflow {

struct ThinningQuestion {
  ThinningWish wish;
  std::optional<SideLoad> load;
  double due_mm = 0.5;   ///< thickness behind the edge above which it is thinned again
  double worn_um = 8;    ///< apex width at which it is touched up
  int look_ahead = 200;  ///< touch-ups
};

/// One way to thin a blade: what it takes, with what, what it buys.
struct ThinningAnswer {
  ThinningOption option;
  double metal_mm3 = 0;
  std::string with;               ///< abrasive; "" none of the kind it needs is on the shelf
  std::optional<double> minutes;  ///< at the abrasive, without the honing after it
  bool minutes_estimated = false;
  std::optional<int> strokes_a_side;  ///< by hand; empty at a wheel or belt
  double parting_change = 0;          ///< share: −0.2 parts with a fifth less force
  std::optional<int> due_after;       ///< touch-ups until it is thinned again; empty: not within
  bool series_known = false;          ///< the touch-ups could be played
  std::string sentence;  ///< "flat: 41 mm³, about 5 min on Grey 400 (110 strokes a side); …"
};
/// Every way on its own: one that cannot be ground says why and no more. Along the blade's whole
/// edge, on the shelf as it is, for the blade's steel. Flat takes a stone, plate, film or belt,
/// hollow a wheel, convex a belt or a stone. Refused where no way can be ground.
Checked<std::vector<ThinningAnswer>> thinning_of(const Trial& trial, std::size_t blade,
                                                 const Section& section,
                                                 const std::vector<Grind>& grinds,
                                                 const ThinningQuestion& question);

}  // namespace bq::inline workflow
