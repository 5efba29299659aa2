#pragma once

#include "plan/trial_plan.h"
#include "store/json_fields.h"

namespace bq::inline store {

/// The question of a plan in its file (docs/plan-format.md). Faults as parse_plan.
PlanQuestion question_of(const JsonFields& fields);
nlohmann::ordered_json question_json(const PlanQuestion& question);

}  // namespace bq::inline store
