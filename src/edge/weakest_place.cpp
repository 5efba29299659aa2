#include "edge/weakest_place.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline edge {
namespace {

/// No plate is thinner (weakest_place).
constexpr double kLeastPlate_mm = 0.001;
/// An estimate tells no places apart whose stress differs by less.
constexpr double kAlike = 0.95;

}  // namespace

double bending_moment_N(const SideLoad& load, double h) {
  const double h0 = load.depth_mm / 2;
  const double moment =
      h <= load.depth_mm ? load.line_N_per_mm * h * h / (4 * h0) : load.line_N_per_mm * (h - h0);
  return load.length_mm > 0 ? moment * load.length_mm / (load.length_mm + 2 * h) : moment;
}

double least_wedge_angle_deg(const SideLoad& load, double limit_MPa) {
  return degrees(
      std::atan(std::sqrt(0.375 * load.line_N_per_mm / (load.depth_mm / 2 * limit_MPa))));
}

double wedge_stress_MPa(const SideLoad& load, double angle_deg) {
  const double slope = std::tan(radians(angle_deg));
  return 0.375 * load.line_N_per_mm / (load.depth_mm / 2 * slope * slope);
}

Checked<WeakestPlace> weakest_place(const Section& section, const SideLoad& load) {
  if (!(load.line_N_per_mm > 0) || !std::isfinite(load.line_N_per_mm) || !(load.depth_mm > 0) ||
      !std::isfinite(load.depth_mm) || !(load.length_mm >= 0) || !std::isfinite(load.length_mm))
    return Refusal{said("the sideways load and its depth must be above 0, its length not below")};
  const auto stress = [&](double h) {
    const double t = section.thickness_mm(h).value_or(0);
    return h <= 0 ? 0 : 6 * bending_moment_N(load, h) / std::max(t * t, 1e-300);
  };
  // The ground part, and at least a little beyond the load; all corners of both faces.
  double end = std::min(section.height_mm(), 1.5 * load.depth_mm);
  std::set<double> corners;
  for (const EdgeSide side : {EdgeSide::left, EdgeSide::right})
    for (const auto& piece : section.pieces(side))
      if (piece.made_by != kMadeByBlank) {
        const double to = piece.to_mm - section.apex_mm();
        end = std::max(end, std::min(to, section.height_mm()));
        corners.insert(to);
      }
  corners.insert(load.depth_mm);
  corners.insert(end);
  double from = 1e-6;
  while (section.thickness_mm(from).value_or(0) < kLeastPlate_mm && from < end / 4) from *= 1.2;
  std::erase_if(corners, [&](double h) { return h <= from || h > end; });

  WeakestPlace out;
  // Fine steps close to the apex: each stretch is cut into equal ratios or equal lengths, whichever
  // is finer.
  out.scan.push_back({from, stress(from)});
  for (const double to : corners) {
    constexpr int steps = 24;
    const double ratio = to / from;
    for (int i = 1; i <= steps; ++i) {
      const double share = double(i) / steps;
      const double h = i == steps  ? to
                       : ratio > 3 ? from * std::pow(ratio, share)
                                   : from + share * (to - from);
      out.scan.push_back({h, stress(h)});
    }
    from = to;
  }
  // Stress between two neighbours of the highest point has one top: golden section.
  std::size_t top = 0;
  for (std::size_t i = 0; i < out.scan.size(); ++i) {
    if (out.scan[i].stress_MPa >= out.scan[top].stress_MPa * (1 - 1e-9)) top = std::max(top, i);
    if (out.scan[i].stress_MPa > out.scan[top].stress_MPa) top = i;
    if (out.scan[i].at_mm <= load.depth_mm * (1 + 1e-12))
      out.apex_zone_MPa = std::max(out.apex_zone_MPa, out.scan[i].stress_MPa);
  }
  double a = out.scan[top == 0 ? 0 : top - 1].at_mm,
         b = out.scan[std::min(top + 1, out.scan.size() - 1)].at_mm;
  constexpr double golden = 0.6180339887498949;
  double x = b - golden * (b - a), y = a + golden * (b - a), fx = stress(x), fy = stress(y);
  for (int i = 0; i < 90 && b - a > 1e-11 * b; ++i) {
    if (fx > fy) {
      b = y;
      y = x;
      fy = fx;
      x = b - golden * (b - a);
      fx = stress(x);
    } else {
      a = x;
      x = y;
      fx = fy;
      y = a + golden * (b - a);
      fy = stress(y);
    }
  }
  const double refined = 0.5 * (a + b);
  const bool better = stress(refined) > out.scan[top].stress_MPa * (1 + 1e-12);
  out.at_mm = better ? refined : out.scan[top].at_mm;
  out.peak_MPa = std::max(stress(refined), out.scan[top].stress_MPa);
  const auto alike = std::find_if(out.scan.begin(), out.scan.end(), [&](const StressPoint& point) {
    return point.stress_MPa < kAlike * out.peak_MPa;
  });
  if (alike != out.scan.begin() && std::prev(alike)->at_mm >= out.scan[top].at_mm) {
    out.from_apex = true;
    // The load ends the stretch of a plain wedge; behind it the stress falls slowly at first.
    const double far = std::prev(alike)->at_mm;
    const double near = std::max(out.scan[top].at_mm, load.depth_mm);
    out.at_mm = std::min(far, near);
  }
  out.thickness_mm = section.thickness_mm(out.at_mm).value_or(0);
  // A flat at the apex moves the peak of a plain wedge a little beyond the load: that is no neck
  // yet.
  const bool in_zone = out.at_mm <= load.depth_mm * 1.02 ||
                       (out.at_mm < 1.5 * load.depth_mm && out.apex_zone_MPa > 0.98 * out.peak_MPa);
  for (const auto& piece : section.pieces(EdgeSide::left))
    if (section.apex_mm() + out.at_mm <= piece.to_mm) {
      out.facet_made_by = piece.made_by;
      break;
    }
  // A neck: the apex zone in front would hold more than the place behind it.
  out.place = in_zone                                         ? WeakPlace::apex_zone
              : out.apex_zone_MPa < out.peak_MPa * (1 - 1e-6) ? WeakPlace::neck
                                                              : WeakPlace::behind;
  return out;
}

std::string describe(const WeakestPlace& place, const StrengthLimits& limits) {
  const auto limit = leading_limit(limits);
  std::string text = limit
                         ? (place.peak_MPa > limit->limit_MPa ? std::string(name_of(limit->failure))
                                                              : said("holds; weakest"))
                         : "weakest";
  const auto length = [](double mm) {
    return mm < 0.9995 ? print_number(mm * 1000, 3) + " µm" : print_number(mm, 3) + " mm";
  };
  if (!place.from_apex)
    text += said(" at {length} from the apex, {length_2} thick",
                 {{"length", length(place.at_mm)}, {"length_2", length(place.thickness_mm)}});
  else
    text += said(" from the apex on, to {length} from it", {{"length", length(place.at_mm)}});
  switch (place.place) {
    case WeakPlace::apex_zone:
      text += said(": the buried apex");
      break;
    case WeakPlace::neck:
      text += said(": a weak neck behind a strong apex");
      break;
    case WeakPlace::behind:
      text += said(": behind the buried depth");
      break;
  }
  return text;
}

}  // namespace bq::inline edge
