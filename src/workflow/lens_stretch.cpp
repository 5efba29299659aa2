// What the apex of a picture shows along its length, and how far it fell back between two pictures.
#include <algorithm>
#include <cmath>

#include "lens/edge_along.h"
#include "quantity/number.h"
#include "stats/distributions.h"
#include "workflow/lens_study.h"
#include "workflow/sentences.h"

namespace bq::inline workflow {
namespace {

EdgeStretch stretch_of(const ApexTrace& trace) {
  const EdgeAlong found = along_edge(trace);
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
                  {}};
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
  out.wander.value = k * s.wander_px;
  out.wander.plus_minus =
      1.96 * k * std::hypot(s.wander_error_px, scale.relative_error * s.wander_px);
  out.wander.takes = 1;
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
  if (!ends) return Refusal{"no apex could be made out that goes through the picture"};
  return trace_blade(image, ends->first, ends->second, ApexOptions{}.reach_px, other_side);
}

Checked<EdgeStretch> stretch_along(const GreyImage& image, bool other_side) {
  const auto trace = trace_whole(image, other_side);
  return trace ? Checked<EdgeStretch>(stretch_of(*trace)) : trace.refusal();
}

Checked<EdgeStretch> stretch_since(const GreyImage& earlier, const GreyImage& later,
                                   const SamePlace& laid, bool other_side) {
  const auto after = trace_whole(later, other_side);
  if (!after) return after.refusal();
  const auto before = trace_whole(earlier, other_side);
  if (!before) return Refusal{"in the earlier picture, " + before.refusal().reason};
  // Of the mean place across the edge: the marks' scatter (four figures are fitted to two a mark)
  // over their number, and a third more for the turn that goes with it.
  const double n = double(laid.marks.size());
  const double error =
      n > 2 ? std::max(0.3, 1.3 * laid.residual_px * std::sqrt(2 * n / (2 * n - 4) / n)) : 1;
  const auto found = recession(*before, *after, laid.map, error);
  if (!found) return found.refusal();
  EdgeStretch out = stretch_of(*after);
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
  const std::string length = print_number(1e-3 * v.length_um, 3) + " mm of apex";
  if (v.chips == 0)
    out.push_back("No chip stands out in " + length + ": fewer than " +
                  print_number(v.per_mm_high, 2) + " per mm (95 %).");
  else
    out.push_back((v.chips == 1 ? "1 chip in " : std::to_string(v.chips) + " chips in ") + length +
                  ": " + print_number(v.per_mm, 2) + " per mm (" + print_number(v.per_mm_low, 2) +
                  " to " + print_number(v.per_mm_high, 2) + "), half of them wider than " +
                  print_um(v.median_width_um) + ", the widest " + print_um(v.widest_um) +
                  ", the deepest " + print_um(v.deepest_um) + "; " +
                  print_number(v.chipped_percent, 2) + " % of the length is chipped.");
  out.push_back("Between them the apex wanders by " +
                print_value(LensMeasureKind::apex_line, v.wander) + " (root mean square)" +
                (v.belly_um > 0 ? ", about a belly of " + print_um(v.belly_um) + "." : "."));
  if (v.receded) {
    const bool clear = v.receded->value > v.receded->plus_minus;
    out.push_back(
        clear ? "Since the earlier picture it fell back by " +
                    print_value(LensMeasureKind::apex_line, *v.receded) + " on average, by " +
                    print_value(LensMeasureKind::apex_line, *v.receded_most) +
                    " at the worst place; seen from the side " + print_number(v.lost_um2, 2) +
                    " ± " + print_number(v.lost_plus_minus_um2, 2) + " µm² are gone."
              : "Since the earlier picture it fell back by no more than can be told (" +
                    print_value(LensMeasureKind::apex_line, *v.receded) + " on average).");
  }
  return out;
}

}  // namespace bq::inline workflow
