#include "workflow/measure_series.h"

#include <algorithm>
#include <cmath>

#include "quantity/said.h"
#include "store/json_fields.h"
#include "workflow/sentences.h"

namespace bq::inline workflow {
namespace {

using nlohmann::json;

/// Whose places lie this near to each other is the same thing, measured already: px.
constexpr double kSameThing_px = 12;

json spot_json(Spot p) { return {p.x, p.y}; }

Spot spot_of(const JsonFields& f, const char* key) {
  const auto [x, y] = number_pair(f.raw(key), f.path_of(key), -1e7, 1e7);
  return {x, y};
}

/// A place of the template's picture in another one.
Checked<Spot> carried(const MeasureTemplate& wanted, Spot p, const Micrograph& to,
                      const std::optional<ApexFrame>& apex, double um_per_px) {
  if (wanted.apex && apex) {
    const Spot off = p - wanted.apex->at;
    const double size = wanted.um_per_px > 0 && um_per_px > 0 ? wanted.um_per_px / um_per_px : 1;
    return apex->at + (size * dot(off, wanted.apex->along)) * apex->along +
           (size * dot(off, wanted.apex->inward)) * apex->inward;
  }
  if (wanted.width == to.width && wanted.height == to.height) return p;
  return Refusal{
      wanted.apex
          ? "no apex goes through this picture to measure from, and it has another size"
          : "no apex went through the picture it was shown in, and this one has another size"};
}

bool known_already(const Micrograph& m, LensMeasureKind kind, Spot from, Spot to) {
  return std::any_of(m.measures.begin(), m.measures.end(), [&](const LensMeasure& measure) {
    if (measure.kind != kind) return false;
    const LensTake& take = measure.takes.back();
    if (take.points.size() != 2) return false;
    const Spot here = 0.5 * (take.points[0] + take.points[1]);
    return length(here - 0.5 * (from + to)) <= std::max(kSameThing_px, 0.5 * length(to - from));
  });
}

}  // namespace

std::optional<ApexFrame> apex_frame(const GreyImage& image, bool other_side) {
  const auto trace = trace_whole(image, other_side);
  if (!trace) return std::nullopt;
  const Spot middle{0.5 * (image.width() - 1), 0.5 * (image.height() - 1)};
  const double at = dot(middle - trace->line.at, trace->line.along);
  Spot along = trace->line.along;
  if (along.x + 1e-3 * along.y < 0) along = -1 * along;
  return ApexFrame{trace->spot(at), along, trace->inward};
}

Checked<MeasureTemplate> template_of(const Trial& trial, const Micrograph& micrograph,
                                     const GreyImage& image) {
  MeasureTemplate out;
  out.name = micrograph.name;
  out.width = image.width();
  out.height = image.height();
  if (const auto scale = scale_of(trial, micrograph)) out.um_per_px = scale->um_per_px;
  if (micrograph.stone.empty()) out.apex = apex_frame(image, micrograph.other_side);
  out.along = micrograph.along.has_value();
  for (const auto& measure : micrograph.measures) {
    const LensTake& take = measure.takes.back();
    if (take.snapped && take.points.size() == 2)
      out.items.push_back({measure.kind, take.points[0], take.points[1], take.box, measure.note});
  }
  if (out.items.empty() && !out.along)
    return Refusal{
        micrograph.measures.empty()
            ? "nothing is measured in this picture yet: measure in it what all are to show"
            : "what is measured in this picture was set by hand, and a series cannot repeat a "
              "hand: measure it with snapping on"};
  return out;
}

std::string template_json(const MeasureTemplate& wanted) {
  json out{{"like", wanted.name},
           {"size", {wanted.width, wanted.height}},
           {"along", wanted.along},
           {"measures", json::array()}};
  if (wanted.um_per_px > 0) out["um_per_px"] = wanted.um_per_px;
  if (wanted.apex)
    out["apex"] = {{"at", spot_json(wanted.apex->at)},
                   {"along", spot_json(wanted.apex->along)},
                   {"inward", spot_json(wanted.apex->inward)}};
  for (const auto& item : wanted.items) {
    json one{
        {"kind", name_of(item.kind)}, {"from", spot_json(item.from)}, {"to", spot_json(item.to)}};
    put_given(one, "box", item.box);
    put_given(one, "note", item.note);
    out["measures"].push_back(std::move(one));
  }
  return out.dump(2) + "\n";
}

Checked<MeasureTemplate> parse_template(std::string_view text) {
  return read_json<MeasureTemplate>(text, [](const JsonFields& f) {
    MeasureTemplate out;
    out.name = f.text_or("like", "");
    const auto [width, height] = number_pair(f.raw("size"), f.path_of("size"), 1, 1e5);
    out.width = int(width);
    out.height = int(height);
    out.um_per_px = f.number_or("um_per_px", 0, 1e3, 0);
    if (f.has("apex")) {
      const JsonFields apex = f.object("apex");
      ApexFrame frame{spot_of(apex, "at"), spot_of(apex, "along"), spot_of(apex, "inward")};
      if (std::abs(length(frame.along) - 1) > 0.01 || std::abs(length(frame.inward) - 1) > 0.01 ||
          std::abs(dot(frame.along, frame.inward)) > 0.01)
        apex.fault("along", said("two directions at a right angle, of length 1, are wanted"));
      out.apex = frame;
    }
    out.along = f.flag_or("along", false);
    std::size_t index = 0;
    for (const json& item : f.list("measures")) {
      const JsonFields fields(item, f.path_of("measures", index++));
      out.items.push_back({fields.word_or("kind", parse_lens_measure, "bevel width"),
                           spot_of(fields, "from"), spot_of(fields, "to"),
                           fields.flag_or("box", false), fields.text_or("note", "")});
    }
    if (out.items.empty() && !out.along)
      f.fault("measures", said("at least one measure, or \"along\": true, is wanted"));
    return out;
  });
}

SeriesPicture measure_like(const MeasureTemplate& wanted, const Trial& trial,
                           const Micrograph& micrograph, const GreyImage& image) {
  SeriesPicture out;
  out.id = micrograph.id;
  const auto scale = scale_of(trial, micrograph);
  const double k = scale ? scale->um_per_px : 0;
  const auto apex = wanted.apex ? apex_frame(image, micrograph.other_side) : std::nullopt;
  // The edge stands a little elsewhere in each picture, so a find may lie farther away than a
  // hand's would.
  const LensHand hand{true, false, micrograph.other_side, std::max(2.0, image.width() / 800.0)};
  for (const auto& item : wanted.items) {
    SeriesPicture::Found found{item.kind, item.note, {}, "", false};
    const auto from = carried(wanted, item.from, micrograph, apex, k),
               to = carried(wanted, item.to, micrograph, apex, k);
    if (!from || !to) {
      found.why_not = (!from ? from : to).refusal().reason;
    } else if (!image.contains(*from) || !image.contains(*to)) {
      found.why_not = said("its place lies outside this picture");
    } else if (known_already(micrograph, item.kind, *from, *to)) {
      found.why_not = said("it was measured there already");
      found.known = true;
    } else {
      LensHand own = hand;
      own.box = item.box;
      const auto take = take_measure(image, item.kind, *from, *to, own);
      if (take)
        found.take = *take;
      else
        found.why_not = take.refusal().reason;
    }
    out.measures.push_back(std::move(found));
  }
  if (!wanted.along) return out;
  if (micrograph.along) {
    out.why_not_along = said("it was measured along its apex already");
    out.known_along = true;
  } else if (const auto along = stretch_along(image, micrograph.other_side, k)) {
    out.along = *along;
  } else {
    out.why_not_along = along.refusal().reason;
  }
  return out;
}

Micrograph with_series(Micrograph micrograph, const SeriesPicture& found) {
  for (const auto& measure : found.measures)
    if (measure.take) micrograph.measures.push_back({measure.kind, {*measure.take}, measure.note});
  if (found.along) micrograph.along = found.along;
  return micrograph;
}

}  // namespace bq::inline workflow
