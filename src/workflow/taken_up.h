#pragma once

#include <string>
#include <vector>

#include "edge/abrasive.h"
#include "trial/sharpening.h"

namespace bq::inline workflow {

/// An earlier sharpening as it can be done today.
struct TakenUp {
  Sharpening sharpening;          ///< nothing done; sizes and names of the stones that are there
  std::vector<std::string> said;  ///< sentences: worn, replaced, gone, to be flattened first
  bool complete = true;           ///< false: a step's stone is gone and nothing is near it
};
/// On the shelf as it is. A stone whose particle size is known to be another than then (by more
/// than a tenth) is taken as it is now; one that is gone or retired is replaced by the nearest of
/// the shelf in ratio of size, within 1.6, a strop by a strop; else the step keeps its name.
TakenUp take_up(const Sharpening& earlier, const std::vector<Abrasive>& shelf);

}  // namespace bq::inline workflow
