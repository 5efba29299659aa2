#include "store/bench_json.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "store/record_json.h"
#include "trial/bench_fields.h"

namespace bq::inline store {
namespace {

using Json = nlohmann::json;
constexpr std::array<std::string_view, 11> kEventKinds{
    "prepared",  "gate", "cleaned", "cut",          "look",  "rest",
    "deviation", "stop", "go on",   "check weight", "stroke"};
constexpr std::array<std::string_view, 2> kSessionKinds{"damage search", "steadiness"};

}  // namespace

/// A micro-bevel's width is told where it has an angle.
template <class R>
struct WithMicroBevel {
  static void read(const JsonFields& f, R& r) {
    r.micro_um = f.number_or("micro_um", 0.1, kFarAtBench, r.micro_um);
  }
  static void write(Json& out, const R& r) {
    if (r.micro_deg) out["micro_um"] = r.micro_um;
  }
};

template <>
struct Otherwise<LookEvent> {
  static void read(const JsonFields& f, LookEvent& e) {
    e.is_thickness = !f.flag_or("is_width", false);
  }
  static void write(Json& out, const LookEvent& e) {
    if (!e.is_thickness) out["is_width"] = true;
  }
};
template <>
struct Otherwise<SearchRound> : WithMicroBevel<SearchRound> {};
template <>
struct Otherwise<DamageSearch> : WithMicroBevel<DamageSearch> {};
/// Searches of before this was asked were made with the whole of it.
template <>
DamageSearch where_nothing_is_said() {
  DamageSearch out;
  out.bevel_share = 1;
  return out;
}

template <>
struct Otherwise<SteadinessSession> {
  static void read(const JsonFields& f, SteadinessSession& s) {
    for (const Json& value : f.list("trace_tenths_deg"))
      s.trace_deg.push_back(
          float(double(whole_of(value, f.path_of("trace_tenths_deg"), -36000, 36000)) / 10));
    for (const Json& value : f.list("strokes")) {
      if (!value.is_array() || value.size() != 4 ||
          !std::all_of(value.begin(), value.end(), [](const Json& n) { return n.is_number(); }))
        f.fault("strokes", "must be lists of four numbers");
      const std::string path = f.path_of("strokes", s.strokes.size());
      s.strokes.push_back(
          {int(whole_of(value[0], path, 0, 1'000'000'000)), number_of(value[1], path, -3600, 3600),
           number_of(value[2], path, 0, 3600), number_of(value[3], path, -3600, 3600)});
    }
  }
  static void write(Json& out, const SteadinessSession& s) {
    // Tenths of a degree are finer than a hand.
    Json trace = Json::array(), strokes = Json::array();
    for (const float angle : s.trace_deg)
      trace.push_back(std::int64_t(std::lround(double(angle) * 10)));
    for (const auto& stroke : s.strokes)
      strokes.push_back({stroke.samples, stroke.mean_deg, stroke.sd_deg, stroke.tail_deg});
    out["trace_tenths_deg"] = trace;
    out["strokes"] = strokes;
  }
};

std::string_view kind_of(const BenchEventData& data) { return kEventKinds[data.index()]; }
std::string bench_event_json(const BenchEventData& data) {
  return compact_text(std::visit([](const auto& event) { return record_json(event); }, data));
}

Checked<BenchEventData> parse_bench_event(std::string_view kind, std::string_view json) {
  return read_json<BenchEventData>(json, [&](const JsonFields& f) -> Checked<BenchEventData> {
    if (const auto event = read_one_of<BenchEventData>(kEventKinds, kind, f)) return *event;
    return Refusal{"\"" + std::string(kind.substr(0, 30)) + "\" is no kind of bench event"};
  });
}

std::string_view kind_of(const BenchSession& session) {
  return kSessionKinds[session.data.index()];
}

std::string bench_session_json(const BenchSession& session) {
  return compact_text(std::visit([](const auto& data) { return record_json(data); }, session.data));
}

Checked<BenchSession> parse_bench_session(std::string_view kind, std::string_view json) {
  return read_json<BenchSession>(json, [&](const JsonFields& f) -> Checked<BenchSession> {
    if (auto data = read_one_of<decltype(BenchSession::data)>(kSessionKinds, kind, f))
      return BenchSession{0, "", std::move(*data)};
    return Refusal{"\"" + std::string(kind.substr(0, 30)) + "\" is no kind of bench session"};
  });
}

std::string protocol_json(const BenchProtocol& p) { return compact_text(record_json(p)); }

Checked<BenchProtocol> parse_protocol(std::string_view json) {
  return read_json<BenchProtocol>(json, read_record<BenchProtocol>);
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
