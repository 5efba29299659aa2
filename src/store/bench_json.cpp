#include "store/bench_json.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "instrument/instrument_fields.h"
#include "quantity/said.h"
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
        f.fault("strokes", said("must be lists of four numbers"));
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

template <>
struct JsonValue<InstrumentUnit> {
  static InstrumentUnit read(const Json& value, const std::string& path, double, double) {
    if (!value.is_string()) throw JsonFault{said("{path}: must be a text", {{"path", path}})};
    const auto unit = parse_instrument_unit(value.get<std::string>());
    if (!unit) throw JsonFault{path + ": " + unit.refusal().reason};
    return *unit;
  }
  template <class Out>
  static Out json(const InstrumentUnit& unit) {
    return sign_of(unit);
  }
};
/// What is not said is as usual for what it is used for.
template <>
struct Otherwise<InstrumentProfile> : NothingElse<InstrumentProfile> {
  static void read(const JsonFields& f, InstrumentProfile& profile) {
    const InstrumentProfile usual = usual_profile(profile.role);
    if (!f.has("name")) profile.name = usual.name;
    if (!f.has("baud")) profile.baud = usual.baud;
    if (!f.has("unit")) profile.unit = usual.unit;
  }
};

std::string_view kind_of(const BenchEventData& data) { return kEventKinds[data.index()]; }
std::string bench_event_json(const BenchEventData& data) {
  return compact_text(std::visit([](const auto& event) { return record_json(event); }, data));
}

Checked<BenchEventData> parse_bench_event(std::string_view kind, std::string_view json) {
  return read_json<BenchEventData>(json, [&](const JsonFields& f) -> Checked<BenchEventData> {
    if (const auto event = read_one_of<BenchEventData>(kEventKinds, kind, f)) return *event;
    return Refusal{
        said("\"{kind}\" is no kind of bench event", {{"kind", std::string(kind.substr(0, 30))}})};
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
    return Refusal{said("\"{kind}\" is no kind of bench session",
                        {{"kind", std::string(kind.substr(0, 30))}})};
  });
}

std::string protocol_json(const BenchProtocol& p) { return compact_text(record_json(p)); }

Checked<BenchProtocol> parse_protocol(std::string_view json) {
  return read_json<BenchProtocol>(json, read_record<BenchProtocol>);
}

std::string instruments_json(const std::vector<InstrumentProfile>& profiles) {
  Json list = Json::array();
  for (const auto& profile : profiles) list.push_back(record_json(profile));
  return compact_text({{"instruments", list}});
}

Checked<std::vector<InstrumentProfile>> parse_instruments(std::string_view json) {
  using Profiles = std::vector<InstrumentProfile>;
  return read_json<Profiles>(json, [](const JsonFields& root) -> Checked<Profiles> {
    Profiles out;
    for (const Json& item : root.list("instruments")) {
      const std::string path = root.path_of("instruments", out.size());
      out.push_back(read_record<InstrumentProfile>(root.item(item, path)));
      if (const std::string fault = fault_of(out.back()); !fault.empty())
        return Refusal{path + ": " + fault};
    }
    return out;
  });
}

}  // namespace bq::inline store
