#pragma once

#include "plan/trial_plan.h"
#include "store/json_fields.h"

namespace bq::inline store {

/// A level or another value of a factor: a number or a text.
inline FactorValue level_of(const nlohmann::json& value, const std::string& path) {
  if (value.is_number()) return value.get<double>();
  if (value.is_string()) return value.get<std::string>();
  throw JsonFault{path + ": must be a number or a text"};
}
inline nlohmann::ordered_json level_json(const FactorValue& value) {
  if (const auto* number = std::get_if<double>(&value)) return *number;
  return std::get<std::string>(value);
}

/// A whole number of a key, or `otherwise`.
inline int whole_of(const JsonFields& f, const char* key, double least, double most,
                    int otherwise) {
  const double number = f.number_or(key, least, most, otherwise);
  if (number != double(int(number))) f.fault(key, "must be a whole number");
  return int(number);
}

}  // namespace bq::inline store
