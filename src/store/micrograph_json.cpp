#include "store/micrograph_json.h"

#include <algorithm>

#include "quantity/said.h"
#include "store/record_json.h"
#include "trial/micrograph_fields.h"

namespace bq::inline store {
namespace {

using Json = nlohmann::json;

Json spots_json(const std::vector<Spot>& spots) {
  Json out = Json::array();
  for (const Spot& p : spots) out.push_back({p.x, p.y});
  return out;
}

std::vector<Spot> spots_of(const JsonFields& f, const char* key) {
  std::vector<Spot> out;
  std::size_t index = 0;
  for (const Json& item : f.list(key)) {
    const auto [x, y] = number_pair(item, f.path_of(key, index++), -kFarInPicture, kFarInPicture);
    out.push_back({x, y});
  }
  return out;
}

std::pair<Spot, Spot> two_spots_of(const JsonFields& f, const char* key) {
  const auto points = spots_of(f, key);
  if (points.size() != 2) f.fault(key, said("two points are wanted"));
  return {points[0], points[1]};
}

std::vector<double> depths_of(const JsonFields& f) {
  std::vector<double> out;
  for (const Json& item : f.list("depth_px")) {
    if (!item.is_number() || out.size() >= 400)
      f.fault("depth_px", said("at most 400 numbers are wanted"));
    out.push_back(std::clamp(item.get<double>(), -kFarInPicture, kFarInPicture));
  }
  return out;
}

/// A list of four numbers.
std::array<double, 4> four_of(const JsonFields& f, const char* key, const Json& list) {
  if (!list.is_array() || list.size() != 4 ||
      !std::all_of(list.begin(), list.end(), [](const Json& n) { return n.is_number(); }))
    f.fault(key, said("four numbers are wanted"));
  return {list[0].get<double>(), list[1].get<double>(), list[2].get<double>(),
          list[3].get<double>()};
}

double far_or_none(const JsonFields& f, const char* key) {
  return f.number_or(key, 0, kFarInPicture, 0);
}

}  // namespace

template <>
struct Otherwise<ScaleReading> {
  static void read(const JsonFields& f, ScaleReading& r) {
    std::tie(r.from, r.to) = two_spots_of(f, "points");
  }
  static void write(Json& out, const ScaleReading& r) {
    out["points"] = spots_json({r.from, r.to});
  }
};

template <>
struct Otherwise<LensTake> {
  static void read(const JsonFields& f, LensTake& t) {
    t.points = spots_of(f, "points");
    t.drawn = spots_of(f, "drawn");
    t.snapped = !f.flag_or("by_hand", false);
    t.second_error = far_or_none(f, "second_error");
    t.second_common = far_or_none(f, "second_common");
  }
  static void write(Json& out, const LensTake& t) {
    out["points"] = spots_json(t.points);
    out["drawn"] = spots_json(t.drawn);
    if (!t.snapped) out["by_hand"] = true;
    if (t.second) out["second_error"] = t.second_error;
    if (t.second && t.second_common > 0) out["second_common"] = t.second_common;
  }
};

template <>
struct Otherwise<LensMeasure> : NothingElse<LensMeasure> {
  static void read(const JsonFields& f, LensMeasure& m) {
    if (m.takes.empty()) f.fault("takes", said("a measure was taken once at least"));
  }
};

template <>
struct Otherwise<StretchRecession> {
  static void read(const JsonFields& f, StretchRecession& r) { r.depth_px = depths_of(f); }
  static void write(Json& out, const StretchRecession& r) { out["depth_px"] = r.depth_px; }
};

template <>
struct Otherwise<EdgeStretch> {
  static void read(const JsonFields& f, EdgeStretch& s) {
    std::tie(s.from, s.to) = two_spots_of(f, "ends");
    std::size_t index = 0;
    for (const Json& item : f.list("chips"))
      s.chips.push_back(number_pair(item, f.path_of("chips", index++), 0, kFarInPicture));
    s.depth_px = depths_of(f);
    s.cutoff_px = far_or_none(f, "cutoff_px");
    s.wavy_px = far_or_none(f, "wavy_px");
    s.wavy_error_px = far_or_none(f, "wavy_error_px");
    s.ragged_px = f.number_if("ragged_px", 0, kFarInPicture);
    s.ragged_error_px = far_or_none(f, "ragged_error_px");
  }
  static void write(Json& out, const EdgeStretch& s) {
    out["ends"] = spots_json({s.from, s.to});
    out["chips"] = Json::array();
    for (const auto& [width, depth] : s.chips) out["chips"].push_back({width, depth});
    out["depth_px"] = s.depth_px;
    // Waves and raggedness were not always parted.
    if (s.cutoff_px <= 0) return;
    out["cutoff_px"] = s.cutoff_px;
    out["wavy_px"] = s.wavy_px;
    out["wavy_error_px"] = s.wavy_error_px;
    put_given(out, "ragged_px", s.ragged_px);
    if (s.ragged_px) out["ragged_error_px"] = s.ragged_error_px;
  }
};

template <>
struct Otherwise<SamePlace> {
  static void read(const JsonFields& f, SamePlace& laid) {
    for (const Json& mark : f.list("marks")) {
      const auto [x, y, there_x, there_y] = four_of(f, "marks", mark);
      laid.marks.push_back({{x, y}, {there_x, there_y}});
    }
    const auto [a, b, dx, dy] = four_of(f, "map", f.list("map"));
    laid.map = {a, b, dx, dy};
    if (!(laid.map.scale() > 1e-3 && laid.map.scale() < 1e3)) f.fault("map", said("out of range"));
  }
  static void write(Json& out, const SamePlace& laid) {
    out["marks"] = Json::array();
    for (const auto& [here, there] : laid.marks)
      out["marks"].push_back({here.x, here.y, there.x, there.y});
    out["map"] = {laid.map.a, laid.map.b, laid.map.dx, laid.map.dy};
  }
};

template <>
struct Otherwise<HintAnswer> {
  static void read(const JsonFields& f, HintAnswer& h) {
    std::tie(h.at.x, h.at.y) =
        number_pair(f.raw("at"), f.path_of("at"), -kFarInPicture, kFarInPicture);
  }
  static void write(Json& out, const HintAnswer& h) { out["at"] = {h.at.x, h.at.y}; }
};

/// The scale's own keys stand beside the magnification.
template <>
struct Otherwise<MagnificationScale> {
  static void read(const JsonFields& f, MagnificationScale& s) {
    s.scale = read_record<PictureScale>(f);
    if (!f.has("size")) return;
    const auto [width, height] = number_pair(f.raw("size"), f.path_of("size"), 1, 1e5);
    s.width = int(width);
    s.height = int(height);
  }
  static void write(Json& out, const MagnificationScale& s) {
    out.update(record_json(s.scale));
    if (s.width > 0) out["size"] = {s.width, s.height};
  }
};

std::string micrograph_json(const Micrograph& m) { return compact_text(record_json(m)); }

Checked<Micrograph> parse_micrograph(std::string_view json) {
  return read_json<Micrograph>(json, read_record<Micrograph>);
}

std::string scales_json(const std::vector<MagnificationScale>& scales) {
  Json out{{"scales", Json::array()}};
  for (const auto& scale : scales) out["scales"].push_back(record_json(scale));
  return compact_text(out);
}

Checked<std::vector<MagnificationScale>> parse_scales(std::string_view json) {
  return read_json<std::vector<MagnificationScale>>(json, [](const JsonFields& f) {
    std::vector<MagnificationScale> out;
    std::size_t index = 0;
    for (const Json& item : f.list("scales"))
      out.push_back(
          read_record<MagnificationScale>(JsonFields(item, f.path_of("scales", index++))));
    return out;
  });
}

}  // namespace bq::inline store
