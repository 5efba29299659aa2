#include "workflow/limits.h"

#include "store/json_fields.h"

namespace bq {
namespace {

using Json = nlohmann::json;

std::optional<Refusal> take_number(const std::string& key, const Json& value, double least, double most,
                                   std::optional<double>& target) {
  if (!value.is_number() || !(value.get<double>() >= least && value.get<double>() <= most))
    return Refusal{key + " must be a number between " + Json(least).dump() + " and " + Json(most).dump()};
  target = value.get<double>();
  return std::nullopt;
}

std::optional<Refusal> take(const std::string& key, const Json& value, LimitsFile& out) {
  RecommendLimits& limits = out.limits;
  if (key == "threshold") {
    if (value.is_number()) out.threshold = value.dump();
    else if (value.is_string()) out.threshold = value.get<std::string>();
    else return Refusal{"threshold must be a text such as \"450 gf\" or \"3x\""};
    return std::nullopt;
  }
  if (key == "medium") {
    if (!value.is_string()) return Refusal{"medium must be a text"};
    limits.medium = value.get<std::string>();
    return std::nullopt;
  }
  if (key == "steels") {
    if (!value.is_array()) return Refusal{"steels must be a list of names"};
    for (const auto& steel : value) {
      if (!steel.is_string()) return Refusal{"steels must be a list of names"};
      limits.steels.push_back(steel.get<std::string>());
    }
    return std::nullopt;
  }
  if (key == "angle_step_deg") {
    std::optional<double> step;
    auto refusal = take_number(key, value, 0.05, 20, step);
    if (step) limits.angle_step_deg = *step;
    return refusal;
  }
  if (key == "least_angle_deg") return take_number(key, value, 0, 80, limits.least_angle_deg);
  if (key == "largest_angle_deg") return take_number(key, value, 0, 80, limits.largest_angle_deg);
  if (key == "finest_finish_um") return take_number(key, value, 0, 1e4, limits.finest_finish_um);
  if (key == "coarsest_finish_um") return take_number(key, value, 0, 1e4, limits.coarsest_finish_um);
  if (key == "least_life") return take_number(key, value, 0, 1e12, limits.least_life);
  out.notes.push_back("the limit \"" + key + "\" is not known here and was not used");
  return std::nullopt;
}

}  // namespace

Checked<LimitsFile> parse_limits(std::string_view text) {
  Json root;
  try {
    root = parse_json(text);
  } catch (const JsonFault& fault) {
    return Refusal{fault.reason};
  }
  if (!root.is_object()) return Refusal{"limits must be an object { … }"};
  LimitsFile out;
  for (const auto& [key, value] : root.items())
    if (const auto refusal = take(key, value, out)) return *refusal;
  return out;
}

}  // namespace bq
