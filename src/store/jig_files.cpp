#include "store/jig_files.h"

#include <cmath>
#include <locale>
#include <sstream>

#include "quantity/said.h"
#include "store/jig_fields.h"
#include "store/record_json.h"

namespace bq::inline store {
namespace {

using Json = nlohmann::json;
constexpr double kFar_mm = kFarOnBlade_mm;

std::vector<OutlinePoint> outline_of(const JsonFields& fields) {
  if (fields.has("preset")) {
    const std::string wanted = fields.text("preset");
    for (int i = 0; i < 5; ++i)
      if (name_of(ProfilePreset(i)) == wanted)
        return preset_outline(ProfilePreset(i), fields.number("length_mm", 1, 2000));
    fields.fault("preset", said("must be straight, drop, belly, recurve or hooked"));
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
  if (points.size() < 2) fields.fault("outline_mm", said("needs at least two points [x, y]"));
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
  if (!out.held)
    hold.fault("station", said("\"{name}\" is not among the stations", {{"name", name}}));
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
  if (aim != "range" && aim != "rms") fields.fault("aim", said("must be range or rms"));
  if (aim == "rms") out.aim = ClampSolver::Aim::least_rms;
  if (fields.has("ink_left_at_tip")) {
    const std::string ink = fields.text("ink_left_at_tip");
    if (ink != "apex" && ink != "shoulder")
      fields.fault("ink_left_at_tip", said("must be apex or shoulder"));
    out.tip_ink = ink == "apex" ? ClampSolver::TipInk::at_apex : ClampSolver::TipInk::at_shoulder;
  }
  out.notes = fields.unknown();
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
  return read_json<MarkerQuestion>(text, [](const JsonFields& fields) {
    auto out = read_record<MarkerQuestion>(fields);
    out.notes = fields.unknown();
    return out;
  });
}

Checked<GaugeLogFile> parse_gauge_log(std::string_view text) {
  return read_json<GaugeLogFile>(text, read_record<GaugeLogFile>);
}

std::string marker_file_json(const MarkerQuestion& question) {
  return compact_text(record_json(question));
}

std::string gauge_log_json(const GaugeLogFile& log) { return compact_text(record_json(log)); }

}  // namespace bq::inline store
