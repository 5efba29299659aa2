#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bluntness/damage_search.h"
#include "bluntness/rough_use.h"
#include "bluntness/search_load.h"
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
/// The searches of a steel with a block cut, ready to be asked about many sections: the load that
/// each has met is reckoned once, when it is first needed.
class RoughSearches {
 public:
  RoughSearches(const Trial& trial, const std::string& steel,
                const std::vector<BenchSession>& sessions, const std::string& section_questions);
  [[nodiscard]] bool empty() const { return searches_.empty(); }
  /// One for each search, in their order.
  std::vector<RoughStanding> of(const Section& section);

 private:
  struct Known {
    DamageSearch search;
    std::string use;
    std::vector<RoughUse> rounds;
    bool load_known = false;
    std::optional<SearchLoad> load;
  };
  std::string by_the_load(const ApexProfile& section, Known& known) const;
  std::vector<Known> searches_;
  std::optional<StressFacts> stress_;
};

}  // namespace bq::inline workflow
