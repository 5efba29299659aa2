#include "rehearsal/virtual_blade.h"

#include <algorithm>
#include <cmath>

#include "edge/apex_wear.h"

namespace bq::inline rehearsal {

VirtualBlade::VirtualBlade(const Start& start, const VirtualMedium& medium,
                           const VirtualGauge& gauge)
    : start_(start), medium_(medium), gauge_(gauge) {}

double VirtualBlade::fresh_width_um(double finish_um) {
  return std::max(0.3, 0.8 * std::pow(finish_um, 0.2));
}

double VirtualBlade::tooth_um(double finish_um) { return 0.25 * std::pow(finish_um, 0.6); }

double VirtualBlade::apex_width_um(double cuts) const {
  const double area_um2 =
      cuts * medium_.stroke_mm * 1e-3 * medium_.wear_um2_per_m * start_.wear_factor;
  return 1e3 * worn_apex_width_mm(1e-3 * fresh_width_um(start_.finish.mean_um()), 1e-6 * area_um2,
                                  start_.geometry.apex());
}

double VirtualBlade::reading_gf(double cuts) const {
  const double teeth =
      tooth_um(start_.finish.mean_um()) * std::exp(-cuts / medium_.tooth_life_cuts);
  const double tooth_term = medium_.cut_mode == CutMode::push ? gauge_.push_tooth_loss * teeth
                                                              : -gauge_.slice_tooth_gain * teeth;
  // A burr that still stands is itself a thin, sharp edge: the apex behind it is not met yet.
  const double burr = start_.residual_burr_um * (1 - std::exp(-cuts / start_.burr_life_cuts));
  const double effective = apex_width_um(cuts) + tooth_term + burr;
  return gauge_.gf_per_um * std::max(0.25, effective + 0.6);
}

std::optional<double> VirtualBlade::true_life(double threshold_gf, double limit) const {
  if (reading_gf(limit) < threshold_gf) return std::nullopt;
  double low = 0, high = limit;
  while (high - low > 1e-9 * limit) {
    const double middle = 0.5 * (low + high);
    (reading_gf(middle) < threshold_gf ? low : high) = middle;
  }
  return high;
}

}  // namespace bq::inline rehearsal
