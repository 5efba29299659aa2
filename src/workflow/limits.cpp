#include "workflow/limits.h"

#include "store/json_fields.h"

namespace bq::inline workflow {
namespace {

std::vector<std::string> names(const JsonFields& f, const char* key) {
  std::vector<std::string> out;
  for (const auto& item : f.list(key)) {
    if (!item.is_string()) f.fault(key, "must be a list of names");
    out.push_back(item.get<std::string>());
  }
  return out;
}

LimitsFile read(const JsonFields& f) {
  LimitsFile out;
  if (f.has("threshold")) {
    const auto& value = f.raw("threshold");
    if (!value.is_number() && !value.is_string())
      f.fault("threshold", "must be a text such as \"450 gf\" or \"3x\"");
    out.threshold = value.is_string() ? value.get<std::string>() : value.dump();
  }
  RecommendLimits& limits = out.limits;
  limits.medium = f.text_or("medium", "");
  std::size_t index = 0;
  for (const auto& item : f.list("mix")) {
    const JsonFields part(item, f.path_of("mix", index++));
    limits.mix.push_back({part.text("medium"), part.number("share", 0, 1e6)});
  }
  limits.steels = names(f, "steels");
  out.stones = names(f, "stones");
  limits.least_angle_deg = f.number_if("least_angle_deg", 0, 80);
  limits.largest_angle_deg = f.number_if("largest_angle_deg", 0, 80);
  limits.finest_finish_um = f.number_if("finest_finish_um", 0, 1e4);
  limits.coarsest_finish_um = f.number_if("coarsest_finish_um", 0, 1e4);
  limits.least_life = f.number_if("least_life", 0, 1e12);
  limits.most_force_N = f.number_if("most_force_N", 0, 1e6);
  limits.most_damage_rate = f.number_if("most_damage_rate", 0, 1);
  limits.most_minutes = f.number_if("most_minutes", 0, 1e5);
  limits.hold_roughest = f.flag_or("hold_roughest", false);
  limits.angle_step_deg = f.number_or("angle_step_deg", 0.05, 20, limits.angle_step_deg);
  limits.beyond_deg = f.number_or("beyond_deg", 0, 20, 0);
  if (f.has("wishes")) {
    const JsonFields w = f.object("wishes");
    out.wishes = {w.number_or("life", 0, 100, 1), w.number_or("force", 0, 100, 0),
                  w.number_or("damage", 0, 100, 0), w.number_or("minutes", 0, 100, 0)};
    for (const auto& key : w.unknown())
      out.notes.push_back("the wish \"" + key + "\" is not known here and was not used");
  }
  for (const auto& key : f.unknown())
    out.notes.push_back("the limit \"" + key + "\" is not known here and was not used");
  return out;
}

}  // namespace

Checked<LimitsFile> parse_limits(std::string_view text) {
  try {
    const auto root = parse_json(text);
    if (!root.is_object()) return Refusal{"limits must be an object { … }"};
    return read(JsonFields(root, ""));
  } catch (const JsonFault& fault) {
    return Refusal{fault.reason};
  }
}

std::string limits_json(const LimitsFile& file) {
  const RecommendLimits& l = file.limits;
  nlohmann::json out = nlohmann::json::object();
  const auto put = [&](const char* key, const std::optional<double>& value) {
    if (value) out[key] = *value;
  };
  if (!file.threshold.empty()) out["threshold"] = file.threshold;
  if (!l.medium.empty()) out["medium"] = l.medium;
  for (const auto& part : l.mix)
    out["mix"].push_back({{"medium", part.medium}, {"share", part.share}});
  if (!l.steels.empty()) out["steels"] = l.steels;
  if (!file.stones.empty()) out["stones"] = file.stones;
  put("least_angle_deg", l.least_angle_deg);
  put("largest_angle_deg", l.largest_angle_deg);
  put("finest_finish_um", l.finest_finish_um);
  put("coarsest_finish_um", l.coarsest_finish_um);
  put("least_life", l.least_life);
  put("most_force_N", l.most_force_N);
  put("most_damage_rate", l.most_damage_rate);
  put("most_minutes", l.most_minutes);
  if (l.hold_roughest) out["hold_roughest"] = true;
  out["angle_step_deg"] = l.angle_step_deg;
  if (l.beyond_deg > 0) out["beyond_deg"] = l.beyond_deg;
  out["wishes"] = {{"life", file.wishes.life},
                   {"force", file.wishes.force},
                   {"damage", file.wishes.damage},
                   {"minutes", file.wishes.minutes}};
  return out.dump(1, ' ', false, nlohmann::json::error_handler_t::replace);
}

}  // namespace bq::inline workflow
