#pragma once

#include <vector>

#include "bluntness/curve_choice.h"

/// Inside of the choice of curves, of a run alone and of a bench.
namespace bq::inline bluntness {

/// The candidate that leads `first` by most, beyond kAiccLead; `first` itself where none does.
/// `lead(rival)`: by how much. A fast start on slow wear can be told as one that levels off, too;
/// what a burr does is the plainer story and needs a larger lead to be given up.
template <class Lead>
const CurveFit& leading(const std::vector<CurveFit>& candidates, const CurveFit& first,
                        const Lead& lead) {
  const CurveFit* taken = &first;
  double largest = kAiccLead;
  for (const auto& rival : candidates) {
    const double over = shows_early_collapse(*taken) ? 4 : 0;
    if (const double ahead = lead(rival); ahead > largest + over) {
      largest = ahead;
      taken = &rival;
    }
  }
  return *taken;
}

}  // namespace bq::inline bluntness
