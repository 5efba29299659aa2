#pragma once

#include "edge/evidence_fields.h"
#include "quantity/said.h"
#include "store/record_json.h"

namespace bq::inline store {

/// A rule file is written by hand: a key that nobody knows is a slip.
template <>
inline constexpr bool kWrittenByHand<EvidenceKey> = true;

inline Often often_of(const nlohmann::json& value, const std::string& path) {
  const auto often = value.is_string() ? parse_often(value.get<std::string>()) : std::nullopt;
  if (!often)
    throw JsonFault{
        said("{path}: must be never, seldom, sometimes, often or always", {{"path", path}})};
  return *often;
}

/// How often each answer is given: {"yes": "often"}.
template <>
struct JsonValue<std::map<std::string, Often>> {
  static std::map<std::string, Often> read(const nlohmann::json& row, const std::string& path,
                                           double, double) {
    if (!row.is_object())
      throw JsonFault{said("{path}: must be an object: answer, then how often", {{"path", path}})};
    std::map<std::string, Often> out;
    for (const auto& [answer, cell] : row.items())
      out[answer] = often_of(cell, path + "." + answer);
    return out;
  }
};

/// How often, and why: "always", or ["always", "ink left at the shoulder"].
template <>
struct JsonValue<Expectation> {
  static Expectation read(const nlohmann::json& cell, const std::string& path, double, double) {
    if (!cell.is_array()) return {often_of(cell, path), ""};
    if (cell.size() != 2 || !cell[1].is_string())
      throw JsonFault{said("{path}: must be [how often, because]", {{"path", path}})};
    return {often_of(cell[0], path), cell[1].get<std::string>()};
  }
};

/// What to expect, by question and answer.
template <>
struct JsonValue<decltype(EvidenceOutcome::expect)> {
  using Expect = decltype(EvidenceOutcome::expect);
  static Expect read(const nlohmann::json& expect, const std::string& path, double, double) {
    if (!expect.is_object())
      throw JsonFault{said("{path}: must be an object: question, then answer", {{"path", path}})};
    Expect out;
    for (const auto& [question, row] : expect.items()) {
      const std::string place = path + "." + question;
      if (!row.is_object())
        throw JsonFault{
            said("{path}: must be an object: answer, then how often", {{"path", place}})};
      for (const auto& [answer, cell] : row.items())
        out[question][answer] = JsonValue<Expectation>::read(cell, place + "." + answer, 0, 0);
    }
    return out;
  }
};

}  // namespace bq::inline store
