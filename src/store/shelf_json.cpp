#include "store/shelf_json.h"

#include <algorithm>

#include "store/json_fields.h"

namespace bq::inline store {
namespace {

using Json = nlohmann::json;
constexpr double kFarOnShelf = 1e6;

int count(const JsonFields& f, const char* key, int otherwise) {
  return int(f.number_or(key, 0, 1e6, otherwise));
}

Abrasive abrasive_of(const JsonFields& f) {
  Abrasive a;
  a.name = f.text("name");
  a.kind = f.word_or("kind", parse_abrasive_kind, "bench stone");
  a.label = f.text_or("label", "");
  a.measured_um = f.number_if("measured_um", 0, kFarOnShelf);
  a.rate_mm3_per_min = f.number_if("rate_mm3_per_min", 0, kFarOnShelf);
  a.rate_pressure = f.text_or("rate_pressure", "");
  if (f.has("bites")) {
    const JsonFields bites = f.object("bites");
    a.bites = {bites.word_or("plain", parse_bite, "well"),
               bites.word_or("alloyed", parse_bite, "well"),
               bites.word_or("hard_phase", parse_bite, "well")};
  }
  a.length_mm = f.number_or("length_mm", 0, kFarOnShelf, 200);
  std::size_t index = 0;
  for (const Json& item : f.list("flatness")) {
    const JsonFields entry(item, f.path_of("flatness", index++));
    a.flatness.push_back({entry.text_or("date", ""), entry.number("deviation_um", 0, kFarOnShelf),
                          entry.number_or("over_mm", 0, kFarOnShelf, 0),
                          entry.flag_or("flattened", false), entry.text_or("note", "")});
  }
  a.flat_within_um = f.number_or("flat_within_um", 0, kFarOnShelf, 30);
  a.check_every_blades = count(f, "check_every_blades", 10);
  a.blades_since_check = count(f, "blades_since_check", 0);
  a.soak_min = f.number_or("soak_min", 0, kFarOnShelf, 0);
  a.price = f.number_if("price", 0, kFarOnShelf);
  a.usable_mm = f.number_if("usable_mm", 0, kFarOnShelf);
  a.wear_um_per_blade = f.number_if("wear_um_per_blade", 0, kFarOnShelf);
  a.break_in_blades = count(f, "break_in_blades", 0);
  a.loaded = f.flag_or("loaded", false);
  a.streaks = f.flag_or("streaks", false);
  a.mess = f.text_or("mess", "");
  a.substrate_mm = f.number_if("substrate_mm", 0, kFarOnShelf);
  a.substrate_MPa = f.number_if("substrate_MPa", 0, kFarOnShelf);
  a.blades_since_upkeep = count(f, "blades_since_upkeep", 0);
  a.blackened = f.flag_or("blackened", false);
  a.note = f.text_or("note", "");
  a.retired = f.flag_or("retired", false);
  if (const auto fault = fault_of(a)) f.fault("name", "of " + a.name + ": " + fault->reason);
  return a;
}

SharpeningStep step_of(const JsonFields& f) {
  SharpeningStep s;
  s.work = f.word_or("work", parse_step_work, "grind");
  s.abrasive = f.text_or("abrasive", "");
  s.size_um = f.number_if("size_um", 0, kFarOnShelf);
  s.side = f.word_or("side", parse_grind_side, "both");
  s.angles = {f.number_or("left_deg", 0, 80, 0), f.number_or("right_deg", 0, 80, 0)};
  s.planned_min = f.number_if("planned_min", 0, kFarOnShelf);
  if (f.has("passes")) s.passes = count(f, "passes", 0);
  s.pressure = f.text_or("pressure", "");
  s.substrate = f.text_or("substrate", "");
  s.from_mm = f.number_if("from_mm", -kFarOnShelf, kFarOnShelf);
  s.to_mm = f.number_if("to_mm", -kFarOnShelf, kFarOnShelf);
  s.note = f.text_or("note", "");
  s.done = f.flag_or("done", false);
  s.seconds = f.number_or("seconds", 0, kFarOnShelf, 0);
  // Before a burr had a size a bit said that it was there.
  const auto there = unsigned(f.number_or("burr", 0, (1U << 2 * kLeastPlaces) - 1, 0));
  for (std::size_t mark = 0; mark < 2 * kLeastPlaces; ++mark)
    if (there >> mark & 1U) s.burr[mark] = BurrSize::felt;
  std::size_t mark = 0;
  for (const Json& item : f.list("burr_sizes")) {
    const auto size = item.is_string() ? parse_burr_size(item.get<std::string>()) : std::nullopt;
    if (!size || mark >= s.burr.size()) f.fault("burr_sizes", "is no list of burr sizes");
    s.burr[mark++] = *size;
  }
  s.override_reason = f.text_or("override_reason", "");
  return s;
}

/// One bit for each place where nothing else was said, as it was before a burr had a size.
void put_burr(Json& item, const SharpeningStep& step, int places) {
  if (step.burr == decltype(step.burr){}) return;
  const bool sized = std::any_of(step.burr.begin(), step.burr.end(), [](BurrSize size) {
    return size != BurrSize::not_looked && size != BurrSize::felt;
  });
  if (!sized && places == kLeastPlaces) {
    if (const unsigned there = step.confirmed()) item["burr"] = there;
    return;
  }
  for (int mark = 0; mark < 2 * places; ++mark)
    item["burr_sizes"].push_back(name_of(step.burr[std::size_t(mark)]));
}

Treatment treatment_of(const JsonFields& f) {
  return {f.text("name"),
          f.number_if("minutes", 0, kFarOnShelf),
          f.number_if("metal_mm3", 0, kFarOnShelf),
          f.number_if("wear_um", 0, kFarOnShelf),
          f.number_if("wear_price", 0, kFarOnShelf),
          f.text_or("mess", "")};
}

Json treatment_json(const Treatment& t) {
  Json out{{"name", t.name}};
  put_given(out, "minutes", t.minutes);
  put_given(out, "metal_mm3", t.metal_mm3);
  put_given(out, "wear_um", t.wear_um);
  put_given(out, "wear_price", t.wear_price);
  put_given(out, "mess", t.mess);
  return out;
}

}  // namespace

std::string abrasive_json(const Abrasive& a) {
  Json out{{"name", a.name},
           {"kind", name_of(a.kind)},
           {"length_mm", a.length_mm},
           {"flat_within_um", a.flat_within_um},
           {"check_every_blades", a.check_every_blades}};
  put_given(out, "label", a.label);
  put_given(out, "measured_um", a.measured_um);
  put_given(out, "rate_mm3_per_min", a.rate_mm3_per_min);
  put_given(out, "rate_pressure", a.rate_pressure);
  out["bites"] = {{"plain", name_of(a.bites[0])},
                  {"alloyed", name_of(a.bites[1])},
                  {"hard_phase", name_of(a.bites[2])}};
  for (const auto& entry : a.flatness) {
    Json item{{"date", entry.date}, {"deviation_um", entry.deviation_um}};
    if (entry.over_mm > 0) item["over_mm"] = entry.over_mm;
    put_given(item, "flattened", entry.flattened);
    put_given(item, "note", entry.note);
    out["flatness"].push_back(std::move(item));
  }
  if (a.blades_since_check) out["blades_since_check"] = a.blades_since_check;
  if (a.soak_min > 0) out["soak_min"] = a.soak_min;
  put_given(out, "price", a.price);
  put_given(out, "usable_mm", a.usable_mm);
  put_given(out, "wear_um_per_blade", a.wear_um_per_blade);
  if (a.break_in_blades) out["break_in_blades"] = a.break_in_blades;
  put_given(out, "loaded", a.loaded);
  put_given(out, "streaks", a.streaks);
  put_given(out, "mess", a.mess);
  put_given(out, "substrate_mm", a.substrate_mm);
  put_given(out, "substrate_MPa", a.substrate_MPa);
  if (a.blades_since_upkeep) out["blades_since_upkeep"] = a.blades_since_upkeep;
  put_given(out, "blackened", a.blackened);
  put_given(out, "note", a.note);
  put_given(out, "retired", a.retired);
  return compact_text(out);
}

Checked<Abrasive> parse_abrasive(std::string_view json) {
  return read_json<Abrasive>(json, abrasive_of);
}

std::string sharpening_json(const Sharpening& s) {
  Json out{{"policy", name_of(s.policy)}, {"proof", name_of(s.proof)}, {"steps", Json::array()}};
  if (s.way != GrindWay::held) out["way"] = name_of(s.way);
  if (s.stop != AbrasiveEnd::strokes) out["stop"] = name_of(s.stop);
  if (s.places != kLeastPlaces) out["places"] = s.places;
  put_given(out, "route", s.route);
  put_given(out, "deburr_between", s.deburr_between);
  put_given(out, "run", s.run);
  put_given(out, "operator", s.by_operator);
  put_given(out, "note", s.note);
  for (const auto& step : s.steps) {
    Json item{{"work", name_of(step.work)}, {"side", name_of(step.side)}};
    put_given(item, "abrasive", step.abrasive);
    put_given(item, "size_um", step.size_um);
    if (step.angles.left_deg > 0) item["left_deg"] = step.angles.left_deg;
    if (step.angles.right_deg > 0) item["right_deg"] = step.angles.right_deg;
    put_given(item, "planned_min", step.planned_min);
    if (step.passes) item["passes"] = *step.passes;
    put_given(item, "pressure", step.pressure);
    put_given(item, "substrate", step.substrate);
    put_given(item, "from_mm", step.from_mm);
    put_given(item, "to_mm", step.to_mm);
    put_given(item, "note", step.note);
    put_given(item, "done", step.done);
    if (step.seconds > 0) item["seconds"] = step.seconds;
    put_burr(item, step, s.places);
    put_given(item, "override_reason", step.override_reason);
    out["steps"].push_back(std::move(item));
  }
  return compact_text(out);
}

Checked<Sharpening> parse_sharpening(std::string_view json) {
  return read_json<Sharpening>(json, [](const JsonFields& f) {
    Sharpening s;
    s.policy = f.word_or("policy", parse_gate_policy, "every abrasive");
    s.proof = f.word_or("proof", parse_burr_proof, "touch");
    s.way = f.word_or("way", parse_grind_way, "held");
    s.stop = f.word_or("stop", parse_abrasive_end, "strokes");
    if (f.has("places"))
      s.places = int(whole_of(f.raw("places"), f.path_of("places"), kLeastPlaces, kMostPlaces));
    s.route = f.text_or("route", "");
    s.deburr_between = f.flag_or("deburr_between", false);
    s.run = f.text_or("run", "");
    s.by_operator = f.text_or("operator", "");
    s.note = f.text_or("note", "");
    std::size_t index = 0;
    for (const Json& item : f.list("steps"))
      s.steps.push_back(step_of(JsonFields(item, f.path_of("steps", index++))));
    return s;
  });
}

std::string comparison_json(const Comparison& c) {
  Json out{{"name", c.name},
           {"first", treatment_json(c.first)},
           {"second", treatment_json(c.second)},
           {"unit", c.unit},
           {"pairs", Json::array()}};
  put_given(out, "price_per_hour", c.price_per_hour);
  put_given(out, "note", c.note);
  for (const auto& pair : c.pairs)
    out["pairs"].push_back({{"blade", pair.blade},
                            {"place", pair.place},
                            {"first", pair.first},
                            {"second", pair.second}});
  return compact_text(out);
}

Checked<Comparison> parse_comparison(std::string_view json) {
  return read_json<Comparison>(json, [](const JsonFields& f) {
    Comparison c;
    c.name = f.text("name");
    c.first = treatment_of(f.object("first"));
    c.second = treatment_of(f.object("second"));
    c.unit = f.text_or("unit", "gf");
    c.price_per_hour = f.number_if("price_per_hour", 0, kFarOnShelf);
    c.note = f.text_or("note", "");
    std::size_t index = 0;
    for (const Json& item : f.list("pairs")) {
      const JsonFields pair(item, f.path_of("pairs", index++));
      c.pairs.push_back({pair.text("blade"), pair.text_or("place", ""),
                         pair.number("first", 1e-9, kFarOnShelf),
                         pair.number("second", 1e-9, kFarOnShelf)});
    }
    return c;
  });
}

}  // namespace bq::inline store
