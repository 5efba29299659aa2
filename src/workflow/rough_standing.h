#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bluntness/rough_use.h"
#include "edge/section.h"
#include "trial/trial.h"

namespace bq::inline workflow {

/// What the damage searches of a steel say of a section that was not cut itself (DOMAIN §9): it is
/// compared whole; where that tells nothing the load a search has met gives an estimate.
struct RoughStanding {
  std::string use;  ///< "mat corners with staples (rubberised coir mat 8 mm, slice)"
  RoughestUse standing = RoughestUse::not_tried;
  std::string sentence;
};
/// One for each search of the steel with a block cut, in their order.
std::vector<RoughStanding> rough_standings(const Section& section, const Trial& trial,
                                           const std::string& steel,
                                           const std::vector<BenchSession>& sessions,
                                           const std::string& section_questions);

}  // namespace bq::inline workflow
