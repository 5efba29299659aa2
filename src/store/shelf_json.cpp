#include "store/shelf_json.h"

#include "store/json_fields.h"

namespace bq {
namespace {

using Json = nlohmann::json;
constexpr double kFar = 1e6;

/// Text of a JSON value; bytes that are no UTF-8 are replaced, not thrown at.
std::string text_of(const Json& json) { return json.dump(-1, ' ', false, Json::error_handler_t::replace); }

void put(Json& out, const char* key, const std::optional<double>& value) {
  if (value) out[key] = *value;
}
void put(Json& out, const char* key, const std::string& value) {
  if (!value.empty()) out[key] = value;
}
void put(Json& out, const char* key, bool value) {
  if (value) out[key] = true;
}

bool flag(const JsonFields& f, const char* key) {
  if (!f.has(key)) return false;
  if (!f.raw(key).is_boolean()) f.fault(key, "must be true or false");
  return f.raw(key).get<bool>();
}

int count(const JsonFields& f, const char* key, int otherwise) { return int(f.number_or(key, 0, 1e6, otherwise)); }

/// An enum by its name; `parse` is its reader.
template <class Parse>
auto word(const JsonFields& f, const char* key, Parse parse, const std::string& otherwise) {
  const std::string text = f.text_or(key, otherwise);
  const auto found = parse(text);
  if (!found) f.fault(key, "\"" + text + "\" is not known here");
  return *found;
}

std::string at(const JsonFields& f, const char* key, std::size_t index) { return f.path_of(key) + "[" + std::to_string(index) + "]"; }

Abrasive abrasive_of(const JsonFields& f) {
  Abrasive a;
  a.name = f.text("name");
  a.kind = word(f, "kind", parse_abrasive_kind, "bench stone");
  a.label = f.text_or("label", "");
  a.measured_um = f.number_if("measured_um", 0, kFar);
  a.rate_mm3_per_min = f.number_if("rate_mm3_per_min", 0, kFar);
  a.rate_pressure = f.text_or("rate_pressure", "");
  if (f.has("bites")) {
    const JsonFields bites = f.object("bites");
    a.bites = {word(bites, "plain", parse_bite, "well"), word(bites, "alloyed", parse_bite, "well"), word(bites, "hard_phase", parse_bite, "well")};
  }
  a.length_mm = f.number_or("length_mm", 0, kFar, 200);
  std::size_t index = 0;
  for (const Json& item : f.list("flatness")) {
    const JsonFields entry(item, at(f, "flatness", index++));
    a.flatness.push_back({entry.text_or("date", ""), entry.number("deviation_um", 0, kFar), entry.number_or("over_mm", 0, kFar, 0), flag(entry, "flattened"),
                          entry.text_or("note", "")});
  }
  a.flat_within_um = f.number_or("flat_within_um", 0, kFar, 30);
  a.check_every_blades = count(f, "check_every_blades", 10);
  a.blades_since_check = count(f, "blades_since_check", 0);
  a.soak_min = f.number_or("soak_min", 0, kFar, 0);
  a.price = f.number_if("price", 0, kFar);
  a.usable_mm = f.number_if("usable_mm", 0, kFar);
  a.wear_um_per_blade = f.number_if("wear_um_per_blade", 0, kFar);
  a.break_in_blades = count(f, "break_in_blades", 0);
  a.loaded = flag(f, "loaded");
  a.streaks = flag(f, "streaks");
  a.mess = f.text_or("mess", "");
  a.substrate_mm = f.number_if("substrate_mm", 0, kFar);
  a.substrate_MPa = f.number_if("substrate_MPa", 0, kFar);
  a.blades_since_upkeep = count(f, "blades_since_upkeep", 0);
  a.blackened = flag(f, "blackened");
  a.note = f.text_or("note", "");
  a.retired = flag(f, "retired");
  if (const auto fault = fault_of(a)) f.fault("name", "of " + a.name + ": " + fault->reason);
  return a;
}

SharpeningStep step_of(const JsonFields& f) {
  SharpeningStep s;
  s.work = word(f, "work", parse_step_work, "grind");
  s.abrasive = f.text_or("abrasive", "");
  s.size_um = f.number_if("size_um", 0, kFar);
  s.side = word(f, "side", parse_grind_side, "both");
  s.angles = {f.number_or("left_deg", 0, 80, 0), f.number_or("right_deg", 0, 80, 0)};
  s.planned_min = f.number_if("planned_min", 0, kFar);
  if (f.has("passes")) s.passes = count(f, "passes", 0);
  s.pressure = f.text_or("pressure", "");
  s.substrate = f.text_or("substrate", "");
  s.from_mm = f.number_if("from_mm", -kFar, kFar);
  s.to_mm = f.number_if("to_mm", -kFar, kFar);
  s.note = f.text_or("note", "");
  s.done = flag(f, "done");
  s.seconds = f.number_or("seconds", 0, kFar, 0);
  s.burr = unsigned(f.number_or("burr", 0, 63, 0));
  s.override_reason = f.text_or("override_reason", "");
  return s;
}

Treatment treatment_of(const JsonFields& f) {
  return {f.text("name"), f.number_if("minutes", 0, kFar), f.number_if("metal_mm3", 0, kFar), f.number_if("wear_um", 0, kFar),
          f.number_if("wear_price", 0, kFar), f.text_or("mess", "")};
}

Json treatment_json(const Treatment& t) {
  Json out{{"name", t.name}};
  put(out, "minutes", t.minutes);
  put(out, "metal_mm3", t.metal_mm3);
  put(out, "wear_um", t.wear_um);
  put(out, "wear_price", t.wear_price);
  put(out, "mess", t.mess);
  return out;
}

}  // namespace

std::string abrasive_json(const Abrasive& a) {
  Json out{{"name", a.name}, {"kind", name_of(a.kind)}, {"length_mm", a.length_mm}, {"flat_within_um", a.flat_within_um}, {"check_every_blades", a.check_every_blades}};
  put(out, "label", a.label);
  put(out, "measured_um", a.measured_um);
  put(out, "rate_mm3_per_min", a.rate_mm3_per_min);
  put(out, "rate_pressure", a.rate_pressure);
  out["bites"] = {{"plain", name_of(a.bites[0])}, {"alloyed", name_of(a.bites[1])}, {"hard_phase", name_of(a.bites[2])}};
  for (const auto& entry : a.flatness) {
    Json item{{"date", entry.date}, {"deviation_um", entry.deviation_um}};
    if (entry.over_mm > 0) item["over_mm"] = entry.over_mm;
    put(item, "flattened", entry.flattened);
    put(item, "note", entry.note);
    out["flatness"].push_back(std::move(item));
  }
  if (a.blades_since_check) out["blades_since_check"] = a.blades_since_check;
  if (a.soak_min > 0) out["soak_min"] = a.soak_min;
  put(out, "price", a.price);
  put(out, "usable_mm", a.usable_mm);
  put(out, "wear_um_per_blade", a.wear_um_per_blade);
  if (a.break_in_blades) out["break_in_blades"] = a.break_in_blades;
  put(out, "loaded", a.loaded);
  put(out, "streaks", a.streaks);
  put(out, "mess", a.mess);
  put(out, "substrate_mm", a.substrate_mm);
  put(out, "substrate_MPa", a.substrate_MPa);
  if (a.blades_since_upkeep) out["blades_since_upkeep"] = a.blades_since_upkeep;
  put(out, "blackened", a.blackened);
  put(out, "note", a.note);
  put(out, "retired", a.retired);
  return text_of(out);
}

Checked<Abrasive> parse_abrasive(std::string_view json) { return read_json<Abrasive>(json, abrasive_of); }

std::string sharpening_json(const Sharpening& s) {
  Json out{{"policy", name_of(s.policy)}, {"proof", name_of(s.proof)}, {"steps", Json::array()}};
  put(out, "route", s.route);
  put(out, "deburr_between", s.deburr_between);
  put(out, "run", s.run);
  put(out, "operator", s.by_operator);
  put(out, "note", s.note);
  for (const auto& step : s.steps) {
    Json item{{"work", name_of(step.work)}, {"side", name_of(step.side)}};
    put(item, "abrasive", step.abrasive);
    put(item, "size_um", step.size_um);
    if (step.angles.left_deg > 0) item["left_deg"] = step.angles.left_deg;
    if (step.angles.right_deg > 0) item["right_deg"] = step.angles.right_deg;
    put(item, "planned_min", step.planned_min);
    if (step.passes) item["passes"] = *step.passes;
    put(item, "pressure", step.pressure);
    put(item, "substrate", step.substrate);
    put(item, "from_mm", step.from_mm);
    put(item, "to_mm", step.to_mm);
    put(item, "note", step.note);
    put(item, "done", step.done);
    if (step.seconds > 0) item["seconds"] = step.seconds;
    if (step.burr) item["burr"] = step.burr;
    put(item, "override_reason", step.override_reason);
    out["steps"].push_back(std::move(item));
  }
  return text_of(out);
}

Checked<Sharpening> parse_sharpening(std::string_view json) {
  return read_json<Sharpening>(json, [](const JsonFields& f) {
    Sharpening s;
    s.policy = word(f, "policy", parse_gate_policy, "every abrasive");
    s.proof = word(f, "proof", parse_burr_proof, "touch");
    s.route = f.text_or("route", "");
    s.deburr_between = flag(f, "deburr_between");
    s.run = f.text_or("run", "");
    s.by_operator = f.text_or("operator", "");
    s.note = f.text_or("note", "");
    std::size_t index = 0;
    for (const Json& item : f.list("steps")) s.steps.push_back(step_of(JsonFields(item, at(f, "steps", index++))));
    return s;
  });
}

std::string comparison_json(const Comparison& c) {
  Json out{{"name", c.name}, {"first", treatment_json(c.first)}, {"second", treatment_json(c.second)}, {"unit", c.unit}, {"pairs", Json::array()}};
  put(out, "price_per_hour", c.price_per_hour);
  put(out, "note", c.note);
  for (const auto& pair : c.pairs) out["pairs"].push_back({{"blade", pair.blade}, {"place", pair.place}, {"first", pair.first}, {"second", pair.second}});
  return text_of(out);
}

Checked<Comparison> parse_comparison(std::string_view json) {
  return read_json<Comparison>(json, [](const JsonFields& f) {
    Comparison c;
    c.name = f.text("name");
    c.first = treatment_of(f.object("first"));
    c.second = treatment_of(f.object("second"));
    c.unit = f.text_or("unit", "gf");
    c.price_per_hour = f.number_if("price_per_hour", 0, kFar);
    c.note = f.text_or("note", "");
    std::size_t index = 0;
    for (const Json& item : f.list("pairs")) {
      const JsonFields pair(item, at(f, "pairs", index++));
      c.pairs.push_back({pair.text("blade"), pair.text_or("place", ""), pair.number("first", 1e-9, kFar), pair.number("second", 1e-9, kFar)});
    }
    return c;
  });
}

}  // namespace bq
