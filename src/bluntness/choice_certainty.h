#pragma once

#include <optional>
#include <vector>

#include "bluntness/edge_candidates.h"

/// Inside of recommend(): how sure the first place is.
namespace bq::inline bluntness::ranking {

/// Fills chance_best of the ranked edges (best first) and says whether the choice is settled. Lives
/// are drawn from the models' coefficients (normal, Student's where few degrees of freedom are
/// left; 2,000 seeded draws: chances are good to ± 2 %); force, damage and minutes stay as they
/// are. Empty with fewer than two edges or a weight of 0 on life.
std::optional<Enough> certainty(std::vector<RankedEdge>& ranked,
                                const std::vector<candidates::WorkModel>& work,
                                const RecommendWishes& wishes, AngleConvention angles);

}  // namespace bq::inline bluntness::ranking
