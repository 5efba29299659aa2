#include "store/bench_json.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "store/json_fields.h"

namespace bq::inline store {
namespace {

using Json = nlohmann::json;
constexpr double kFarAtBench = 1e9;
constexpr std::array<std::string_view, 11> kEventKinds{
    "prepared",  "gate", "cleaned", "cut",          "look",  "rest",
    "deviation", "stop", "go on",   "check weight", "stroke"};

Unit unit_of(const JsonFields& f, const char* key, const char* otherwise) {
  const auto unit = parse_unit(f.text_or(key, otherwise));
  if (!unit) f.fault(key, unit.refusal().reason);
  return *unit;
}

std::int64_t whole(const JsonFields& f, const char* key, double least, double otherwise) {
  return std::int64_t(f.number_or(key, least, 9e15, otherwise));
}

Json look_json(const LookEvent& e) {
  Json out{{"found", name_of(e.found)}};
  put_given(out, "widest_um", e.widest_um);
  if (!e.is_thickness) out["is_width"] = true;
  put_given(out, "at_mm", e.at_mm);
  put_given(out, "note", e.note);
  if (e.picture) out["picture"] = e.picture;
  return out;
}

LookEvent look_of(const JsonFields& f) {
  return {f.word_or("found", parse_damage_found, "clean"),
          f.number_if("widest_um", 0, kFarAtBench),
          !f.flag_or("is_width", false),
          f.number_if("at_mm", -kFarAtBench, kFarAtBench),
          f.text_or("note", ""),
          whole(f, "picture", 0, 0)};
}

struct EventWriter {
  Json operator()(const PreparedEvent& e) const {
    Json out = Json::object();
    put_given(out, "note", e.note);
    put_given(out, "medium_batch", e.medium_batch);
    return out;
  }
  Json operator()(const GateEvent& e) const {
    Json out{{"verdict", e.verdict}, {"passed", e.passed}};
    put_given(out, "reason", e.reason);
    return out;
  }
  Json operator()(const CleanedEvent&) const { return Json::object(); }
  Json operator()(const CutEvent& e) const { return {{"planned", e.planned}, {"made", e.made}}; }
  Json operator()(const LookEvent& e) const { return look_json(e); }
  Json operator()(const RestEvent& e) const {
    return {{"planned_s", e.planned_s}, {"taken_s", e.taken_s}};
  }
  Json operator()(const DeviationEvent& e) const { return {{"what", e.what}}; }
  Json operator()(const StopEvent& e) const {
    return {{"rule", name_of(e.rule)}, {"reason", e.reason}};
  }
  Json operator()(const GoOnEvent& e) const { return {{"reason", e.reason}}; }
  Json operator()(const CheckWeightEvent& e) const {
    Json out{{"nominal", e.nominal}, {"unit", sign_of(e.unit)}};
    put_given(out, "value", e.value);
    put_given(out, "gauge", e.gauge);
    if (e.last_reading) out["last_reading"] = e.last_reading;
    put_given(out, "note", e.note);
    return out;
  }
  Json operator()(const StrokeEvent& e) const {
    Json out{
        {"stroke", e.stroke}, {"peak_N", e.peak_N}, {"mean_N", e.mean_N}, {"work_J", e.work_J}};
    put_given(out, "trouble", e.trouble);
    return out;
  }
};

void put_micro(Json& out, const std::optional<double>& deg, double um) {
  if (!deg) return;
  out["micro_deg"] = *deg;
  out["micro_um"] = um;
}

Json session_json(const DamageSearch& s) {
  Json out{{"name", s.name},
           {"start_angle_deg", s.start_angle_deg},
           {"step_deg", s.step_deg},
           {"bevel_share", s.bevel_share},
           {"rough_cuts", s.rough_cuts},
           {"confirm_cuts", s.confirm_cuts},
           {"ended", s.ended},
           {"rounds", Json::array()}};
  put_given(out, "blade", s.blade);
  put_given(out, "steel", s.steel);
  put_given(out, "medium", s.medium);
  put_given(out, "roughest_use", s.roughest_use);
  if (s.cut_mode) out["cut_mode"] = name_of(*s.cut_mode);
  put_micro(out, s.micro_deg, s.micro_um);
  put_given(out, "note", s.note);
  for (const auto& round : s.rounds) {
    Json item{{"edge_angle_deg", round.edge_angle_deg},
              {"bevel_thickness_um", round.bevel_thickness_um},
              {"cuts", round.cuts},
              {"confirmation", round.confirmation},
              {"look", look_json(round.look)}};
    put_given(item, "done_at", round.done_at);
    put_given(item, "operator", round.by_operator);
    if (round.base_deg > 0) item["base_deg"] = round.base_deg;
    put_micro(item, round.micro_deg, round.micro_um);
    put_given(item, "finish_um", round.finish_um);
    out["rounds"].push_back(std::move(item));
  }
  return out;
}

Json session_json(const SteadinessSession& s) {
  // Tenths of a degree are finer than a hand.
  Json trace = Json::array(), strokes = Json::array();
  for (const float angle : s.trace_deg)
    trace.push_back(std::int64_t(std::lround(double(angle) * 10)));
  for (const auto& stroke : s.strokes)
    strokes.push_back({stroke.samples, stroke.mean_deg, stroke.sd_deg, stroke.tail_deg});
  Json out{{"target_deg", s.target_deg},
           {"rate_hz", s.rate_hz},
           {"trace_tenths_deg", trace},
           {"strokes", strokes}};
  put_given(out, "operator", s.by_operator);
  put_given(out, "blade", s.blade);
  put_given(out, "note", s.note);
  return out;
}

DamageSearch search_of(const JsonFields& f) {
  DamageSearch s;
  s.name = f.text_or("name", "");
  s.blade = f.text_or("blade", "");
  s.steel = f.text_or("steel", "");
  s.medium = f.text_or("medium", "");
  s.roughest_use = f.text_or("roughest_use", "");
  s.start_angle_deg = f.number_or("start_angle_deg", 1, 60, s.start_angle_deg);
  s.step_deg = f.number_or("step_deg", 0.1, 30, s.step_deg);
  // Searches of before this was asked were made with the whole of it.
  s.bevel_share = f.number_or("bevel_share", 0.05, 10, 1);
  if (f.has("cut_mode")) {
    s.cut_mode = parse_cut_mode(f.text("cut_mode"));
    if (!s.cut_mode) f.fault("cut_mode", "must be push, slice or chop");
  }
  s.micro_deg = f.number_if("micro_deg", 0.1, 80);
  s.micro_um = f.number_or("micro_um", 0.1, kFarAtBench, s.micro_um);
  s.rough_cuts = whole(f, "rough_cuts", 1, double(s.rough_cuts));
  s.confirm_cuts = whole(f, "confirm_cuts", 1, double(s.confirm_cuts));
  s.ended = f.flag_or("ended", false);
  s.note = f.text_or("note", "");
  std::size_t index = 0;
  for (const Json& item : f.list("rounds")) {
    const JsonFields r(item, f.path_of("rounds", index++));
    s.rounds.push_back(
        {r.number("edge_angle_deg", 0.1, 80), r.number_or("bevel_thickness_um", 0, kFarAtBench, 0),
         whole(r, "cuts", 0, 0), r.flag_or("confirmation", false), look_of(r.object("look")),
         r.text_or("done_at", ""), r.text_or("operator", ""), r.number_or("base_deg", 0, 80, 0),
         r.number_if("micro_deg", 0.1, 80), r.number_or("micro_um", 0.1, kFarAtBench, 60),
         r.number_if("finish_um", 0.001, 2000)});
  }
  return s;
}

SteadinessSession steadiness_session_of(const JsonFields& f) {
  SteadinessSession s;
  s.by_operator = f.text_or("operator", "");
  s.blade = f.text_or("blade", "");
  s.target_deg = f.number_or("target_deg", 0.1, 80, s.target_deg);
  s.rate_hz = f.number_or("rate_hz", 1, 5000, s.rate_hz);
  s.note = f.text_or("note", "");
  for (const Json& value : f.list("trace_tenths_deg")) {
    s.trace_deg.push_back(
        float(double(whole_of(value, f.path_of("trace_tenths_deg"), -36000, 36000)) / 10));
  }
  for (const Json& value : f.list("strokes")) {
    if (!value.is_array() || value.size() != 4 ||
        !std::all_of(value.begin(), value.end(), [](const Json& n) { return n.is_number(); }))
      f.fault("strokes", "must be lists of four numbers");
    const auto part = [&](std::size_t i, double least, double most) {
      return number_of(value[i], f.path_of("strokes", s.strokes.size()), least, most);
    };
    s.strokes.push_back(
        {int(whole_of(value[0], f.path_of("strokes", s.strokes.size()), 0, 1'000'000'000)),
         part(1, -3600, 3600), part(2, 0, 3600), part(3, -3600, 3600)});
  }
  return s;
}

}  // namespace

std::string_view kind_of(const BenchEventData& data) { return kEventKinds[data.index()]; }
std::string bench_event_json(const BenchEventData& data) {
  return compact_text(std::visit(EventWriter{}, data));
}

Checked<BenchEventData> parse_bench_event(std::string_view kind, std::string_view json) {
  return read_json<BenchEventData>(json, [&](const JsonFields& f) -> Checked<BenchEventData> {
    const auto is = [&](std::size_t i) { return kind == kEventKinds[i]; };
    if (is(0))
      return BenchEventData(PreparedEvent{f.text_or("note", ""), f.text_or("medium_batch", "")});
    if (is(1))
      return BenchEventData(
          GateEvent{f.text_or("verdict", ""), f.flag_or("passed", true), f.text_or("reason", "")});
    if (is(2)) return BenchEventData(CleanedEvent{});
    if (is(3)) return BenchEventData(CutEvent{whole(f, "planned", 0, 0), whole(f, "made", 0, 0)});
    if (is(4)) return BenchEventData(look_of(f));
    if (is(5))
      return BenchEventData(RestEvent{f.number_or("planned_s", 0, kFarAtBench, 0),
                                      f.number_or("taken_s", 0, kFarAtBench, 0)});
    if (is(6)) return BenchEventData(DeviationEvent{f.text_or("what", "")});
    if (is(7))
      return BenchEventData(
          StopEvent{f.word_or("rule", parse_stop_rule, "wish"), f.text_or("reason", "")});
    if (is(8)) return BenchEventData(GoOnEvent{f.text_or("reason", "")});
    if (is(9))
      return BenchEventData(CheckWeightEvent{
          f.number("nominal", 1e-9, kFarAtBench), f.number_if("value", -kFarAtBench, kFarAtBench),
          unit_of(f, "unit", "gf"), f.text_or("gauge", ""), whole(f, "last_reading", 0, 0),
          f.text_or("note", "")});
    if (is(10))
      return BenchEventData(StrokeEvent{
          whole(f, "stroke", 0, 0), f.number_or("peak_N", -kFarAtBench, kFarAtBench, 0),
          f.number_or("mean_N", -kFarAtBench, kFarAtBench, 0),
          f.number_or("work_J", -kFarAtBench, kFarAtBench, 0), f.text_or("trouble", "")});
    return Refusal{"\"" + std::string(kind.substr(0, 30)) + "\" is no kind of bench event"};
  });
}

std::string_view kind_of(const BenchSession& session) {
  return session.data.index() == 0 ? "damage search" : "steadiness";
}

std::string bench_session_json(const BenchSession& session) {
  return compact_text(
      std::visit([](const auto& data) { return session_json(data); }, session.data));
}

Checked<BenchSession> parse_bench_session(std::string_view kind, std::string_view json) {
  return read_json<BenchSession>(json, [&](const JsonFields& f) -> Checked<BenchSession> {
    if (kind == "damage search") return BenchSession{0, "", search_of(f)};
    if (kind == "steadiness") return BenchSession{0, "", steadiness_session_of(f)};
    return Refusal{"\"" + std::string(kind.substr(0, 30)) + "\" is no kind of bench session"};
  });
}

std::string protocol_json(const BenchProtocol& p) {
  Json out{{"stations", p.stations},
           {"prepare", p.prepare},
           {"gate", p.gate},
           {"clean", p.clean},
           {"look", p.look},
           {"count_by", name_of(p.count_by)},
           {"seconds_per_cut", p.seconds_per_cut},
           {"sound", p.sound},
           {"stroke_mm", p.stroke_mm},
           {"rest_after_min", p.rest_after_min},
           {"rest_min", p.rest_min},
           {"stop_at_threshold", p.stop_at_threshold},
           {"stop_on_damage", p.stop_on_damage},
           {"most_cuts", p.most_cuts},
           {"check_nominal", p.check_nominal},
           {"check_unit", sign_of(p.check_unit)},
           {"check_limit_percent", p.check_limit_percent},
           {"debounce_ms", p.debounce_ms}};
  put_given(out, "loading_rate", p.loading_rate);
  put_given(out, "filament_lot", p.filament_lot);
  put_given(out, "medium_batch", p.medium_batch);
  return compact_text(out);
}

Checked<BenchProtocol> parse_protocol(std::string_view json) {
  return read_json<BenchProtocol>(json, [](const JsonFields& f) -> Checked<BenchProtocol> {
    BenchProtocol p;
    if (f.has("stations")) {
      p.stations.clear();
      for (const Json& station : f.list("stations")) {
        if (!station.is_string()) f.fault("stations", "must be names");
        p.stations.push_back(station.get<std::string>());
      }
    }
    p.prepare = f.flag_or("prepare", p.prepare);
    p.gate = f.flag_or("gate", p.gate);
    p.clean = f.flag_or("clean", p.clean);
    p.look = f.flag_or("look", p.look);
    p.count_by = f.word_or("count_by", parse_count_by, name_of(p.count_by));
    p.seconds_per_cut = f.number_or("seconds_per_cut", 0, 600, p.seconds_per_cut);
    p.sound = f.flag_or("sound", p.sound);
    p.stroke_mm = f.number_or("stroke_mm", 0, 10000, p.stroke_mm);
    p.rest_after_min = f.number_or("rest_after_min", 0, 600, p.rest_after_min);
    p.rest_min = f.number_or("rest_min", 0, 600, p.rest_min);
    p.stop_at_threshold = f.flag_or("stop_at_threshold", p.stop_at_threshold);
    p.stop_on_damage = f.flag_or("stop_on_damage", p.stop_on_damage);
    p.most_cuts = whole(f, "most_cuts", 0, 0);
    p.loading_rate = f.text_or("loading_rate", "");
    p.filament_lot = f.text_or("filament_lot", "");
    p.medium_batch = f.text_or("medium_batch", "");
    p.check_nominal = f.number_or("check_nominal", 0, kFarAtBench, 0);
    p.check_unit = unit_of(f, "check_unit", "gf");
    p.check_limit_percent = f.number_or("check_limit_percent", 0.01, 50, p.check_limit_percent);
    p.debounce_ms = int(f.number_or("debounce_ms", 0, 2000, p.debounce_ms));
    if (const std::string fault = fault_of(p); !fault.empty()) return Refusal{fault};
    return p;
  });
}

std::string instruments_json(const std::vector<InstrumentProfile>& profiles) {
  Json list = Json::array();
  for (const auto& p : profiles) {
    Json item{
        {"role", name_of(p.role)}, {"name", p.name}, {"baud", p.baud}, {"unit", sign_of(p.unit)}};
    put_given(item, "port", p.port);
    put_given(item, "pattern", p.pattern);
    put_given(item, "request", p.request);
    put_given(item, "capacity", p.capacity);
    put_given(item, "resolution", p.resolution);
    if (p.rate_hz > 0) item["rate_hz"] = p.rate_hz;
    if (p.ends_with_cr) item["ends_with_cr"] = true;
    put_given(item, "overload_text", p.overload_text);
    put_given(item, "unstable_text", p.unstable_text);
    list.push_back(std::move(item));
  }
  return compact_text({{"instruments", list}});
}

Checked<std::vector<InstrumentProfile>> parse_instruments(std::string_view json) {
  return read_json<std::vector<InstrumentProfile>>(
      json, [](const JsonFields& root) -> Checked<std::vector<InstrumentProfile>> {
        std::vector<InstrumentProfile> out;
        std::size_t index = 0;
        for (const Json& item : root.list("instruments")) {
          const JsonFields f(item, root.path_of("instruments", index++));
          InstrumentProfile p = usual_profile(f.word_or("role", parse_instrument_role, "gauge"));
          p.name = f.text_or("name", p.name);
          p.port = f.text_or("port", "");
          p.baud = int(f.number_or("baud", 1, 1e6, p.baud));
          p.pattern = f.text_or("pattern", "");
          if (f.has("unit")) {
            const auto unit = parse_instrument_unit(f.text("unit"));
            if (!unit) f.fault("unit", unit.refusal().reason);
            p.unit = *unit;
          }
          p.request = f.text_or("request", "");
          p.capacity = f.number_if("capacity", 1e-9, kFarAtBench);
          p.resolution = f.number_if("resolution", 1e-9, kFarAtBench);
          p.rate_hz = f.number_or("rate_hz", 0, 5000, 0);
          p.ends_with_cr = f.flag_or("ends_with_cr", false);
          p.overload_text = f.text_or("overload_text", "");
          p.unstable_text = f.text_or("unstable_text", "");
          if (const std::string fault = fault_of(p); !fault.empty())
            return Refusal{root.path_of("instruments", index - 1) + ": " + fault};
          out.push_back(std::move(p));
        }
        return out;
      });
}

}  // namespace bq::inline store
