#pragma once

#include <string>
#include <utility>

#include "plan/plan_fields.h"
#include "quantity/said.h"
#include "store/record_json.h"

namespace bq::inline store {

/// A level or another value of a factor: a number or a text.
template <>
struct JsonValue<FactorValue> {
  static FactorValue read(const nlohmann::json& value, const std::string& path, double, double) {
    if (value.is_number()) return value.get<double>();
    if (value.is_string()) return value.get<std::string>();
    throw JsonFault{said("{path}: must be a number or a text", {{"path", path}})};
  }
  template <class Json>
  static Json json(const FactorValue& value) {
    if (const auto* number = std::get_if<double>(&value)) return *number;
    return std::get<std::string>(value);
  }
};

/// Factors and their levels: {"steel": "…"}.
template <>
struct JsonValue<LevelMatch> {
  static LevelMatch read(const nlohmann::json& object, const std::string& path, double least,
                         double most) {
    if (!object.is_object())
      throw JsonFault{path + ": must be an object such as {\"steel\": \"…\"}"};
    LevelMatch out;
    for (const auto& [key, value] : object.items())
      out.emplace_back(key, JsonValue<FactorValue>::read(value, path + "." + key, least, most));
    return out;
  }
  template <class Json>
  static Json json(const LevelMatch& match) {
    Json out = Json::object();
    for (const auto& [key, value] : match) out[key] = JsonValue<FactorValue>::json<Json>(value);
    return out;
  }
};

/// Two factors: ["steel", "finish"].
template <>
struct JsonValue<std::pair<std::string, std::string>> {
  using Pair = std::pair<std::string, std::string>;
  static Pair read(const nlohmann::json& pair, const std::string& path, double, double) {
    if (!pair.is_array() || pair.size() != 2 || !pair[0].is_string() || !pair[1].is_string())
      throw JsonFault{said("{path}: must be a pair of factor names", {{"path", path}})};
    return {pair[0].get<std::string>(), pair[1].get<std::string>()};
  }
  template <class Json>
  static Json json(const Pair& pair) {
    return Json::array({pair.first, pair.second});
  }
};

}  // namespace bq::inline store
