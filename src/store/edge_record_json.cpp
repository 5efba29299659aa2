#include "store/edge_record_json.h"

#include <array>

#include "store/section_file.h"
#include "store/shelf_records.h"
#include "trial/edge_record_fields.h"

namespace bq::inline store {
namespace {

using Json = nlohmann::json;
constexpr std::array<std::string_view, 10> kRecordKinds{
    "outline", "angle",   "thickness", "finding",    "spot",
    "section", "setting", "note",      "sharpening", "condition"};

}  // namespace

template <>
struct Otherwise<OutlineRecord> {
  static void read(const JsonFields& f, OutlineRecord& r) {
    std::size_t index = 0;
    for (const Json& point : f.list("points_mm")) {
      const auto [x, y] =
          number_pair(point, f.path_of("points_mm", index++), -kFarOnEdge_mm, kFarOnEdge_mm);
      r.points.push_back({x, y});
    }
  }
  static void write(Json& out, const OutlineRecord& r) {
    out["points_mm"] = Json::array();
    for (const auto& point : r.points) out["points_mm"].push_back({point.x_mm, point.y_mm});
  }
};

template <>
struct Otherwise<SectionRecord> {
  static void read(const JsonFields& f, SectionRecord& r) {
    const auto plan = parse_section_plan(f.raw("plan").dump());
    if (!plan) f.fault("plan", plan.refusal().reason);
    r.plan = *plan;
  }
  static void write(Json& out, const SectionRecord& r) {
    out["plan"] = Json::parse(section_plan_json(r.plan));
  }
};

/// Its object is the sharpening's own.
template <>
struct Otherwise<SharpeningRecord> {
  static void read(const JsonFields& f, SharpeningRecord& r) {
    r.sharpening = read_record<Sharpening>(f);
  }
  static void write(Json& out, const SharpeningRecord& r) { out = record_json(r.sharpening); }
};

template <>
struct Otherwise<ConditionRecord> {
  static void read(const JsonFields& f, ConditionRecord& r) {
    if (!f.has("evidence")) return;
    const Json& evidence = f.raw("evidence");
    if (!evidence.is_object()) f.fault("evidence", "must be an object: question, then answer");
    for (const auto& [question, answer] : evidence.items()) {
      if (!answer.is_string()) f.fault("evidence." + question, "must be a text");
      r.evidence[question] = answer.get<std::string>();
    }
  }
  static void write(Json& out, const ConditionRecord& r) { out["evidence"] = r.evidence; }
};

MeasuredBevel bevel_of(const JsonFields& fields) {
  const auto bevel = parse_measured_bevel(fields.text_or("bevel", ""));
  if (!bevel) fields.fault("bevel", "must be edge bevel or micro-bevel");
  return *bevel;
}

std::string_view kind_of_record(const EdgeRecordData& data) { return kRecordKinds[data.index()]; }

std::string edge_record_json(const EdgeRecordData& data) {
  // Bytes that are no UTF-8 can only come from a damaged file; they are shown as such, not thrown
  // at.
  return compact_text(std::visit([](const auto& record) { return record_json(record); }, data));
}

Checked<EdgeRecordData> parse_edge_record(std::string_view kind, std::string_view json) {
  return read_json<EdgeRecordData>(json, [&](const JsonFields& f) -> Checked<EdgeRecordData> {
    if (const auto record = read_one_of<EdgeRecordData>(kRecordKinds, kind, f)) return *record;
    return Refusal{"a record of kind \"" + std::string(kind) + "\" is not known to this version"};
  });
}

}  // namespace bq::inline store
