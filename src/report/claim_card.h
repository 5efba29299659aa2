#pragma once

#include "plan/claim.h"
#include "report/edge_card.h"

namespace bq::inline report {

/// The one-page result card of a settled claim: the sentence, the interval as a picture and in
/// figures, what was measured on which pair, what was not tested, what the other school says.
/// `date`: the day it was unsealed, ISO 8601 or "".
EdgeCard claim_card(const ClaimTest& test, const ClaimResult& result, const std::string& date);

}  // namespace bq::inline report
