#pragma once

#include <string>

#include "plan/claim.h"
#include "plan/run_sheet.h"

namespace bq::inline report {

/// The run sheet as a CSV table, one run a row in running order: order, code, day, date, starts
/// (h:mm into the day), minutes, block, blade, operator, checkpoints, rests, and where the plan is
/// not blind one column a factor.
std::string sheet_csv(const TrialPlan& plan, const RunSheet& sheet);
/// The sealed key: code and one column a factor, in alphabetical order of the codes so that the
/// order tells nothing.
std::string sheet_key_csv(const TrialPlan& plan, const RunSheet& sheet);

/// A claim's sheet: order, pair, blade, place, code; and its key: code, treatment.
std::string claim_csv(const ClaimTest& test);
std::string claim_key_csv(const ClaimTest& test);

}  // namespace bq::inline report
