#include "workflow/limits.h"

#include <cmath>

#include "quantity/number.h"
#include "quantity/said.h"
#include "store/json_fields.h"
#include "workflow/sentences.h"

namespace bq::inline workflow {
namespace {

std::vector<std::string> names(const JsonFields& f, const char* key) {
  std::vector<std::string> out;
  for (const auto& item : f.list(key)) {
    if (!item.is_string()) f.fault(key, said("must be a list of names"));
    out.push_back(item.get<std::string>());
  }
  return out;
}

LimitsFile read(const JsonFields& f) {
  LimitsFile out;
  if (f.has("threshold")) {
    const auto& value = f.raw("threshold");
    if (!value.is_number() && !value.is_string())
      f.fault("threshold", said("must be a text such as \"450 gf\" or \"3x\""));
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
      out.notes.push_back(
          said("the wish \"{key}\" is not known here and was not used", {{"key", key}}));
  }
  for (const auto& key : f.unknown())
    out.notes.push_back(
        said("the limit \"{key}\" is not known here and was not used", {{"key", key}}));
  return out;
}

/// "12 to 15° per side", "from 12° per side"
std::string range_of(const std::optional<double>& from, const std::optional<double>& to,
                     const char* unit) {
  if (from && to)
    return said("{from} to {to}{unit}",
                {{"from", print_number(*from, 3)}, {"to", print_number(*to, 3)}, {"unit", unit}});
  return from ? said("from {from}{unit}", {{"from", print_number(*from, 3)}, {"unit", unit}})
              : said("to {to}{unit}", {{"to", print_number(*to, 3)}, {"unit", unit}});
}

/// Names with commas; an empty one stands for none.
std::string listed(const std::vector<std::string>& names) {
  std::string out;
  for (const auto& name : names)
    if (!name.empty()) out += (out.empty() ? "" : ", ") + name;
  return out.empty() ? "none" : out;
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

std::vector<SetLimit> set_limits(const LimitsFile& wanted) {
  const RecommendLimits& l = wanted.limits;
  std::vector<SetLimit> out;
  if (!l.mix.empty()) {
    double sum = 0;
    for (const auto& part : l.mix) sum += part.share;
    std::vector<std::string> parts;
    for (const auto& part : l.mix)
      parts.push_back(part.medium + " " + print_number(100 * part.share / sum, 3) + " %");
    out.push_back({LimitKind::work, said("work: {parts}", {{"parts", listed(parts)}})});
  } else if (!l.medium.empty()) {
    out.push_back({LimitKind::work, said("work: {medium}", {{"medium", l.medium}})});
  }
  if (l.least_life)
    out.push_back({LimitKind::life, said("next edge at least {least_life} cuts",
                                         {{"least_life", print_cuts(*l.least_life)}})});
  if (l.most_force_N)
    out.push_back({LimitKind::force, said("blunt cut at most {most_force_n} N",
                                          {{"most_force_n", print_number(*l.most_force_N, 3)}})});
  if (l.most_damage_rate)
    out.push_back({LimitKind::damage,
                   said("free of damage for {most_damage_rate} cuts",
                        {{"most_damage_rate", print_cuts(std::round(1 / *l.most_damage_rate))}})});
  if (l.most_minutes)
    out.push_back({LimitKind::minutes, said("touch-up at most {most_minutes} min",
                                            {{"most_minutes", print_number(*l.most_minutes, 2)}})});
  if (l.hold_roughest) out.push_back({LimitKind::roughest, "held the roughest use"});
  if (l.least_angle_deg || l.largest_angle_deg)
    out.push_back(
        {LimitKind::angle,
         said("apex {range_of}",
              {{"range_of", range_of(l.least_angle_deg, l.largest_angle_deg, "° per side")}})});
  if (l.finest_finish_um || l.coarsest_finish_um)
    out.push_back(
        {LimitKind::finish,
         said("finish {range_of}",
              {{"range_of", range_of(l.finest_finish_um, l.coarsest_finish_um, " µm")}})});
  if (l.beyond_deg > 0)
    out.push_back({LimitKind::beyond, said("up to {beyond_deg}° beyond what was tested",
                                           {{"beyond_deg", print_number(l.beyond_deg, 3)}})});
  if (!l.steels.empty())
    out.push_back({LimitKind::steels, said("steels: {steels}", {{"steels", listed(l.steels)}})});
  if (!wanted.stones.empty())
    out.push_back(
        {LimitKind::stones, said("stones: {stones}", {{"stones", listed(wanted.stones)}})});
  if (const RecommendWishes usual, &w = wanted.wishes;
      w.life != usual.life || w.force != usual.force || w.damage != usual.damage ||
      w.minutes != usual.minutes)
    out.push_back({LimitKind::wishes, said("wishes: life {life}, low force {force}, little damage "
                                           "{damage}, quick touch-up {minutes}",
                                           {{"life", print_number(w.life, 2)},
                                            {"force", print_number(w.force, 2)},
                                            {"damage", print_number(w.damage, 2)},
                                            {"minutes", print_number(w.minutes, 2)}})});
  return out;
}

void take_back(LimitsFile& wanted, LimitKind kind) {
  RecommendLimits& l = wanted.limits;
  switch (kind) {
    case LimitKind::work:
      l.mix.clear();
      l.medium.clear();
      break;
    case LimitKind::life:
      l.least_life.reset();
      break;
    case LimitKind::force:
      l.most_force_N.reset();
      break;
    case LimitKind::damage:
      l.most_damage_rate.reset();
      break;
    case LimitKind::minutes:
      l.most_minutes.reset();
      break;
    case LimitKind::roughest:
      l.hold_roughest = false;
      break;
    case LimitKind::angle:
      l.least_angle_deg.reset();
      l.largest_angle_deg.reset();
      break;
    case LimitKind::finish:
      l.finest_finish_um.reset();
      l.coarsest_finish_um.reset();
      break;
    case LimitKind::beyond:
      l.beyond_deg = 0;
      break;
    case LimitKind::steels:
      l.steels.clear();
      break;
    case LimitKind::stones:
      wanted.stones.clear();
      break;
    case LimitKind::wishes:
      wanted.wishes = {};
      break;
  }
}

}  // namespace bq::inline workflow
