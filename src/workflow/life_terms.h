#pragma once

#include <set>
#include <string>

#include "bluntness/life_model.h"

namespace bq::inline workflow {

/// Inside of what is said of life: whether a model has a term, and the steels of its runs.
bool has_term(const LifeSpec& spec, const std::string& term);
std::set<std::string> steels_in(const LifeModel& model);

}  // namespace bq::inline workflow
