#include "workflow/lens_study.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "lens/edge_finder.h"
#include "lens/scratch_spectrum.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/distributions.h"
#include "trial/edge_map.h"
#include "workflow/sentences.h"

namespace bq::inline workflow {
namespace {

constexpr double kRadian = std::numbers::pi / 180;

LensTake by_hand(Spot from, Spot to, const LensHand& hand) {
  LensTake take;
  take.points = take.drawn = {from, to};
  take.snapped = false;
  take.value_px = length(to - from);
  take.error_px = std::numbers::sqrt2 * std::max(1.0, hand.px_per_screen_px);
  return take;
}

Checked<LensTake> take_width(const GreyImage& image, Spot from, Spot to, const LensHand& hand) {
  SnapOptions options;
  options.swath_px =
      std::clamp(length(to - from), 16.0, 60.0) * std::max(1.0, hand.px_per_screen_px);
  options.swath_px = std::min(options.swath_px, std::max(16.0, length(to - from)));
  options.reach_px *= std::max(1.0, hand.px_per_screen_px);
  const auto found = distance_between_edges(image, from, to, options);
  if (!found)
    return Refusal{
        said("no two edges were found there: show them more closely, or measure by hand (snapping "
             "off)")};
  if (found->lean_deg > 6)
    return Refusal{said("the two edges run {lean_deg}° apart: there is no one width",
                        {{"lean_deg", print_number(found->lean_deg, 2)}})};
  if (found->soft_px() > 0.6 * found->width_px)
    return Refusal{
        said("the picture is too soft there: an edge passes over {soft_px} pixels, and they lie "
             "{width_px} apart",
             {{"soft_px", print_number(found->soft_px(), 2)},
              {"width_px", print_number(found->width_px, 2)}})};
  LensTake take;
  take.points = {from, to};
  take.value_px = found->width_px;
  take.error_px = found->error_px;
  take.common_px = found->common_px;
  take.soft_px = found->soft_px();
  for (const FoundEdge* edge : {&found->first, &found->second})
    for (const double way : {-1.0, 1.0})
      take.drawn.push_back(edge->fit.line.at + way * options.swath_px * edge->fit.line.along);
  return take;
}

/// The stretch beside a drawn one that shows the sound apex, inside the picture.
std::pair<Spot, Spot> widened(const GreyImage& image, Spot from, Spot to) {
  const double span = length(to - from), more = std::max(120.0, 2 * span);
  const Spot along = (1 / span) * (to - from);
  double before = more, after = more;
  while (before > 0 && !image.contains(from - before * along)) before -= 1;
  while (after > 0 && !image.contains(to + after * along)) after -= 1;
  return {from - std::max(0.0, before) * along, to + std::max(0.0, after) * along};
}

Checked<LensTake> take_chip(const GreyImage& image, Spot from, Spot to, bool other_side) {
  const auto [start, end] = widened(image, from, to);
  const auto trace =
      trace_blade(image, start, end, std::max(60.0, 0.9 * length(to - from)), other_side);
  if (!trace) return Refusal{trace.refusal().reason};
  const auto chip = chip_at(*trace, dot(0.5 * (from + to) - trace->line.at, trace->line.along));
  if (!chip)
    return Refusal{
        trace->side_told
            ? "no chip was found there: the apex is as even as beside it"
            : "no chip was found there; the brighter side was taken for the blade: if it "
              "is the other one, say so (T)"};
  LensTake take;
  take.points = {from, to};
  take.value_px = chip->width_px;
  take.error_px = chip->width_error_px;
  take.common_px = chip->width_common_px;
  take.second = chip->depth_px;
  take.second_error = chip->depth_error_px;
  take.second_common = chip->depth_common_px;
  take.soft_px = trace->soft_px;
  if (trace->soft_px > 0.6 * std::min(chip->width_px, 2 * chip->depth_px))
    return Refusal{
        said("the picture is too soft there: the apex passes over {soft_px} pixels, and the chip "
             "is {width_px} wide",
             {{"soft_px", print_number(trace->soft_px, 2)},
              {"width_px", print_number(chip->width_px, 2)}})};
  const double middle = 0.5 * (chip->from_px + chip->to_px);
  take.drawn = {trace->spot(chip->from_px), trace->spot(chip->to_px), trace->spot(middle),
                trace->spot(middle, chip->depth_px)};
  return take;
}

Checked<LensTake> take_scratches(const GreyImage& image, Spot from, Spot to, bool box) {
  const auto found = box ? find_scratches(image, 0.5 * (from + to), std::abs(to.x - from.x),
                                          std::abs(to.y - from.y))
                         : find_scratches_along(image, from, to);
  if (!found) return Refusal{found.refusal().reason};
  // How soft the picture is tells its apex, where it shows one.
  double soft = 0;
  if (const auto ends = find_apex(image))
    if (const auto edge = snap_edge(image, 0.5 * (ends->first + ends->second),
                                    turned(ends->second - ends->first)))
      soft = edge->soft_px;
  const double finest = found->crossing ? std::min(found->spacing_px, found->crossing->spacing_px)
                                        : found->spacing_px;
  if (finest < 2.2 * soft)
    return Refusal{
        said("the picture is too soft for scratches so fine: its edge passes over {soft} pixels, "
             "and they lie {finest} apart",
             {{"soft", print_number(soft, 2)}, {"finest", print_number(finest, 2)}})};
  LensTake take;
  take.points = {from, to};
  take.soft_px = soft;
  take.box = box;
  take.value_px = found->spacing_px;
  take.error_px = found->spacing_error_px;
  take.second = found->direction_deg;
  take.second_error = found->direction_error_deg;
  take.streaks = found->streaks;
  take.crossing = found->crossing;
  const double turn = found->direction_deg * kRadian,
               half =
                   0.35 * (box ? std::min(std::abs(to.x - from.x), std::abs(to.y - from.y)) : 60);
  const Spot middle = 0.5 * (from + to), along{std::cos(turn), std::sin(turn)};
  take.drawn = {middle - half * along, middle + half * along};
  if (const auto& crossing = found->crossing) {
    const double other = crossing->direction_deg * kRadian;
    const Spot across{std::cos(other), std::sin(other)};
    take.drawn.insert(take.drawn.end(), {middle - half * across, middle + half * across});
  }
  return take;
}

Checked<LensTake> take_straightness(const GreyImage& image, Spot from, Spot to, bool other_side) {
  const auto trace = trace_blade(image, from, to, ApexOptions{}.reach_px, other_side);
  if (!trace) return Refusal{trace.refusal().reason};
  const Straightness found = straightness(*trace);
  LensTake take;
  take.points = {from, to};
  take.value_px = found.rms_px;
  take.error_px = std::hypot(0.1, found.rms_px / std::sqrt(std::max(2.0, found.length_px / 8)));
  take.soft_px = trace->soft_px;
  // A belly as the chords of eight pieces.
  const int pieces = trace->bend == 0 ? 1 : 8;
  const double first = trace->along_px.front(), last = trace->along_px.back();
  for (int i = 0; i < pieces; ++i)
    for (const int end : {i, i + 1})
      take.drawn.push_back(trace->spot(first + (last - first) * end / pieces));
  return take;
}

}  // namespace

Checked<ApexTrace> trace_blade(const GreyImage& image, Spot from, Spot to, double reach_px,
                               bool other_side) {
  auto trace = trace_apex(image, from, to, {reach_px, {}});
  if (!trace || !other_side) return trace;
  return trace_apex(image, from, to, {reach_px, trace->line.at - 10.0 * trace->inward});
}

Checked<LensTake> take_measure(const GreyImage& image, LensMeasureKind kind, Spot from, Spot to,
                               const LensHand& hand) {
  if (image.empty() || !image.contains(from) || !image.contains(to))
    return Refusal{said("a point lies outside the picture")};
  if (length(to - from) < 3)
    return Refusal{said("the two points lie less than three pixels apart")};
  switch (kind) {
    case LensMeasureKind::scratches:
      return take_scratches(image, from, to, hand.box);
    case LensMeasureKind::apex_line:
      return take_straightness(image, from, to, hand.other_side);
    case LensMeasureKind::chip:
      return hand.snap ? take_chip(image, from, to, hand.other_side)
                       : Checked<LensTake>(by_hand(from, to, hand));
    default:
      return hand.snap ? take_width(image, from, to, hand)
                       : Checked<LensTake>(by_hand(from, to, hand));
  }
}

namespace {

struct Averaged {
  double mean = 0, half = 0, sd = 0;  ///< half: of the 95 % interval, the scale's part in it
};

/// Takings of one figure, each with its own standard error and the part that they share;
/// `of_scale`: relative standard error of the scale.
Averaged averaged(const std::vector<double>& values, const std::vector<double>& errors,
                  const std::vector<double>& common, double of_scale) {
  const double n = double(values.size());
  Averaged out;
  double squares = 0, own = 0, shared = 0;
  for (const double value : values) out.mean += value / n;
  for (const double value : values) squares += (value - out.mean) * (value - out.mean);
  for (const double error : errors) own += error * error / n;
  for (const double error : common) shared += error / n;
  out.sd = n > 1 ? std::sqrt(squares / (n - 1)) : 0;
  double half = 1.96 * std::sqrt((own + out.sd * out.sd) / n);
  if (n >= 3) half = std::max(half, stats::t_quantile(0.975, n - 1) * out.sd / std::sqrt(n));
  out.half = std::hypot(half, 1.96 * shared, 1.96 * of_scale * out.mean);
  return out;
}

}  // namespace

LensValue value_of(const LensMeasure& measure, const PictureScale& scale) {
  std::vector<double> values, errors, common, seconds, second_errors, second_common;
  const bool degrees = measure.kind == LensMeasureKind::scratches;
  for (const auto& take : measure.takes) {
    values.push_back(take.value_px);
    errors.push_back(take.error_px);
    common.push_back(take.common_px);
    if (!take.second) continue;
    // Directions of one thing lie near each other; those near ±90° are brought to one side.
    seconds.push_back(degrees && !seconds.empty()
                          ? seconds.front() + std::remainder(*take.second - seconds.front(), 180.0)
                          : *take.second);
    second_errors.push_back(take.second_error);
    second_common.push_back(take.second_common);
  }
  const Averaged first = averaged(values, errors, common, scale.relative_error);
  LensValue out;
  // Takings of a crosshatch may name its directions in another order: the last one speaks.
  if (const auto& crossing = measure.takes.back().crossing) {
    out.crossing = scale.um_per_px * crossing->spacing_px;
    out.crossing_plus_minus =
        1.96 * scale.um_per_px *
        std::hypot(crossing->spacing_error_px, scale.relative_error * crossing->spacing_px);
    out.crossing_deg = crossing->direction_deg;
  }
  out.takes = int(values.size());
  out.value = scale.um_per_px * first.mean;
  out.plus_minus = scale.um_per_px * first.half;
  out.repeat_um = scale.um_per_px * first.sd;
  if (values.empty() || seconds.size() < values.size()) return out;
  const double unit = degrees ? 1 : scale.um_per_px;
  const Averaged second =
      averaged(seconds, second_errors, second_common, degrees ? 0 : scale.relative_error);
  out.second = unit * second.mean;
  out.second_plus_minus = unit * second.half;
  return out;
}

Checked<LensAngle> angle_from_picture(const Trial& trial, const Micrograph& micrograph,
                                      const LensValue& bevel, double thickness_mm,
                                      double thickness_error_mm, bool square_to_bevel,
                                      AngleConvention convention) {
  const double width_mm = 1e-3 * bevel.value, width_error = 1e-3 * bevel.plus_minus;
  if (!(thickness_mm > 0))
    return Refusal{said("the thickness behind the edge, at the shoulder, is needed")};
  if (!(width_mm > 0)) return Refusal{said("the bevel's width is needed")};
  const double ratio = thickness_mm / (2 * width_mm);
  if (square_to_bevel && ratio >= 1)
    return Refusal{said(
        "the edge would be thicker than its bevels are wide: one of the two figures is wrong")};
  LensAngle out;
  const double relative = std::hypot(thickness_error_mm / thickness_mm, width_error / width_mm);
  out.angle_deg = (square_to_bevel ? std::asin(ratio) : std::atan(ratio)) / kRadian;
  out.plus_minus_deg = (square_to_bevel ? ratio * relative / std::sqrt(1 - ratio * ratio)
                                        : ratio * relative / (1 + ratio * ratio)) /
                       kRadian;
  if (!angle_in_range(out.angle_deg))
    return Refusal{said("that makes {angle_deg}° per side: one of the two figures is wrong",
                        {{"angle_deg", print_number(out.angle_deg, 3)}})};
  if (const Blade* blade = trial.find_blade(micrograph.blade); blade && micrograph.side) {
    const EdgeNow now = edge_now(*blade);
    const auto& side = *micrograph.side == EdgeSide::left ? now.left : now.right;
    out.logged_deg = side.mean_deg();
    out.logged_plus_minus_deg = 0;
    for (const auto& station : side.stations)
      if (micrograph.at_mm && std::abs(station.at_mm - *micrograph.at_mm) <= 2) {
        out.logged_deg = station.mean_deg;
        out.logged_plus_minus_deg = station.plus_minus_deg;
      }
  }
  if (const Run* run = trial.find_run(micrograph.run);
      !out.logged_deg && run && run->facts.geometry) {
    const BevelAngles& edge = run->facts.geometry->edge();
    out.logged_deg =
        micrograph.side && *micrograph.side == EdgeSide::right ? edge.right_deg : edge.left_deg;
  }
  const double fold = convention == AngleConvention::inclusive ? 2 : 1;
  const std::string told =
      convention == AngleConvention::inclusive ? said("° inclusive") : said("° per side");
  out.sentence = said("{angle_deg}° ± {plus_minus_deg}{told} from the picture",
                      {{"angle_deg", print_fixed(fold * out.angle_deg, 1)},
                       {"plus_minus_deg", print_fixed(fold * out.plus_minus_deg, 1)},
                       {"told", told}});
  if (!out.logged_deg) {
    out.sentence += said("; the log has no angle there.");
    return out;
  }
  const double off = out.angle_deg - *out.logged_deg,
               room = std::hypot(out.plus_minus_deg, out.logged_plus_minus_deg.value_or(0));
  out.sentence +=
      said("; the log says {logged_deg}°: {they_agree}",
           {{"logged_deg", print_fixed(fold * *out.logged_deg, 1)},
            {"they_agree",
             std::abs(off) <= room
                 ? said("they agree.")
                 : said("they differ by {apart_deg}°, more than both uncertainties. Look at the "
                        "bevel's marker test, or at how the picture was taken.",
                        {{"apart_deg", print_fixed(fold * std::abs(off), 1)}})}});
  return out;
}

std::vector<std::size_t> pictures_of_place(const Trial& trial, const Micrograph& micrograph) {
  std::vector<std::size_t> out;
  for (std::size_t i = 0; i < trial.micrographs.size(); ++i)
    if (trial.micrographs[i].id == micrograph.id || same_place(trial.micrographs[i], micrograph))
      out.push_back(i);
  std::stable_sort(out.begin(), out.end(), [&](std::size_t a, std::size_t b) {
    const auto &one = trial.micrographs[a], &other = trial.micrographs[b];
    return one.cuts != other.cuts ? one.cuts.value_or(-1) < other.cuts.value_or(-1)
                                  : one.taken_at < other.taken_at;
  });
  return out;
}

LookEvent look_of(const Micrograph& micrograph, const HintAnswer& hint, const PictureScale& scale) {
  LookEvent look;
  look.found = hint.kind == ApexDamage::chip   ? DamageFound::broken_out
               : hint.kind == ApexDamage::roll ? DamageFound::bent
                                               : DamageFound::bright_spot;
  const auto sure = [&scale](double px, double error_px) {
    return sure_to_half(px, std::hypot(error_px, scale.relative_error * px));
  };
  if (sure(hint.length_px, hint.length_error_px)) look.widest_um = hint.length_px * scale.um_per_px;
  const bool deep = hint.kind == ApexDamage::chip && sure(hint.size_px, hint.size_error_px);
  look.is_thickness = false;
  look.at_mm = micrograph.at_mm;
  look.note = said("seen in {name}{deep}",
                   {{"name", micrograph.name},
                    {"deep", deep ? said(", {um_per_px} deep",
                                         {{"um_per_px", print_um(hint.size_px * scale.um_per_px)}})
                                  : ""}});
  look.picture = micrograph.id;
  return look;
}

Observations observations_of(const Micrograph& micrograph) {
  Observations out;
  const auto has = [&](LensMeasureKind kind) {
    return std::any_of(micrograph.measures.begin(), micrograph.measures.end(),
                       [&](const LensMeasure& m) { return m.kind == kind; });
  };
  const auto accepted = [&](ApexDamage kind) {
    return std::any_of(micrograph.hints.begin(), micrograph.hints.end(),
                       [&](const HintAnswer& h) { return h.accepted && h.kind == kind; });
  };
  if (has(LensMeasureKind::chip) || accepted(ApexDamage::chip))
    out["shape"] = "gaps";
  else if (has(LensMeasureKind::roll_width) || accepted(ApexDamage::roll))
    out["shape"] = "bend";
  else if (has(LensMeasureKind::apex_line) && !has(LensMeasureKind::burr_height))
    out["shape"] = "line";
  if (micrograph.cuts && *micrograph.cuts > 0) out["last"] = "cut";
  return out;
}

std::vector<LensOffer> damage_offers(const Trial& trial, const std::string& blade,
                                     const std::string& run) {
  std::vector<LensOffer> out;
  for (auto it = trial.micrographs.rbegin(); it != trial.micrographs.rend(); ++it) {
    const bool of_blade = !blade.empty() && it->blade == blade,
               of_run = !run.empty() && it->run == run;
    const auto scale = scale_of(trial, *it);
    if ((!of_blade && !of_run) || !scale) continue;
    for (const auto& measure : it->measures) {
      if (measure.kind != LensMeasureKind::chip && measure.kind != LensMeasureKind::roll_width)
        continue;
      const LensValue value = value_of(measure, *scale);
      LensOffer offer;
      offer.words = std::string(name_of(measure.kind)) + " " + print_value(measure.kind, value) +
                    " (" + it->name + ")";
      offer.look.found =
          measure.kind == LensMeasureKind::chip ? DamageFound::broken_out : DamageFound::bent;
      offer.look.widest_um = value.value;
      offer.look.is_thickness = false;
      offer.look.at_mm = it->at_mm;
      offer.look.note = offer.words;
      offer.look.picture = it->id;
      out.push_back(std::move(offer));
    }
  }
  return out;
}

}  // namespace bq::inline workflow
