#include "store/plan_file.h"

#include "store/plan_question.h"
#include "store/plan_values.h"

namespace bq::inline store {
namespace {

using OrderedJson = nlohmann::ordered_json;
using In = nlohmann::json;

std::string at(const std::string& path, std::size_t index) {
  return path + "[" + std::to_string(index) + "]";
}

std::uint64_t seed_of(const JsonFields& f, std::uint64_t otherwise) {
  const double number = f.number_or("seed", 0, 9e15, double(otherwise));
  if (number != double(std::uint64_t(number))) f.fault("seed", "must be a whole number");
  return std::uint64_t(number);
}

std::vector<std::string> texts(const JsonFields& f, const char* key) {
  std::vector<std::string> out;
  for (const auto& item : f.list(key)) {
    if (!item.is_string()) f.fault(key, "must hold texts");
    out.push_back(item.get<std::string>());
  }
  return out;
}

LevelMatch match_of(const In& object, const std::string& path) {
  if (!object.is_object()) throw JsonFault{path + ": must be an object such as {\"steel\": \"…\"}"};
  LevelMatch out;
  for (const auto& [key, value] : object.items())
    out.emplace_back(key, level_of(value, path + "." + key));
  return out;
}
OrderedJson match_json(const LevelMatch& match) {
  OrderedJson out = OrderedJson::object();
  for (const auto& [key, value] : match) out[key] = level_json(value);
  return out;
}

PlanFactor factor_of(const JsonFields& f) {
  PlanFactor out;
  out.name = f.text("factor");
  out.kind = kind_of_factor(out.name);
  std::size_t index = 0;
  for (const auto& level : f.list("levels"))
    out.levels.push_back(level_of(level, at(f.path_of("levels"), index++)));
  for (const auto& ratio : f.list("life_ratio")) {
    if (!ratio.is_number()) f.fault("life_ratio", "must hold numbers");
    out.life_ratio.push_back(ratio.get<double>());
  }
  refuse_unknown(f);
  return out;
}

CheckpointChoice checkpoints_in(const JsonFields& f) {
  CheckpointChoice out;
  out.readings_each = whole_of(f, "readings_each", 1, 100, out.readings_each);
  if (!f.has("checkpoints")) return out;
  const In& value = f.raw("checkpoints");
  const auto read_list = [&out](const In& list, const std::string& name) {
    std::size_t index = 0;
    for (const auto& item : list) {
      const std::string path = at(name, index++);
      if (!item.is_number() || item.get<double>() != double(std::int64_t(item.get<double>())) ||
          item.get<double>() < 0 || item.get<double>() > 1e9)
        throw JsonFault{path + ": must be a whole number of cuts, 0 to 1000 million"};
      out.given.push_back(std::int64_t(item.get<double>()));
      if (out.given.size() > 1 && out.given.back() <= out.given[out.given.size() - 2])
        throw JsonFault{path + ": the checkpoints must rise, and " +
                        std::to_string(out.given.back()) + " comes after " +
                        std::to_string(out.given[out.given.size() - 2])};
    }
    if (out.given.empty()) throw JsonFault{name + ": the list is empty"};
  };
  if (value.is_array()) {
    read_list(value, "checkpoints");
    return out;
  }
  const JsonFields c = f.object("checkpoints");
  if (c.has("given")) {
    if (!c.raw("given").is_array()) c.fault("given", "must be a list of cuts");
    read_list(c.raw("given"), c.path_of("given"));
  }
  out.to_threshold = c.has("last") && c.raw("last") == "threshold";
  if (!out.to_threshold) out.last = std::int64_t(c.number_or("last", 2, 1e8, double(out.last)));
  out.steps = whole_of(c, "steps", 2, 60, out.steps);
  out.burr_suspected = c.flag_or("burr_suspected", false);
  refuse_unknown(c);
  return out;
}

PlanRates rates_of(const JsonFields& f) {
  PlanRates r;
  r.medium_mm_per_cut = f.number_or("medium_mm_per_cut", 0, 1e5, r.medium_mm_per_cut);
  r.offcut_percent = f.number_or("offcut_percent", 0, 500, r.offcut_percent);
  r.seconds_per_cut = f.number_or("seconds_per_cut", 0, 3600, r.seconds_per_cut);
  r.seconds_per_reading = f.number_or("seconds_per_reading", 0, 3600, r.seconds_per_reading);
  r.minutes_per_checkpoint =
      f.number_or("minutes_per_checkpoint", 0, 600, r.minutes_per_checkpoint);
  r.minutes_per_sharpening =
      f.number_or("minutes_per_sharpening", 0, 1440, r.minutes_per_sharpening);
  r.rest_after_minutes = f.number_or("rest_after_minutes", 1, 600, r.rest_after_minutes);
  r.rest_minutes = f.number_or("rest_minutes", 0, 600, r.rest_minutes);
  r.hours_a_day = f.number_or("hours_a_day", 0.25, 24, r.hours_a_day);
  r.days_a_week = whole_of(f, "days_a_week", 1, 7, r.days_a_week);
  r.metal_mm3_per_sharpening =
      f.number_or("metal_mm3_per_sharpening", 0, 1e6, r.metal_mm3_per_sharpening);
  r.start_date = f.text_or("start_date", "");
  refuse_unknown(f);
  return r;
}
OrderedJson rates_json(const PlanRates& r) {
  OrderedJson out{{"medium_mm_per_cut", r.medium_mm_per_cut},
                  {"offcut_percent", r.offcut_percent},
                  {"seconds_per_cut", r.seconds_per_cut},
                  {"seconds_per_reading", r.seconds_per_reading},
                  {"minutes_per_checkpoint", r.minutes_per_checkpoint},
                  {"minutes_per_sharpening", r.minutes_per_sharpening},
                  {"rest_after_minutes", r.rest_after_minutes},
                  {"rest_minutes", r.rest_minutes},
                  {"hours_a_day", r.hours_a_day},
                  {"days_a_week", r.days_a_week},
                  {"metal_mm3_per_sharpening", r.metal_mm3_per_sharpening}};
  if (!r.start_date.empty()) out["start_date"] = r.start_date;
  return out;
}

PlanTruth truth_of(const JsonFields& f) {
  PlanTruth t;
  t.fresh_reading = f.number_or("fresh_reading", 1e-9, 1e9, t.fresh_reading);
  t.life = f.number_or("life", 1, 1e9, t.life);
  t.run_sd = f.number_or("run_sd", 0, 3, t.run_sd);
  t.blade_sd = f.number_or("blade_sd", 0, 3, t.blade_sd);
  t.block_sd = f.number_or("block_sd", 0, 3, t.block_sd);
  t.checkpoint_sd = f.number_or("checkpoint_sd", 0, 3, t.checkpoint_sd);
  t.reading_sd = f.number_or("reading_sd", 0, 3, t.reading_sd);
  t.stroke_mm = f.number_or("stroke_mm", 0.01, 1e5, t.stroke_mm);
  t.tooth_life_cuts = f.number_if("tooth_life_cuts", 1, 1e9);
  t.from = f.text_or("from", "");
  refuse_unknown(f);
  return t;
}
OrderedJson truth_json(const PlanTruth& t) {
  OrderedJson out{{"fresh_reading", t.fresh_reading},
                  {"life", t.life},
                  {"run_sd", t.run_sd},
                  {"blade_sd", t.blade_sd},
                  {"block_sd", t.block_sd},
                  {"checkpoint_sd", t.checkpoint_sd},
                  {"reading_sd", t.reading_sd},
                  {"stroke_mm", t.stroke_mm}};
  if (t.tooth_life_cuts) out["tooth_life_cuts"] = *t.tooth_life_cuts;
  if (!t.from.empty()) out["from"] = t.from;
  return out;
}

DesignChoice design_of(const JsonFields& f) {
  DesignChoice out;
  const std::string kind = f.text_or("kind", "full");
  if (kind == "full")
    out.kind = DesignKind::full;
  else if (kind == "fraction")
    out.kind = DesignKind::fraction;
  else if (kind == "best")
    out.kind = DesignKind::best;
  else
    f.fault("kind", "must be full, fraction or best");
  out.runs = whole_of(f, "runs", 0, 1e6, 0);
  out.replicates = whole_of(f, "replicates", 0, 1e6, 1);
  for (const auto& pair : f.list("interactions")) {
    if (!pair.is_array() || pair.size() != 2 || !pair[0].is_string() || !pair[1].is_string())
      f.fault("interactions", "must hold pairs of factor names");
    out.interactions.emplace_back(pair[0].get<std::string>(), pair[1].get<std::string>());
  }
  refuse_unknown(f);
  return out;
}

TrialPlan plan_of(const JsonFields& f) {
  TrialPlan p;
  p.name = f.text_or("name", p.name);
  p.note = f.text_or("note", "");
  p.threshold = f.has("threshold") && f.raw("threshold").is_number()
                    ? f.raw("threshold").dump()
                    : f.text_or("threshold", p.threshold);
  if (f.has("unit")) {
    const auto unit = parse_unit(f.text("unit"));
    if (!unit) f.fault("unit", unit.refusal().reason);
    p.unit = *unit;
  }
  p.blind = f.flag_or("blind", true);
  p.seed = seed_of(f, 1);
  std::size_t index = 0;
  for (const auto& item : f.list("factors"))
    p.factors.push_back(factor_of(JsonFields(item, at("factors", index++))));
  if (f.has("held")) p.held = match_of(f.raw("held"), "held");
  index = 0;
  for (const auto& item : f.list("exclude")) {
    const JsonFields e(item, at("exclude", index++));
    p.exclusions.push_back({match_of(e.raw("when"), e.path_of("when")), e.text_or("reason", "")});
    refuse_unknown(e);
  }
  index = 0;
  for (const auto& item : f.list("only")) {
    const JsonFields o(item, at("only", index++));
    OnlyRule rule{match_of(o.raw("when"), o.path_of("when")), o.text("factor"), {}};
    std::size_t level = 0;
    for (const auto& value : o.list("levels"))
      rule.levels.push_back(level_of(value, at(o.path_of("levels"), level++)));
    p.only.push_back(rule);
    refuse_unknown(o);
  }
  index = 0;
  for (const auto& item : f.list("durable")) {
    const JsonFields d(item, at("durable", index++));
    p.durable.push_back({d.text_or("steel", ""), d.number("least_apex_deg", 0, 80)});
    refuse_unknown(d);
  }
  if (f.has("design")) p.design = design_of(f.object("design"));
  if (f.has("blocks")) {
    const JsonFields b = f.object("blocks");
    const auto by = parse_block_by(b.text_or("by", "none"));
    if (!by) b.fault("by", "must be none, day, medium batch, operator or blade");
    p.blocks.by = *by;
    p.blocks.runs_each = whole_of(b, "runs_each", 0, 1e6, 0);
    p.blocks.names = texts(b, "names");
    refuse_unknown(b);
  }
  index = 0;
  for (const auto& item : f.list("blades")) {
    const JsonFields b(item, at("blades", index++));
    p.blades.push_back(
        {b.text("name"), b.text_or("steel", ""), whole_of(b, "resharpenings", 0, 1000, 0)});
    refuse_unknown(b);
  }
  p.operators = texts(f, "operators");
  p.checkpoints = checkpoints_in(f);
  if (f.has("rates")) p.rates = rates_of(f.object("rates"));
  if (f.has("truth")) p.truth = truth_of(f.object("truth"));
  if (f.has("question")) p.question = question_of(f.object("question"));
  index = 0;
  for (const auto& item : f.list("extensions")) {
    const JsonFields e(item, at("extensions", index++));
    p.extensions.push_back({whole_of(e, "runs", 0, 1e6, 0), seed_of(e, 1)});
    refuse_unknown(e);
  }
  refuse_unknown(f);
  return p;
}

OrderedJson json_of(const TrialPlan& p) {
  OrderedJson out{{"name", p.name}};
  if (!p.note.empty()) out["note"] = p.note;
  out["threshold"] = p.threshold;
  out["unit"] = std::string(p.unit == Unit::um ? "um" : sign_of(p.unit));
  out["blind"] = p.blind;
  out["seed"] = p.seed;
  out["factors"] = OrderedJson::array();
  for (const auto& factor : p.factors) {
    OrderedJson item{{"factor", factor.name}, {"levels", OrderedJson::array()}};
    for (const auto& level : factor.levels) item["levels"].push_back(level_json(level));
    if (!factor.life_ratio.empty()) item["life_ratio"] = factor.life_ratio;
    out["factors"].push_back(item);
  }
  if (!p.held.empty()) out["held"] = match_json(p.held);
  for (const auto& e : p.exclusions) {
    OrderedJson item{{"when", match_json(e.when)}};
    if (!e.reason.empty()) item["reason"] = e.reason;
    out["exclude"].push_back(item);
  }
  for (const auto& o : p.only) {
    OrderedJson item{
        {"when", match_json(o.when)}, {"factor", o.factor}, {"levels", OrderedJson::array()}};
    for (const auto& level : o.levels) item["levels"].push_back(level_json(level));
    out["only"].push_back(item);
  }
  for (const auto& d : p.durable) {
    OrderedJson item{{"least_apex_deg", d.least_apex_deg}};
    if (!d.steel.empty()) item["steel"] = d.steel;
    out["durable"].push_back(item);
  }
  out["design"] = OrderedJson{{"kind", name_of(p.design.kind)},
                              {"runs", p.design.runs},
                              {"replicates", p.design.replicates}};
  for (const auto& [a, b] : p.design.interactions)
    out["design"]["interactions"].push_back(OrderedJson::array({a, b}));
  out["blocks"] = OrderedJson{{"by", name_of(p.blocks.by)}, {"runs_each", p.blocks.runs_each}};
  if (!p.blocks.names.empty()) out["blocks"]["names"] = p.blocks.names;
  for (const auto& b : p.blades)
    out["blades"].push_back(
        OrderedJson{{"name", b.name}, {"steel", b.steel}, {"resharpenings", b.resharpenings}});
  if (!p.operators.empty()) out["operators"] = p.operators;
  // The ladder stands beside a typed list, so that one can go back to it.
  out["checkpoints"] =
      OrderedJson{{"last", p.checkpoints.to_threshold ? OrderedJson("threshold")
                                                      : OrderedJson(p.checkpoints.last)},
                  {"steps", p.checkpoints.steps},
                  {"burr_suspected", p.checkpoints.burr_suspected}};
  if (!p.checkpoints.given.empty()) out["checkpoints"]["given"] = p.checkpoints.given;
  out["readings_each"] = p.checkpoints.readings_each;
  out["rates"] = rates_json(p.rates);
  out["truth"] = truth_json(p.truth);
  if (p.question) out["question"] = question_json(*p.question);
  for (const auto& e : p.extensions)
    out["extensions"].push_back(OrderedJson{{"runs", e.runs}, {"seed", e.seed}});
  return out;
}

ClaimTest claim_of(const JsonFields& f) {
  ClaimTest t;
  Claim& c = t.claim;
  c.id = f.text_or("id", "own");
  c.sentence = f.text_or("claim", "");
  const auto measure = parse_claim_measure(f.text_or("measure", "life"));
  if (!measure) f.fault("measure", "is not known");
  c.measure = *measure;
  c.first = f.text_or("first", "");
  c.second = f.text_or("second", "");
  c.sameness = f.flag_or("sameness", false);
  c.second_higher = f.flag_or("second_higher", true);
  c.ratio = f.number_or("ratio", 1e-3, 1e3, c.ratio);
  c.pair_sd = f.number_or("pair_sd", 1e-6, 3, c.pair_sd);
  c.steps = texts(f, "steps");
  c.not_tested = texts(f, "not_tested");
  t.chance = f.number_or("chance", 0.05, 0.9999, t.chance);
  t.level = f.number_or("level", 0.5, 0.9999, t.level);
  t.seed = seed_of(f, 1);
  t.pairs = whole_of(f, "pairs", 0, 200, 0);
  t.blades = texts(f, "blades");
  t.unsealed = f.flag_or("unsealed", false);
  std::size_t index = 0;
  for (const auto& item : f.list("values")) {
    const JsonFields v(item, at(f.path_of("values"), index++));
    t.values.push_back(
        {v.text("code"), v.number("value", 1e-12, 1e12), v.flag_or("more_than", false)});
  }
  return t;
}
OrderedJson json_of(const ClaimTest& t) {
  OrderedJson out{{"id", t.claim.id},
                  {"claim", t.claim.sentence},
                  {"measure", name_of(t.claim.measure)},
                  {"first", t.claim.first},
                  {"second", t.claim.second},
                  {"sameness", t.claim.sameness},
                  {"second_higher", t.claim.second_higher},
                  {"ratio", t.claim.ratio},
                  {"pair_sd", t.claim.pair_sd},
                  {"steps", t.claim.steps},
                  {"not_tested", t.claim.not_tested},
                  {"chance", t.chance},
                  {"level", t.level},
                  {"seed", t.seed},
                  {"pairs", t.pairs},
                  {"blades", t.blades},
                  {"unsealed", t.unsealed},
                  {"values", OrderedJson::array()}};
  for (const auto& v : t.values) {
    OrderedJson item{{"code", v.code}, {"value", v.value}};
    if (v.more_than) item["more_than"] = true;
    out["values"].push_back(item);
  }
  return out;
}

std::string text_of(const OrderedJson& json, int indent) {
  return json.dump(indent, ' ', false, OrderedJson::error_handler_t::replace);
}

}  // namespace

Checked<TrialPlan> parse_plan(std::string_view json) {
  return read_json<TrialPlan>(json, [](const JsonFields& f) { return plan_of(f); });
}
bool is_plan_file(std::string_view json) {
  const In root = In::parse(json, nullptr, false);
  return root.is_object() && root.contains("factors");
}
std::string plan_json(const TrialPlan& plan) { return text_of(json_of(plan), 2) + "\n"; }

std::vector<std::string> PlanEntry::run_names() const {
  std::vector<std::string> names = issued;
  for (auto& name : names)
    if (const auto now = renamed.find(name); now != renamed.end()) name = now->second;
  return names;
}

Checked<PlanBook> parse_plan_book(std::string_view json) {
  return read_json<PlanBook>(json, [](const JsonFields& f) {
    PlanBook book;
    std::size_t index = 0;
    for (const auto& item : f.list("plans")) {
      const JsonFields entry(item, at("plans", index++));
      PlanEntry read{plan_of(entry.object("plan")), texts(entry, "issued"), {}};
      if (const auto renamed = item.find("renamed"); renamed != item.end())
        for (const auto& [sheet, now] : renamed->items())
          if (now.is_string()) read.renamed[sheet] = now.template get<std::string>();
      book.plans.push_back(std::move(read));
    }
    index = 0;
    for (const auto& item : f.list("claims"))
      book.claims.push_back(claim_of(JsonFields(item, at("claims", index++))));
    return book;
  });
}
std::string plan_book_json(const PlanBook& book) {
  OrderedJson out{{"plans", OrderedJson::array()}, {"claims", OrderedJson::array()}};
  for (const auto& entry : book.plans) {
    out["plans"].push_back(OrderedJson{{"plan", json_of(entry.plan)}, {"issued", entry.issued}});
    if (!entry.renamed.empty()) out["plans"].back()["renamed"] = entry.renamed;
  }
  for (const auto& claim : book.claims) out["claims"].push_back(json_of(claim));
  return text_of(out, -1);
}

}  // namespace bq::inline store
