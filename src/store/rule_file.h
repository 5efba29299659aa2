#pragma once

#include <string>
#include <string_view>

#include "edge/evidence_key.h"

namespace bq::inline store {

/// Reads one file of a rule base (docs/rule-format.md): its fields, not yet whether they fit
/// together (see faults_of). Refused with the place of the first fault; keys nobody knows are
/// faults too, since a misspelt one would silently do nothing.
Checked<EvidenceKey> parse_rule_file(std::string_view json);

}  // namespace bq::inline store
