#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "edge/evidence_key.h"

namespace bq::inline workflow {

/// The two keys of the Stones station, ready to be asked.
struct RuleBase {
  EvidenceKey condition;  ///< what is on the edge?
  EvidenceKey causes;     ///< why is it not sharp?
  std::vector<std::string>
      problems;  ///< whole sentences, with file and place; what they name was left out
  std::vector<std::string> added;  ///< files of the user's that were taken
};

/// Where the user's own rules lie: $XDG_DATA_HOME/brave-quarry/rules, or ~/.local/share/….
/// Empty when neither variable is set.
std::filesystem::path own_rules_folder();

/// The built-in rules, extended by every *.json of `own`, in the order of their names. A file that
/// cannot be read, or with which the key would not be sound, is left out as a whole and named. The
/// built-in rules themselves are checked too.
RuleBase load_rules(const std::filesystem::path& own);

/// What is wrong with one rule file, as it would extend the built-in rules; empty when nothing is.
std::vector<std::string> check_rule_file(const std::string& name, std::string_view json);

}  // namespace bq::inline workflow
