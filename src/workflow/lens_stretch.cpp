// What the apex of a picture shows along its length, and how far it fell back between two pictures.
#include <algorithm>
#include <array>
#include <cmath>

#include "lens/edge_along.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/distributions.h"
#include "workflow/lens_study.h"
#include "workflow/sentences.h"

namespace bq::inline workflow {
namespace {

/// Wavelengths that part waves from raggedness: the cut-offs of ISO 21920-3, and two finer ones.
constexpr std::array<double, 7> kCutoffs_um{8, 25, 80, 250, 800, 2500, 8000};

/// The longest of them that the stretch is five times as long as; 0: none, or no scale.
double cutoff_px(const ApexTrace& trace, double um_per_px) {
  const double length = trace.along_px.back() - trace.along_px.front();
  double out = 0;
  for (const double um : kCutoffs_um)
    if (um_per_px > 0 && 5 * um <= um_per_px * length) out = um / um_per_px;
  return out;
}

EdgeStretch stretch_of(const GreyImage& image, const ApexTrace& trace, double um_per_px) {
  const EdgeAlong found = along_edge(trace, cutoff_px(trace, um_per_px));
  EdgeStretch out{trace.spot(trace.along_px.front()),
                  trace.spot(trace.along_px.back()),
                  found.length_px,
                  {},
                  found.wander_px,
                  found.wander_error_px,
                  found.belly_px,
                  found.chipped_share,
                  trace.soft_px,
                  found.depth_px,
                  {},
                  found.cutoff_px,
                  found.wavy_px,
                  found.wavy_error_px,
                  found.ragged_px,
                  found.ragged_error_px,
                  standing_burr(image, trace),
                  found.band};
  for (const auto& chip : found.chips) out.chips.emplace_back(chip.width_px, chip.depth_px);
  return out;
}

StretchValues values_of(const EdgeStretch& s, const PictureScale& scale,
                        const std::optional<PictureScale>& scale_since) {
  StretchValues out;
  const double k = scale.um_per_px;
  out.length_um = k * s.length_px;
  out.chips = int(s.chips.size());
  const double mm = 1e-3 * out.length_um;
  const auto [low, high] = stats::poisson_mean_interval(out.chips, 0.95);
  out.per_mm = out.chips / mm;
  out.per_mm_low = low / mm;
  out.per_mm_high = high / mm;
  std::vector<double> widths;
  for (const auto& [width, depth] : s.chips) {
    widths.push_back(k * width);
    out.widest_um = std::max(out.widest_um, k * width);
    out.deepest_um = std::max(out.deepest_um, k * depth);
  }
  out.median_width_um = upper_median(widths);
  out.chipped_percent = 100 * s.chipped_share;
  const auto length_of = [&scale](double px, double error_px) {
    LensValue v;
    v.value = scale.um_per_px * px;
    v.plus_minus = 1.96 * scale.um_per_px * std::hypot(error_px, scale.relative_error * px);
    v.takes = 1;
    return v;
  };
  out.wander = length_of(s.wander_px, s.wander_error_px);
  if (s.cutoff_px > 0) {
    out.cutoff_um = k * s.cutoff_px;
    out.wavy = length_of(s.wavy_px, s.wavy_error_px);
    if (s.ragged_px) out.ragged = length_of(*s.ragged_px, s.ragged_error_px);
  }
  const auto spread_of = [&](const std::optional<BrightBand>& band) {
    std::optional<SpreadAlong> value;
    if (band)
      value = SpreadAlong{100 * band->share, length_of(band->mean_px, band->mean_error_px),
                          length_of(band->most_px, band->most_error_px), k * band->median_px,
                          k * band->ninth_px};
    return value;
  };
  out.band = spread_of(s.band);
  out.burr = spread_of(s.burr);
  out.belly_um = k * s.belly_px;
  if (s.recession && scale_since) {
    const double j = scale_since->um_per_px;
    const auto value = [&](double px, double error_px) {
      LensValue v;
      v.value = j * px;
      v.plus_minus = 1.96 * j * std::hypot(error_px, scale_since->relative_error * px);
      v.takes = 1;
      return v;
    };
    const StretchRecession& r = *s.recession;
    out.receded = value(r.mean_px, r.mean_error_px);
    out.receded_most = value(r.most_px, r.most_error_px);
    out.lost_um2 = out.receded->value * j * r.length_px;
    out.lost_plus_minus_um2 = out.receded->plus_minus * j * r.length_px;
  }
  return out;
}

}  // namespace

Checked<ApexTrace> trace_whole(const GreyImage& image, bool other_side) {
  const auto ends = find_apex(image);
  if (!ends) return Refusal{said("no apex could be made out that goes through the picture")};
  return trace_blade(image, ends->first, ends->second, ApexOptions{}.reach_px, other_side);
}

Checked<EdgeStretch> stretch_along(const GreyImage& image, bool other_side, double um_per_px) {
  const auto trace = trace_whole(image, other_side);
  return trace ? Checked<EdgeStretch>(stretch_of(image, *trace, um_per_px)) : trace.refusal();
}

Checked<EdgeStretch> stretch_since(const GreyImage& earlier, const GreyImage& later,
                                   const SamePlace& laid, bool other_side, double um_per_px) {
  if (!laid.doubt.empty())
    return Refusal{said("the two pictures may lie more than 2 pixels off each other, for {doubt}",
                        {{"doubt", laid.doubt}})};
  const auto after = trace_whole(later, other_side);
  if (!after) return after.refusal();
  const auto before = trace_whole(earlier, other_side);
  if (!before)
    return Refusal{said("in the earlier picture, {reason}", {{"reason", before.refusal().reason}})};
  // Of the mean place across the edge: the marks' scatter (four figures are fitted to two a mark)
  // over their number, and a third more for the turn that goes with it.
  const double n = double(laid.marks.size());
  const double error =
      n > 2 ? std::max(0.3, 1.3 * laid.residual_px * std::sqrt(2 * n / (2 * n - 4) / n)) : 1;
  const auto found = recession(*before, *after, laid.map, error);
  if (!found) return found.refusal();
  EdgeStretch out = stretch_of(later, *after, um_per_px);
  // A burr that breaks off is no metal of the edge.
  if (out.burr || standing_burr(earlier, *before))
    return Refusal{
        said("a burr stands on the apex in {this} picture: how far the edge fell back cannot be "
             "told from its rim",
             {{"this", out.burr ? said("this") : said("the earlier")}})};
  out.recession =
      StretchRecession{laid.other,           found->mean_px,   found->mean_error_px, found->most_px,
                       found->most_error_px, found->length_px, found->depth_px};
  return out;
}

const Micrograph* since_of(const Trial& trial, const Micrograph& micrograph) {
  if (!micrograph.along || !micrograph.along->recession) return nullptr;
  const auto found =
      std::find_if(trial.micrographs.begin(), trial.micrographs.end(),
                   [&](const Micrograph& m) { return m.id == micrograph.along->recession->since; });
  return found == trial.micrographs.end() ? nullptr : &*found;
}

std::optional<StretchValues> stretch_values(const Trial& trial, const Micrograph& micrograph) {
  const auto scale = scale_of(trial, micrograph);
  if (!micrograph.along || !scale) return std::nullopt;
  const Micrograph* since = since_of(trial, micrograph);
  return values_of(*micrograph.along, *scale, since ? scale_of(trial, *since) : std::nullopt);
}

std::vector<std::string> words_of(const StretchValues& v) {
  std::vector<std::string> out;
  const std::string length = print_number(1e-3 * v.length_um, 3) +
                             (v.burr ? said(" mm of the burr's rim") : said(" mm of apex"));
  if (v.chips == 0)
    out.push_back(said("No chip stands out in {length}: fewer than {per_mm_high} per mm (95 %).",
                       {{"length", length}, {"per_mm_high", print_number(v.per_mm_high, 2)}}));
  else
    out.push_back(
        said("{chip_in}{length}: {per_mm} per mm ({per_mm_low} to {per_mm_high}), half of them "
             "wider than {median_width_um}, the widest {widest_um}, the deepest {deepest_um}; "
             "{chipped_percent} % of the length is chipped.",
             {{"chip_in", v.chips == 1
                              ? said("1 chip in ")
                              : said("{chips} chips in ", {{"chips", std::to_string(v.chips)}})},
              {"length", length},
              {"per_mm", print_number(v.per_mm, 2)},
              {"per_mm_low", print_number(v.per_mm_low, 2)},
              {"per_mm_high", print_number(v.per_mm_high, 2)},
              {"median_width_um", print_um(v.median_width_um)},
              {"widest_um", print_um(v.widest_um)},
              {"deepest_um", print_um(v.deepest_um)},
              {"chipped_percent", print_number(v.chipped_percent, 2)}}));
  const std::string followed = v.burr ? said("rim") : said("apex");
  out.push_back(
      said("{between_them_the}{followed} wanders by {apex_line} (root mean square){about_belly_of}",
           {{"between_them_the", v.chips > 0 ? said("Between them the ") : said("The ")},
            {"followed", followed},
            {"apex_line", print_value(LensMeasureKind::apex_line, v.wander)},
            {"about_belly_of", v.belly_um > 0 ? said(", about a belly of {belly_um}.",
                                                     {{"belly_um", print_um(v.belly_um)}})
                                              : "."}}));
  const auto printed = [](const LensValue& value) {
    return print_value(LensMeasureKind::apex_line, value);
  };
  if (v.wavy) {
    const std::string cutoff = print_um(v.cutoff_um), shortest = print_um(0.1 * v.cutoff_um);
    out.push_back(said(
        "In waves longer than {cutoff} it swings by {wavy}{between_and_it}",
        {{"cutoff", cutoff},
         {"wavy", printed(*v.wavy)},
         {"between_and_it",
          v.ragged
              ? said("; between {shortest} and {cutoff} it is ragged by {ragged}.",
                     {{"shortest", shortest}, {"cutoff", cutoff}, {"ragged", printed(*v.ragged)}})
              : said("; how ragged it is between {shortest} and {cutoff} this picture is too soft "
                     "or too coarse to show.",
                     {{"shortest", shortest}, {"cutoff", cutoff}})}}));
  }
  const auto spread = [&](const SpreadAlong& s, const std::string& is, const std::string& most) {
    return said(
        "{percent} % of it: {mean} {is} on average, half of it under {median_um}, nine tenths "
        "under {ninth_um}, {most} at its {most_2}.",
        {{"percent", print_number(s.percent, 2)},
         {"mean", printed(s.mean)},
         {"is", is},
         {"median_um", print_um(s.median_um)},
         {"ninth_um", print_um(s.ninth_um)},
         {"most", printed(s.most)},
         {"most_2", most}});
  };
  if (v.burr)
    out.push_back(said("What was followed is the ragged rim of a burr, which stands along {spread}",
                       {{"spread", spread(*v.burr, "high", "highest")}}));
  if (v.band)
    out.push_back(
        said("A bright band (a worn apex that reflects, a roll, or a burr that lies over) runs "
             "along {spread}",
             {{"spread", spread(*v.band, "wide", "widest")}}));
  if (v.receded) {
    const bool clear = v.receded->value > v.receded->plus_minus;
    out.push_back(
        clear ? said("Since the earlier picture it fell back by {apex_line} on average, by "
                     "{apex_line_2} at the worst place; seen from the side {lost_um2} ± "
                     "{lost_plus_minus_um2} µm² are gone.",
                     {{"apex_line", print_value(LensMeasureKind::apex_line, *v.receded)},
                      {"apex_line_2", print_value(LensMeasureKind::apex_line, *v.receded_most)},
                      {"lost_um2", print_number(v.lost_um2, 2)},
                      {"lost_plus_minus_um2", print_number(v.lost_plus_minus_um2, 2)}})
              : said("Since the earlier picture it fell back by no more than can be told "
                     "({apex_line} on average).",
                     {{"apex_line", print_value(LensMeasureKind::apex_line, *v.receded)}}));
  }
  return out;
}

}  // namespace bq::inline workflow
