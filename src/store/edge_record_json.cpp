#include "store/edge_record_json.h"

#include <array>

#include "store/json_fields.h"
#include "store/section_file.h"
#include "store/shelf_json.h"

namespace bq::inline store {
namespace {

using Json = nlohmann::json;
constexpr double kFarOnEdge = 1e5;
constexpr std::array<std::string_view, 10> kRecordKinds{
    "outline", "angle",   "thickness", "finding",    "spot",
    "section", "setting", "note",      "sharpening", "condition"};

struct RecordWriter {
  Json operator()(const OutlineRecord& r) const {
    Json points = Json::array();
    for (const auto& point : r.points) points.push_back({point.x_mm, point.y_mm});
    return {{"origin", r.origin}, {"points_mm", points}};
  }
  Json operator()(const AngleRecord& r) const {
    Json out{{"side", name_of(r.side)},
             {"at_mm", r.at_mm},
             {"angle_deg", r.angle_deg},
             {"plus_minus_deg", r.plus_minus_deg},
             {"method", r.method}};
    if (r.bevel != MeasuredBevel::not_said) out["bevel"] = name_of(r.bevel);
    return out;
  }
  Json operator()(const ThicknessRecord& r) const {
    return {{"at_mm", r.at_mm}, {"distance_mm", r.distance_mm}, {"thickness_mm", r.thickness_mm}};
  }
  Json operator()(const FindingRecord& r) const {
    Json out{{"check", name_of(r.check)}, {"trouble", r.trouble}, {"note", r.note}};
    if (r.at_mm) out["at_mm"] = *r.at_mm;
    if (r.size_mm) out["size_mm"] = *r.size_mm;
    return out;
  }
  Json operator()(const SpotRecord& r) const {
    Json out{{"kind", name_of(r.kind)},
             {"at_mm", r.at_mm},
             {"size_um", r.size_um},
             {"cleared", r.cleared},
             {"note", r.note}};
    if (r.side) out["side"] = name_of(*r.side);
    return out;
  }
  Json operator()(const SectionRecord& r) const {
    return {{"plan", Json::parse(section_plan_json(r.plan))}, {"note", r.note}};
  }
  Json operator()(const SettingRecord& r) const {
    return {{"angle_deg", r.angle_deg},
            {"pivot_x_mm", r.pivot_x_mm},
            {"pivot_lateral_mm", r.pivot_lateral_mm},
            {"pivot_height_mm", r.pivot_height_mm},
            {"offset_mm", r.offset_mm},
            {"shift_mm", r.shift_mm},
            {"turn_deg", r.turn_deg},
            {"range_deg", r.range_deg},
            {"note", r.note}};
  }
  Json operator()(const NoteRecord& r) const { return {{"text", r.text}}; }
  Json operator()(const SharpeningRecord& r) const {
    return Json::parse(sharpening_json(r.sharpening));
  }
  Json operator()(const ConditionRecord& r) const {
    Json out{{"condition", r.condition},
             {"name", r.name},
             {"probability", r.probability},
             {"evidence", r.evidence},
             {"note", r.note}};
    if (!r.run.empty()) out["run"] = r.run;
    if (r.at_mm) out["at_mm"] = *r.at_mm;
    return out;
  }
};

EdgeSide side_of(const JsonFields& f) {
  const std::string side = f.text("side");
  if (side != "left" && side != "right") f.fault("side", "must be left or right");
  return side == "left" ? EdgeSide::left : EdgeSide::right;
}

ConditionRecord condition_of(const JsonFields& f) {
  ConditionRecord out{f.text_or("condition", ""),
                      f.text_or("name", ""),
                      f.number_or("probability", 0, 1, 0),
                      {},
                      f.text_or("run", ""),
                      f.number_if("at_mm", -kFarOnEdge, kFarOnEdge),
                      f.text_or("note", "")};
  if (!f.has("evidence")) return out;
  const Json& evidence = f.raw("evidence");
  if (!evidence.is_object()) f.fault("evidence", "must be an object: question, then answer");
  for (const auto& [question, answer] : evidence.items()) {
    if (!answer.is_string()) f.fault("evidence." + question, "must be a text");
    out.evidence[question] = answer.get<std::string>();
  }
  return out;
}

EdgeRecordData record_of(std::string_view kind, const JsonFields& f) {
  if (kind == "outline") {
    OutlineRecord out{f.text_or("origin", ""), {}};
    std::size_t index = 0;
    for (const Json& point : f.list("points_mm")) {
      const auto [x, y] =
          number_pair(point, "points_mm[" + std::to_string(index++) + "]", -kFarOnEdge, kFarOnEdge);
      out.points.push_back({x, y});
    }
    return out;
  }
  if (kind == "angle")
    return AngleRecord{side_of(f),
                       f.number("at_mm", -kFarOnEdge, kFarOnEdge),
                       f.number("angle_deg", 0, 80),
                       f.number_or("plus_minus_deg", 0, 80, 0),
                       f.text_or("method", ""),
                       bevel_of(f)};
  if (kind == "thickness")
    return ThicknessRecord{f.number("at_mm", -kFarOnEdge, kFarOnEdge),
                           f.number("distance_mm", 0, 500), f.number("thickness_mm", 0, 50)};
  if (kind == "finding") {
    const auto check = parse_intake_check(f.text("check"));
    if (!check) f.fault("check", "is not a check this version knows");
    return FindingRecord{*check, f.raw("trouble").is_boolean() && f.raw("trouble").get<bool>(),
                         f.number_if("at_mm", -kFarOnEdge, kFarOnEdge),
                         f.number_if("size_mm", 0, 500), f.text_or("note", "")};
  }
  if (kind == "spot") {
    const auto spot = parse_spot_kind(f.text("kind"));
    if (!spot) f.fault("kind", "is not a kind of spot this version knows");
    const bool cleared =
        f.has("cleared") && f.raw("cleared").is_boolean() && f.raw("cleared").get<bool>();
    return SpotRecord{*spot,
                      f.has("side") ? std::optional(side_of(f)) : std::nullopt,
                      f.number("at_mm", -kFarOnEdge, kFarOnEdge),
                      f.number_or("size_um", 0, 1e6, 0),
                      cleared,
                      f.text_or("note", "")};
  }
  if (kind == "section") {
    const auto plan = parse_section_plan(f.raw("plan").dump());
    if (!plan) f.fault("plan", plan.refusal().reason);
    return SectionRecord{*plan, f.text_or("note", "")};
  }
  if (kind == "setting") {
    const auto far = [&](const char* key) { return f.number_or(key, -kFarOnEdge, kFarOnEdge, 0); };
    return SettingRecord{f.number("angle_deg", 0, 80),
                         far("pivot_x_mm"),
                         far("pivot_lateral_mm"),
                         far("pivot_height_mm"),
                         far("offset_mm"),
                         far("shift_mm"),
                         far("turn_deg"),
                         far("range_deg"),
                         f.text_or("note", "")};
  }
  if (kind == "note") return NoteRecord{f.text("text")};
  if (kind == "condition") return condition_of(f);
  throw JsonFault{"a record of kind \"" + std::string(kind) + "\" is not known to this version"};
}

}  // namespace

MeasuredBevel bevel_of(const JsonFields& fields) {
  const auto bevel = parse_measured_bevel(fields.text_or("bevel", ""));
  if (!bevel) fields.fault("bevel", "must be edge bevel or micro-bevel");
  return *bevel;
}

std::string_view kind_of_record(const EdgeRecordData& data) { return kRecordKinds[data.index()]; }

std::string edge_record_json(const EdgeRecordData& data) {
  // Bytes that are no UTF-8 can only come from a damaged file; they are shown as such, not thrown
  // at.
  return std::visit(RecordWriter{}, data).dump(-1, ' ', false, Json::error_handler_t::replace);
}

Checked<EdgeRecordData> parse_edge_record(std::string_view kind, std::string_view json) {
  if (kind == "sharpening") {
    const auto sharpening = parse_sharpening(json);
    if (!sharpening) return sharpening.refusal();
    return EdgeRecordData(SharpeningRecord{*sharpening});
  }
  return read_json<EdgeRecordData>(
      json, [&](const JsonFields& fields) { return record_of(kind, fields); });
}

}  // namespace bq::inline store
