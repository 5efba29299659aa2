#pragma once

#include <string>
#include <vector>

#include "trial/trial.h"

namespace bq::inline workflow {

/// What the record says of which edge was which (DOMAIN §13).
struct MakingCheck {
  /// A sharpening for a run that is not there, or of another blade.
  std::vector<std::string> problems;
  /// Runs of which the edge is not known; a run whose angles are not those of its sharpening.
  std::vector<std::string> notes;
};
MakingCheck check_makings(const Trial& trial);

}  // namespace bq::inline workflow
