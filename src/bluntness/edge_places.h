#pragma once

#include <string>
#include <vector>

#include "quantity/checked.h"
#include "trial/trial.h"

namespace bq::inline bluntness {

/// How much faster one place along the edge dulls than the edge as a whole.
struct PlaceDulling {
  std::string place;
  double fresh_ratio = 1;  ///< fresh reading over the edge's mean (geometric, over the runs)
  /// Rise of the reading from fresh to the last checkpoint, over the edge's mean rise; its interval
  /// at 95 % for all places together.
  double ratio = 1, low = 1, high = 1;
  bool differs = false;  ///< the interval leaves out 1
  /// The same of each run, in order of PlacesDulled::runs.
  std::vector<double> by_run;
};

struct PlacesDulled {
  std::vector<PlaceDulling> places;  ///< by rise, the largest first
  std::vector<std::string> runs;     ///< that were read at all of these places, fresh and last
  double rise = 1;                   ///< of the whole edge, mean of the runs (geometric)
};

/// From the readings of runs (`of_work`: which take part, in order) at their first checkpoint, 0
/// cuts, and at their last, place by place. The run is the unit: of each the logarithm of a place's
/// rise less the mean of its places; t over the runs, Bonferroni over the places. The places are
/// the set that most runs share. Refused in words: fewer than two places, fewer than three runs
/// that were read at the same ones.
Checked<PlacesDulled> dulling_by_place(const Trial& trial, const std::vector<bool>& of_work);

}  // namespace bq::inline bluntness
