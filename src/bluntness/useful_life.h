#pragma once

#include <optional>
#include <string>

#include "bluntness/run_fits.h"
#include "bluntness/stroke_force.h"

namespace bq::inline bluntness {

/// F(n) = s·g(n) + K·index of one run (DOMAIN §8): g its blunting curve, s and K from the strokes,
/// index that of its section.
struct ForceCurve {
  const RunFit* run = nullptr;  ///< with a curve
  double parting_index = 0;     ///< as in StrokePoint
};

/// Force at n cuts, severing and parting apart (N).
struct ForceParts {
  double severing_N = 0, parting_N = 0;
  [[nodiscard]] double total_N() const { return severing_N + parting_N; }
};
ForceParts force_at(const ForceCurve& edge, const ForceSplit& split, double cuts);

/// Cuts until the force reaches a limit (N). Right-censored: below it at the last checkpoint.
/// Left-censored: over it when fresh (no cut brings it under; `high` is 0 where even a perfectly
/// sharp edge would be over it). Interval: the cuts at which the curve reaches the reading of the
/// limit less and plus t × its error; that error holds the curve's own variance there and what the
/// errors of s and of K (which leans on s) do to it. `low` is 0 where the fresh edge may be at the
/// limit already, `high` absent beyond the last checkpoint.
struct UsefulLife {
  Censoring censoring = Censoring::none;
  std::optional<double> estimate, low, high;
  double reading_at_limit =
      0;  ///< the gauge's reading at which the force is reached; <= 0: never under it
};
UsefulLife life_to_force(const ForceCurve& edge, const ForceSplit& split, double limit_N,
                         double level = 0.95);

/// The lead of one edge over another: cuts it makes before it needs the force that the other needs
/// fresh.
struct ForceLead {
  double other_fresh_N = 0;
  UsefulLife lead;  ///< left-censored: it has none, it needs more than that from the start
};
ForceLead lead_over(const ForceCurve& edge, const ForceCurve& other, const ForceSplit& split);

}  // namespace bq::inline bluntness
