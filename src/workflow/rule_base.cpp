#include "workflow/rule_base.h"

#include <algorithm>
#include <cstdlib>

#include "quantity/said.h"
#include "store/project_file.h"
#include "store/rule_file.h"
#include "workflow/source.h"

namespace bq::inline workflow {
// Written by CMake from rules/*.json.
extern const char* const kConditionRules;
extern const char* const kCauseRules;

namespace {

/// Takes one file into the base when the key stays sound; else says why not.
std::vector<std::string> take(RuleBase& base, const std::string& name, std::string_view json) {
  const auto read = parse_rule_file(json);
  if (!read) return {name + ":" + read.refusal().reason};
  EvidenceKey* key = read->id == base.condition.id ? &base.condition
                     : read->id == base.causes.id  ? &base.causes
                                                   : nullptr;
  if (!key)
    return {said("{name}: \"key\" must be {id} or {id_2}",
                 {{"name", name}, {"id", base.condition.id}, {"id_2", base.causes.id}})};
  const EvidenceKey merged = extended(*key, *read);
  auto faults = faults_of(merged);
  for (auto& fault : faults) fault = name + ": " + fault;
  if (faults.empty()) *key = merged;
  return faults;
}

EvidenceKey built_in(const char* text, const char* name, std::vector<std::string>& problems) {
  const auto read = parse_rule_file(text);
  if (!read) {
    problems.push_back(std::string(name) + ": " + read.refusal().reason);
    return {};
  }
  for (const auto& fault : faults_of(*read)) problems.push_back(std::string(name) + ": " + fault);
  return *read;
}

RuleBase built_in_rules() {
  RuleBase base;
  base.condition = built_in(kConditionRules, "edge-condition.json (built in)", base.problems);
  base.causes = built_in(kCauseRules, "causes.json (built in)", base.problems);
  return base;
}

}  // namespace

std::filesystem::path own_rules_folder() {
  if (const char* data = std::getenv("XDG_DATA_HOME"); data && *data)
    return std::filesystem::path(data) / "brave-quarry" / "rules";
  if (const char* home = std::getenv("HOME"); home && *home)
    return std::filesystem::path(home) / ".local" / "share" / "brave-quarry" / "rules";
  return {};
}

RuleBase load_rules(const std::filesystem::path& own) {
  RuleBase base = built_in_rules();
  std::error_code error;
  if (own.empty() || !std::filesystem::is_directory(own, error)) return base;
  std::vector<std::filesystem::path> files;
  for (const auto& entry : std::filesystem::directory_iterator(own, error))
    if (entry.path().extension() == ".json") files.push_back(entry.path());
  std::sort(files.begin(), files.end());
  for (const auto& file : files) {
    std::vector<std::string> faults;
    try {
      faults = take(base, file.string(), read_text_file(file.string()));
    } catch (const StoreError& refusal) {
      faults = {refusal.what()};
    }
    if (faults.empty()) base.added.push_back(file.filename().string());
    base.problems.insert(base.problems.end(), faults.begin(), faults.end());
  }
  return base;
}

std::vector<std::string> check_rule_file(const std::string& name, std::string_view json) {
  RuleBase base = built_in_rules();
  auto out = base.problems;
  const auto faults = take(base, name, json);
  out.insert(out.end(), faults.begin(), faults.end());
  return out;
}

}  // namespace bq::inline workflow
