#include "store/micrograph_json.h"

#include <algorithm>

#include "store/json_fields.h"

namespace bq::inline store {
namespace {

using Json = nlohmann::json;
constexpr double kFarInPicture = 1e7;  // px, µm, cuts: beyond any picture

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

Json scale_json(const PictureScale& s) {
  Json out{{"um_per_px", s.um_per_px}, {"relative_error", s.relative_error}, {"how", s.how}};
  for (const ScaleReading& r : s.readings)
    out["readings"].push_back({{"points", spots_json({r.from, r.to})},
                               {"um", r.um},
                               {"px", r.px},
                               {"error_px", r.error_px}});
  return out;
}
PictureScale scale_of(const JsonFields& f) {
  PictureScale out{f.number("um_per_px", 1e-3, 1e3),
                   f.number_or("relative_error", 0, 1, 0),
                   f.text_or("how", ""),
                   {}};
  std::size_t index = 0;
  for (const Json& item : f.list("readings")) {
    const JsonFields fields(item, f.path_of("readings", index++));
    const auto points = spots_of(fields, "points");
    if (points.size() != 2) fields.fault("points", "two points are wanted");
    out.readings.push_back({points[0], points[1], fields.number("um", 1e-3, kFarInPicture),
                            fields.number("px", 1, kFarInPicture),
                            fields.number_or("error_px", 0, kFarInPicture, 0)});
  }
  return out;
}

Json take_json(const LensTake& t) {
  Json out{{"points", spots_json(t.points)},
           {"value_px", t.value_px},
           {"error_px", t.error_px},
           {"drawn", spots_json(t.drawn)}};
  put_given(out, "box", t.box);
  if (!t.snapped) out["by_hand"] = true;
  put_given(out, "second", t.second);
  if (t.second) out["second_error"] = t.second_error;
  if (t.common_px > 0) out["common_px"] = t.common_px;
  if (t.second && t.second_common > 0) out["second_common"] = t.second_common;
  if (t.soft_px > 0) out["soft_px"] = t.soft_px;
  if (t.streaks > 0) out["streaks"] = t.streaks;
  if (const auto& c = t.crossing)
    out["crossing"] = {{"direction_deg", c->direction_deg},
                       {"direction_error_deg", c->direction_error_deg},
                       {"spacing_px", c->spacing_px},
                       {"spacing_error_px", c->spacing_error_px}};
  return out;
}

LensTake take_of(const JsonFields& f) {
  LensTake t;
  t.points = spots_of(f, "points");
  t.drawn = spots_of(f, "drawn");
  t.box = f.flag_or("box", false);
  t.snapped = !f.flag_or("by_hand", false);
  t.value_px = f.number("value_px", 0, kFarInPicture);
  t.error_px = f.number_or("error_px", 0, kFarInPicture, 0);
  t.second = f.number_if("second", -kFarInPicture, kFarInPicture);
  t.second_error = f.number_or("second_error", 0, kFarInPicture, 0);
  t.common_px = f.number_or("common_px", 0, kFarInPicture, 0);
  t.second_common = f.number_or("second_common", 0, kFarInPicture, 0);
  t.soft_px = f.number_or("soft_px", 0, kFarInPicture, 0);
  t.streaks = f.number_or("streaks", 0, 1, 0);
  if (f.has("crossing")) {
    const JsonFields c = f.object("crossing");
    t.crossing = CrossingScratches{c.number("direction_deg", -180, 180),
                                   c.number_or("direction_error_deg", 0, 180, 0),
                                   c.number("spacing_px", 1e-3, kFarInPicture),
                                   c.number_or("spacing_error_px", 0, kFarInPicture, 0)};
  }
  return t;
}

Json recession_json(const StretchRecession& r) {
  return {{"since", r.since},
          {"mean_px", r.mean_px},
          {"mean_error_px", r.mean_error_px},
          {"most_px", r.most_px},
          {"most_error_px", r.most_error_px},
          {"length_px", r.length_px},
          {"depth_px", r.depth_px}};
}

Json band_json(const BrightBand& b) {
  return {{"share", b.share},
          {"mean_px", b.mean_px},
          {"mean_error_px", b.mean_error_px},
          {"median_px", b.median_px},
          {"ninth_px", b.ninth_px},
          {"most_px", b.most_px},
          {"most_error_px", b.most_error_px}};
}
BrightBand band_of(const JsonFields& b) {
  return {b.number("share", 0, 1),
          b.number("mean_px", 0, kFarInPicture),
          b.number_or("mean_error_px", 0, kFarInPicture, 0),
          b.number_or("median_px", 0, kFarInPicture, 0),
          b.number_or("ninth_px", 0, kFarInPicture, 0),
          b.number_or("most_px", 0, kFarInPicture, 0),
          b.number_or("most_error_px", 0, kFarInPicture, 0)};
}

Json stretch_json(const EdgeStretch& s) {
  Json out{{"ends", spots_json({s.from, s.to})},
           {"length_px", s.length_px},
           {"chips", Json::array()},
           {"wander_px", s.wander_px},
           {"wander_error_px", s.wander_error_px},
           {"belly_px", s.belly_px},
           {"chipped_share", s.chipped_share},
           {"soft_px", s.soft_px},
           {"depth_px", s.depth_px}};
  for (const auto& [width, depth] : s.chips) out["chips"].push_back({width, depth});
  if (s.recession) out["recession"] = recession_json(*s.recession);
  if (s.cutoff_px > 0) {
    out["cutoff_px"] = s.cutoff_px;
    out["wavy_px"] = s.wavy_px;
    out["wavy_error_px"] = s.wavy_error_px;
    put_given(out, "ragged_px", s.ragged_px);
    if (s.ragged_px) out["ragged_error_px"] = s.ragged_error_px;
  }
  for (const auto& [key, b] : {std::pair{"band", &s.band}, std::pair{"burr", &s.burr}})
    if (*b) out[key] = band_json(**b);
  return out;
}

std::vector<double> depths_of(const JsonFields& f) {
  std::vector<double> out;
  for (const Json& item : f.list("depth_px")) {
    if (!item.is_number() || out.size() >= 400)
      f.fault("depth_px", "at most 400 numbers are wanted");
    out.push_back(std::clamp(item.get<double>(), -kFarInPicture, kFarInPicture));
  }
  return out;
}

EdgeStretch stretch_of(const JsonFields& f) {
  EdgeStretch s;
  const auto ends = spots_of(f, "ends");
  if (ends.size() != 2) f.fault("ends", "two points are wanted");
  s.from = ends[0];
  s.to = ends[1];
  s.length_px = f.number("length_px", 1, kFarInPicture);
  std::size_t index = 0;
  for (const Json& item : f.list("chips"))
    s.chips.push_back(number_pair(item, f.path_of("chips", index++), 0, kFarInPicture));
  s.wander_px = f.number_or("wander_px", 0, kFarInPicture, 0);
  s.wander_error_px = f.number_or("wander_error_px", 0, kFarInPicture, 0);
  s.belly_px = f.number_or("belly_px", 0, kFarInPicture, 0);
  s.chipped_share = f.number_or("chipped_share", 0, 1, 0);
  s.soft_px = f.number_or("soft_px", 0, kFarInPicture, 0);
  s.depth_px = depths_of(f);
  s.cutoff_px = f.number_or("cutoff_px", 0, kFarInPicture, 0);
  s.wavy_px = f.number_or("wavy_px", 0, kFarInPicture, 0);
  s.wavy_error_px = f.number_or("wavy_error_px", 0, kFarInPicture, 0);
  s.ragged_px = f.number_if("ragged_px", 0, kFarInPicture);
  s.ragged_error_px = f.number_or("ragged_error_px", 0, kFarInPicture, 0);
  if (f.has("band")) s.band = band_of(f.object("band"));
  if (f.has("burr")) s.burr = band_of(f.object("burr"));
  if (f.has("recession")) {
    const JsonFields r = f.object("recession");
    s.recession = StretchRecession{std::int64_t(r.number("since", 1, 9e15)),
                                   r.number("mean_px", -kFarInPicture, kFarInPicture),
                                   r.number_or("mean_error_px", 0, kFarInPicture, 0),
                                   r.number_or("most_px", 0, kFarInPicture, 0),
                                   r.number_or("most_error_px", 0, kFarInPicture, 0),
                                   r.number("length_px", 1, kFarInPicture),
                                   depths_of(r)};
  }
  return s;
}

Json marks_json(const std::vector<std::pair<Spot, Spot>>& marks) {
  Json out = Json::array();
  for (const auto& [here, there] : marks) out.push_back({here.x, here.y, there.x, there.y});
  return out;
}

std::optional<EdgeSide> parse_side(std::string_view text) {
  for (const EdgeSide side : {EdgeSide::left, EdgeSide::right})
    if (name_of(side) == text) return side;
  return std::nullopt;
}

}  // namespace

std::string micrograph_json(const Micrograph& m) {
  Json out{{"name", m.name}, {"kind", m.kind},     {"width", m.width},    {"height", m.height},
           {"size", m.size}, {"sha256", m.sha256}, {"made_at", m.made_at}};
  put_given(out, "taken_at", m.taken_at);
  put_given(out, "blade", m.blade);
  put_given(out, "run", m.run);
  if (m.cuts) out["cuts"] = *m.cuts;
  if (m.side) out["side"] = name_of(*m.side);
  put_given(out, "at_mm", m.at_mm);
  put_given(out, "mark", m.mark);
  put_given(out, "magnification", m.magnification);
  put_given(out, "instrument", m.instrument);
  put_given(out, "stone", m.stone);
  put_given(out, "note", m.note);
  if (m.scale) out["scale"] = scale_json(*m.scale);
  for (const auto& measure : m.measures) {
    Json item{{"kind", name_of(measure.kind)}, {"takes", Json::array()}};
    put_given(item, "note", measure.note);
    for (const auto& take : measure.takes) item["takes"].push_back(take_json(take));
    out["measures"].push_back(std::move(item));
  }
  for (const auto& laid : m.laid_over) {
    Json item{{"other", laid.other},
              {"marks", marks_json(laid.marks)},
              {"map", {laid.map.a, laid.map.b, laid.map.dx, laid.map.dy}},
              {"residual_px", laid.residual_px}};
    put_given(item, "doubt", laid.doubt);
    out["laid_over"].push_back(std::move(item));
  }
  for (const auto& hint : m.hints) {
    Json item{{"kind", name_of(hint.kind)},
              {"at", {hint.at.x, hint.at.y}},
              {"length_px", hint.length_px},
              {"size_px", hint.size_px},
              {"accepted", hint.accepted}};
    if (hint.length_error_px > 0) item["length_error_px"] = hint.length_error_px;
    if (hint.size_error_px > 0) item["size_error_px"] = hint.size_error_px;
    out["hints"].push_back(std::move(item));
  }
  if (m.other_side) out["other_side"] = true;
  if (m.along) out["along"] = stretch_json(*m.along);
  return compact_text(out);
}

Checked<Micrograph> parse_micrograph(std::string_view json) {
  return read_json<Micrograph>(json, [](const JsonFields& f) {
    Micrograph m;
    m.name = f.text_or("name", "");
    m.kind = f.text_or("kind", "");
    m.width = int(f.number_or("width", 0, 1e5, 0));
    m.height = int(f.number_or("height", 0, 1e5, 0));
    m.size = std::int64_t(f.number_or("size", 0, 1e12, 0));
    m.sha256 = f.text_or("sha256", "");
    m.made_at = f.text_or("made_at", "");
    m.taken_at = f.text_or("taken_at", "");
    m.blade = f.text_or("blade", "");
    m.run = f.text_or("run", "");
    if (const auto cuts = f.number_if("cuts", 0, 9e15)) m.cuts = std::int64_t(*cuts);
    if (f.has("side")) m.side = f.word_or("side", parse_side, "left");
    m.at_mm = f.number_if("at_mm", -kFarInPicture, kFarInPicture);
    m.mark = f.text_or("mark", "");
    m.magnification = f.text_or("magnification", "");
    m.instrument = f.text_or("instrument", "");
    m.stone = f.text_or("stone", "");
    m.note = f.text_or("note", "");
    if (f.has("scale")) m.scale = scale_of(f.object("scale"));
    std::size_t index = 0;
    for (const Json& item : f.list("measures")) {
      const JsonFields fields(item, f.path_of("measures", index++));
      LensMeasure measure{fields.word_or("kind", parse_lens_measure, "bevel width"),
                          {},
                          fields.text_or("note", "")};
      std::size_t take = 0;
      for (const Json& each : fields.list("takes"))
        measure.takes.push_back(take_of(JsonFields(each, fields.path_of("takes", take++))));
      if (measure.takes.empty()) fields.fault("takes", "a measure was taken once at least");
      m.measures.push_back(std::move(measure));
    }
    index = 0;
    for (const Json& item : f.list("laid_over")) {
      const JsonFields fields(item, f.path_of("laid_over", index++));
      SamePlace laid;
      laid.other = std::int64_t(fields.number("other", 1, 9e15));
      for (const Json& mark : fields.list("marks")) {
        if (!mark.is_array() || mark.size() != 4) fields.fault("marks", "four numbers are wanted");
        for (const Json& number : mark)
          if (!number.is_number()) fields.fault("marks", "four numbers are wanted");
        laid.marks.push_back({{mark[0].get<double>(), mark[1].get<double>()},
                              {mark[2].get<double>(), mark[3].get<double>()}});
      }
      const auto& map = fields.list("map");
      if (map.size() != 4) fields.fault("map", "four numbers are wanted");
      for (const Json& number : map)
        if (!number.is_number()) fields.fault("map", "four numbers are wanted");
      laid.map = {map[0].get<double>(), map[1].get<double>(), map[2].get<double>(),
                  map[3].get<double>()};
      if (!(laid.map.scale() > 1e-3 && laid.map.scale() < 1e3)) fields.fault("map", "out of range");
      laid.residual_px = fields.number_or("residual_px", 0, kFarInPicture, 0);
      laid.doubt = fields.text_or("doubt", "");
      m.laid_over.push_back(std::move(laid));
    }
    index = 0;
    for (const Json& item : f.list("hints")) {
      const JsonFields fields(item, f.path_of("hints", index++));
      const auto [x, y] =
          number_pair(fields.raw("at"), fields.path_of("at"), -kFarInPicture, kFarInPicture);
      m.hints.push_back({fields.word_or("kind", parse_apex_damage, "chip"),
                         {x, y},
                         fields.number_or("length_px", 0, kFarInPicture, 0),
                         fields.number_or("size_px", 0, kFarInPicture, 0),
                         fields.flag_or("accepted", false),
                         fields.number_or("length_error_px", 0, kFarInPicture, 0),
                         fields.number_or("size_error_px", 0, kFarInPicture, 0)});
    }
    m.other_side = f.flag_or("other_side", false);
    if (f.has("along")) m.along = stretch_of(f.object("along"));
    return m;
  });
}

std::string scales_json(const std::vector<MagnificationScale>& scales) {
  Json out{{"scales", Json::array()}};
  for (const auto& s : scales) {
    Json item = scale_json(s.scale);
    item["magnification"] = s.magnification;
    item["made_at"] = s.made_at;
    put_given(item, "instrument", s.instrument);
    if (s.width > 0) item["size"] = {s.width, s.height};
    out["scales"].push_back(std::move(item));
  }
  return compact_text(out);
}

Checked<std::vector<MagnificationScale>> parse_scales(std::string_view json) {
  return read_json<std::vector<MagnificationScale>>(json, [](const JsonFields& f) {
    std::vector<MagnificationScale> out;
    std::size_t index = 0;
    for (const Json& item : f.list("scales")) {
      const JsonFields fields(item, f.path_of("scales", index++));
      MagnificationScale scale{fields.text("magnification"), scale_of(fields),
                               fields.text_or("made_at", ""), fields.text_or("instrument", "")};
      if (fields.has("size")) {
        const auto [width, height] =
            number_pair(fields.raw("size"), fields.path_of("size"), 1, 1e5);
        scale.width = int(width);
        scale.height = int(height);
      }
      out.push_back(std::move(scale));
    }
    return out;
  });
}

}  // namespace bq::inline store
