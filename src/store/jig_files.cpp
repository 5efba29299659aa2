#include "store/jig_files.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <locale>
#include <sstream>

#include "store/edge_record_json.h"
#include "store/json_fields.h"

namespace bq::inline store {
namespace {

using Json = nlohmann::json;
constexpr double kFar_mm = 1e4;

std::vector<OutlinePoint> outline_of(const JsonFields& fields) {
  if (fields.has("preset")) {
    const std::string wanted = fields.text("preset");
    for (int i = 0; i < 5; ++i)
      if (name_of(ProfilePreset(i)) == wanted)
        return preset_outline(ProfilePreset(i), fields.number("length_mm", 1, 2000));
    fields.fault("preset", "must be straight, drop, belly, recurve or hooked");
  }
  if (fields.has("svg_path")) {
    const auto points =
        outline_from_svg(fields.text("svg_path"), fields.number_or("scale", 1e-6, 1e6, 1));
    if (!points) fields.fault("svg_path", points.refusal().reason);
    return *points;
  }
  std::vector<OutlinePoint> points;
  std::size_t index = 0;
  for (const Json& point : fields.list("outline_mm")) {
    const auto [x, y] = number_pair(
        point, fields.path_of("outline_mm[" + std::to_string(index++) + "]"), -kFar_mm, kFar_mm);
    points.push_back({x, y});
  }
  if (points.size() < 2) fields.fault("outline_mm", "needs at least two points [x, y]");
  return points;
}

void read_stations(const JsonFields& fields, ClampQuestion& out) {
  std::size_t index = 0;
  for (const Json& item : fields.list("stations")) {
    const JsonFields station(item, "stations[" + std::to_string(index++) + "]");
    out.stations.push_back({station.text("name"), station.number("x_mm", -kFar_mm, kFar_mm)});
  }
  if (!fields.has("hold")) return;
  const JsonFields hold = fields.object("hold");
  const std::string name = hold.text("station");
  for (const auto& station : out.stations)
    if (station.name == name) out.held = station;
  if (!out.held) hold.fault("station", "\"" + name + "\" is not among the stations");
  out.held_deg = hold.number("angle_deg", 0, 80);
}

ClampQuestion clamp_of(const JsonFields& fields) {
  ClampQuestion out;
  const JsonFields pivot = fields.object("pivot");
  out.jig.pivot_x_mm = pivot.number("x_mm", -kFar_mm, kFar_mm);
  out.jig.pivot_height_mm = pivot.number("height_mm", 1e-6, kFar_mm);
  out.jig.pivot_lateral_mm = pivot.number("lateral_mm", -kFar_mm, kFar_mm);
  out.jig.offset_mm = fields.number_or("offset_mm", -kFar_mm, kFar_mm, 0);
  out.outline = outline_of(fields);
  read_stations(fields, out);
  if (fields.has("shift_limits_mm")) {
    const auto [low, high] =
        number_pair(fields.raw("shift_limits_mm"), "shift_limits_mm", -kFar_mm, kFar_mm);
    out.limits.least_shift_mm = low;
    out.limits.largest_shift_mm = high;
  }
  out.limits.largest_turn_deg = fields.number_or("turn_limit_deg", 0, 45, 0);
  const std::string aim = fields.text_or("aim", "range");
  if (aim != "range" && aim != "rms") fields.fault("aim", "must be range or rms");
  if (aim == "rms") out.aim = ClampSolver::Aim::least_rms;
  if (fields.has("ink_left_at_tip")) {
    const std::string ink = fields.text("ink_left_at_tip");
    if (ink != "apex" && ink != "shoulder")
      fields.fault("ink_left_at_tip", "must be apex or shoulder");
    out.tip_ink = ink == "apex" ? ClampSolver::TipInk::at_apex : ClampSolver::TipInk::at_shoulder;
  }
  out.notes = fields.unknown();
  return out;
}

EdgeSide side_of(const JsonFields& fields, const char* otherwise) {
  const std::string side = fields.text_or("side", otherwise);
  if (side != "left" && side != "right") fields.fault("side", "must be left or right");
  return side == "left" ? EdgeSide::left : EdgeSide::right;
}

MarkerQuestion marker_of(const JsonFields& fields) {
  MarkerQuestion out;
  MarkerSettings& s = out.settings;
  s.guess_deg = fields.number("guess_deg", 0, 80);
  s.reach_deg = fields.number_or("reach_deg", 2, 40, s.reach_deg);
  s.step_deg = fields.number_or("step_deg", 0.05, 5, s.step_deg);
  s.misread = fields.number_or("misread", 0, 0.4, s.misread);
  s.window_deg = fields.number_or("window_deg", 0.1, 3, s.window_deg);
  s.wished_width_deg = fields.number_or("wished_width_deg", 0.2, 20, s.wished_width_deg);
  std::size_t index = 0;
  for (const Json& item : fields.list("touches")) {
    const JsonFields touch(item, "touches[" + std::to_string(index++) + "]");
    const auto seen = parse_ink_seen(touch.text("ink"));
    if (!seen)
      touch.fault("ink",
                  "must be \"apex only\", \"shoulder only\", \"whole bevel\", \"middle only\", "
                  "\"nothing\" or \"patchy\"");
    out.touches.push_back({touch.number("angle_deg", 0, 80), *seen});
  }
  out.side = side_of(fields, "left");
  out.at_mm = fields.number_or("at_mm", -kFar_mm, kFar_mm, 0);
  out.bevel = bevel_of(fields);
  s.own_steps = fields.flag_or("own_steps", false);
  out.notes = fields.unknown();
  return out;
}

const char* const kGaugeKinds[] = {"zero", "reading", "zero check", "turned over"};

GaugeLogFile gauge_of(const JsonFields& fields) {
  GaugeLogFile out;
  out.options.drift_limit_deg =
      fields.number_or("drift_limit_deg", 0, 45, out.options.drift_limit_deg);
  out.options.face_taper_deg = fields.number_or("face_taper_deg", -45, 45, 0);
  std::size_t index = 0;
  for (const Json& item : fields.list("entries")) {
    const JsonFields entry(item, "entries[" + std::to_string(index++) + "]");
    const std::string kind = entry.text("kind");
    const auto found = std::find(std::begin(kGaugeKinds), std::end(kGaugeKinds), kind);
    if (found == std::end(kGaugeKinds))
      entry.fault("kind", "must be zero, reading, zero check or turned over");
    out.entries.push_back({GaugeEntry::Kind(found - std::begin(kGaugeKinds)),
                           side_of(entry, "left"), entry.number_or("at_mm", -kFar_mm, kFar_mm, 0),
                           entry.number("angle_deg", -360, 360)});
  }
  out.bevel = bevel_of(fields);
  return out;
}

}  // namespace

Checked<ClampQuestion> parse_clamp_file(std::string_view text) {
  return read_json<ClampQuestion>(text, clamp_of);
}

std::string jig_text(const ClampJig& jig) {
  std::ostringstream out;
  out.imbue(std::locale::classic());
  out.precision(10);
  out << jig.pivot_x_mm << ' ' << jig.pivot_lateral_mm << ' ' << jig.pivot_height_mm << ' '
      << jig.offset_mm;
  return out.str();
}

std::optional<ClampJig> parse_jig_text(std::string_view text) {
  std::istringstream in{std::string(text)};
  in.imbue(std::locale::classic());
  ClampJig jig;
  if (!(in >> jig.pivot_x_mm >> jig.pivot_lateral_mm >> jig.pivot_height_mm >> jig.offset_mm))
    return std::nullopt;
  for (const double value :
       {jig.pivot_x_mm, jig.pivot_lateral_mm, jig.pivot_height_mm, jig.offset_mm})
    if (!std::isfinite(value) || std::fabs(value) > kFar_mm) return std::nullopt;
  return jig.pivot_height_mm > 0 ? std::optional(jig) : std::nullopt;
}

Checked<MarkerQuestion> parse_marker_file(std::string_view text) {
  return read_json<MarkerQuestion>(text, marker_of);
}

Checked<GaugeLogFile> parse_gauge_log(std::string_view text) {
  return read_json<GaugeLogFile>(text, gauge_of);
}

std::string marker_file_json(const MarkerQuestion& question) {
  const MarkerSettings& s = question.settings;
  Json out{{"guess_deg", s.guess_deg},       {"reach_deg", s.reach_deg},
           {"step_deg", s.step_deg},         {"misread", s.misread},
           {"window_deg", s.window_deg},     {"wished_width_deg", s.wished_width_deg},
           {"side", name_of(question.side)}, {"at_mm", question.at_mm},
           {"touches", Json::array()}};
  for (const auto& touch : question.touches)
    out["touches"].push_back({{"angle_deg", touch.trial_deg}, {"ink", name_of(touch.seen)}});
  if (question.bevel != MeasuredBevel::not_said) out["bevel"] = name_of(question.bevel);
  if (s.own_steps) out["own_steps"] = true;
  return out.dump();
}

std::string gauge_log_json(const GaugeLogFile& log) {
  Json out{{"drift_limit_deg", log.options.drift_limit_deg},
           {"face_taper_deg", log.options.face_taper_deg},
           {"entries", Json::array()}};
  for (const auto& entry : log.entries)
    out["entries"].push_back({{"kind", kGaugeKinds[std::size_t(entry.kind)]},
                              {"side", name_of(entry.side)},
                              {"at_mm", entry.station_mm},
                              {"angle_deg", entry.angle_deg}});
  if (log.bevel != MeasuredBevel::not_said) out["bevel"] = name_of(log.bevel);
  return out.dump();
}

}  // namespace bq::inline store
