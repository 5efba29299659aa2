// What was measured in pictures, in words.
#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "quantity/said.h"
#include "workflow/lens_study.h"

namespace bq::inline workflow {
namespace {

/// One digit of the uncertainty, two where it begins with a 1.
std::string print_with_half(double v, double half) {
  int decimals = 1;
  if (half > 0) {
    const int whole = int(std::floor(std::log10(half)));
    const bool one = half / std::pow(10.0, whole) < 1.95;
    decimals = std::clamp((one ? 1 : 0) - whole, 0, 3);
  }
  return print_fixed(v, decimals) + " ± " + print_fixed(half, decimals);
}

}  // namespace

std::string print_hint(const DamageHint& hint, const std::optional<PictureScale>& scale) {
  const double k = scale ? scale->um_per_px : 1, relative = scale ? scale->relative_error : 0;
  const std::string unit = scale ? " µm" : " px";
  const auto figure = [&](double px, double error_px, bool sure, const char* what) {
    if (!sure) return said("how {what} is not sure", {{"what", what}});
    return print_with_half(k * px, 1.96 * k * std::hypot(error_px, relative * px)) + unit + " " +
           what;
  };
  return std::string(name_of(hint.kind)) + "?  " +
         figure(hint.to_px - hint.from_px, hint.length_error_px, hint.length_sure(), "long") +
         ", " +
         figure(hint.size_px, hint.size_error_px, hint.size_sure(),
                hint.kind == ApexDamage::chip ? "deep" : "wide");
}

std::string print_value(LensMeasureKind kind, const LensValue& value) {
  const auto pair = print_with_half;
  std::string out = pair(value.value, value.plus_minus) + " µm";
  if (value.second && kind == LensMeasureKind::chip)
    out += said(", {second} µm deep", {{"second", pair(*value.second, *value.second_plus_minus)}});
  if (value.second && kind == LensMeasureKind::scratches)
    out += said(", at {second}°", {{"second", pair(*value.second, *value.second_plus_minus)}});
  if (value.crossing)
    out += said("; crossed by {crossing} µm, at {crossing_deg}°",
                {{"crossing", pair(*value.crossing, value.crossing_plus_minus)},
                 {"crossing_deg", print_fixed(value.crossing_deg, 1)}});
  return out;
}

std::string print_measure(const LensMeasure& measure, const std::optional<PictureScale>& scale) {
  if (scale) return print_value(measure.kind, value_of(measure, *scale));
  double mean = 0;
  for (const auto& take : measure.takes) mean += take.value_px / double(measure.takes.size());
  return print_fixed(mean, 1) + " px";
}

}  // namespace bq::inline workflow
