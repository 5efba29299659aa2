#pragma once

#include <vector>

#include "trial/bench_session.h"

namespace bq::inline workflow {

/// What a round of a damage search puts into its blade's history before it is cut: the regrinding
/// as a finished sharpening that names the search, and the section it left. Empty where the edge
/// was left as it was (a long block after a clean one), or the blade is not on the rack. The
/// section is left out where it cannot be ground on the blade's primary.
std::vector<EdgeRecordData> records_of_round(const Trial& trial, const DamageSearch& search,
                                             std::size_t round);

}  // namespace bq::inline workflow
