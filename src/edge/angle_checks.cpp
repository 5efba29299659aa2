#include "edge/angle_checks.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline edge {
namespace {

constexpr std::array<std::string_view, 4> kGaugeEntries{"zero", "reading", "zero check",
                                                        "turned over"};

const char* kRange = " must lie between 0° and 80° per side, both excluded";
/// 95 % half-width of the middle of a uniform distribution's propagated SD: 1.96·u/√12 for
/// resolution u.
constexpr double kUniform = 1.959963984540054 / 3.4641016151377544;

std::optional<SideSummary> summary_of(const std::vector<GaugeReading>& readings, EdgeSide side) {
  SideSummary out;
  double sum = 0, squares = 0;
  std::map<double, std::pair<double, int>> stations;
  out.least_deg = 1e9;
  out.largest_deg = -1e9;
  for (const auto& reading : readings) {
    if (reading.side != side || reading.voided) continue;
    ++out.count;
    sum += reading.angle_deg;
    out.least_deg = std::min(out.least_deg, reading.angle_deg);
    out.largest_deg = std::max(out.largest_deg, reading.angle_deg);
    auto& station = stations[reading.station_mm];
    station.first += reading.angle_deg;
    ++station.second;
  }
  if (out.count == 0) return std::nullopt;
  out.mean_deg = sum / out.count;
  for (const auto& reading : readings)
    if (reading.side == side && !reading.voided)
      squares += (reading.angle_deg - out.mean_deg) * (reading.angle_deg - out.mean_deg);
  if (out.count > 1) out.sd_deg = std::sqrt(squares / (out.count - 1));
  double least = 1e9, largest = -1e9;
  for (const auto& [at, total] : stations) {
    least = std::min(least, total.first / total.second);
    largest = std::max(largest, total.first / total.second);
  }
  out.heel_to_tip_deg = largest - least;
  return out;
}

}  // namespace

std::string_view name_of(GaugeEntry::Kind kind) { return kGaugeEntries[std::size_t(kind)]; }
std::optional<GaugeEntry::Kind> parse_gauge_entry(std::string_view text) {
  for (std::size_t i = 0; i < kGaugeEntries.size(); ++i)
    if (kGaugeEntries[i] == text) return GaugeEntry::Kind(i);
  return std::nullopt;
}

Checked<GaugeLog> evaluate_gauge_log(const std::vector<GaugeEntry>& log,
                                     const GaugeLogOptions& options) {
  if (!(options.drift_limit_deg >= 0)) return Refusal{said("the drift limit must not be negative")};
  if (!(std::abs(options.face_taper_deg) < 45))
    return Refusal{said("the face's taper must lie below 45°")};
  GaugeLog out;
  std::optional<double> zero;
  bool turned = false;
  std::size_t since = 0;  // readings from here on hang on the zero not checked yet
  for (std::size_t i = 0; i < log.size(); ++i) {
    const auto& entry = log[i];
    const std::string which = said("line {i}: ", {{"i", std::to_string(i + 1)}});
    if (entry.kind != GaugeEntry::Kind::turned && !std::isfinite(entry.angle_deg))
      return Refusal{said("{which}the angle is not a number", {{"which", which}}), i};
    switch (entry.kind) {
      case GaugeEntry::Kind::zero:
        zero = entry.angle_deg;
        since = out.readings.size();
        break;
      case GaugeEntry::Kind::reading: {
        if (!zero)
          return Refusal{said("{which}zero the gauge before the first reading", {{"which", which}}),
                         i};
        const double angle = entry.angle_deg - *zero + options.face_taper_deg;
        if (!angle_in_range(angle))
          return Refusal{said("{which}the angle{range}", {{"which", which}, {"range", kRange}}), i};
        out.readings.push_back({entry.side, entry.station_mm, angle, false, true, turned, i});
        break;
      }
      case GaugeEntry::Kind::turned:
        turned = !turned;
        break;
      case GaugeEntry::Kind::zero_check: {
        if (!zero) return Refusal{said("{which}there is no zero to check", {{"which", which}}), i};
        const double drift = entry.angle_deg - *zero;
        const bool beyond = std::abs(drift) > options.drift_limit_deg;
        out.drifts.push_back({drift, beyond});
        for (std::size_t k = since; k < out.readings.size(); ++k) {
          out.readings[k].voided = beyond;
          out.readings[k].unchecked = false;
        }
        zero = entry.angle_deg;  // what the gauge shows on the reference face from here on
        since = out.readings.size();
        break;
      }
    }
  }
  out.left = summary_of(out.readings, EdgeSide::left);
  out.right = summary_of(out.readings, EdgeSide::right);
  if (out.left && out.right) out.left_minus_right_deg = out.left->mean_deg - out.right->mean_deg;
  // Means of side and clamping: left, right, then both turned.
  double sums[4] = {0, 0, 0, 0};
  int counts[4] = {0, 0, 0, 0};
  for (const auto& reading : out.readings) {
    const int cell = (reading.side == EdgeSide::right ? 1 : 0) + (reading.turned ? 2 : 0);
    if (!reading.voided) {
      sums[cell] += reading.angle_deg;
      ++counts[cell];
    }
  }
  if (counts[0] && counts[1] && counts[2] && counts[3])
    out.tilt = clamp_tilt(sums[0] / counts[0], sums[1] / counts[1], sums[2] / counts[2],
                          sums[3] / counts[3]);
  return out;
}

ClampTiltCheck clamp_tilt(double left, double right, double left_turned, double right_turned) {
  const double first = left - right, second = left_turned - right_turned;
  return {0.5 * (first + second), 0.25 * (first - second)};
}

Checked<BeamFinding> read_beam(const BeamReading& reading) {
  BeamFinding out;
  if (reading.smear_deg) {
    out.shoulder_deg = std::min(reading.smear_deg->first, reading.smear_deg->second);
    out.apex_deg = std::max(reading.smear_deg->first, reading.smear_deg->second);
    out.kind = BeamFinding::Kind::convex;
  } else if (reading.spots_deg.size() == 1 || reading.spots_deg.size() == 2) {
    out.shoulder_deg = std::min(reading.spots_deg.front(), reading.spots_deg.back());
    out.apex_deg = std::max(reading.spots_deg.front(), reading.spots_deg.back());
    out.kind =
        reading.spots_deg.size() == 2 ? BeamFinding::Kind::two_facets : BeamFinding::Kind::flat;
  } else {
    return Refusal{said("a beam shows one spot, two spots or a smear")};
  }
  if (!angle_in_range(out.shoulder_deg) || !angle_in_range(out.apex_deg))
    return Refusal{said("the angle{range}", {{"range", kRange}})};
  return out;
}

Checked<CalliperAngle> angle_from_thicknesses(double d1, double t1, double d2, double t2,
                                              double resolution) {
  if (!(d1 >= 0) || !(d2 > d1))
    return Refusal{said("the far distance must be larger than the near one")};
  if (!(t1 >= 0) || !(t2 > t1))
    return Refusal{said("the far thickness must be larger than the near one")};
  if (!(resolution >= 0)) return Refusal{said("the resolution must not be negative")};
  const double rise = t2 - t1, run = d2 - d1, slope = rise / (2 * run);
  // d(atan s) = ds / (1 + s²); the four lengths err independently.
  const double relative = resolution * kUniform * std::sqrt(2.0) * std::hypot(1 / rise, 1 / run);
  CalliperAngle out{degrees(std::atan(slope)), degrees(slope * relative / (1 + slope * slope))};
  if (!angle_in_range(out.angle_deg)) return Refusal{said("the angle{range}", {{"range", kRange}})};
  return out;
}

Checked<CalliperAngle> angle_from_facet(double thickness, double width, double resolution) {
  if (!(thickness > 0) || !(width > 0))
    return Refusal{said("thickness and facet width must be above 0")};
  if (!(resolution >= 0)) return Refusal{said("the resolution must not be negative")};
  const double sine = thickness / (2 * width);
  if (sine >= 1)
    return Refusal{said("the facet is narrower than half the thickness: that is no edge")};
  const double relative = resolution * kUniform * std::hypot(1 / thickness, 1 / width);
  CalliperAngle out{degrees(std::asin(sine)),
                    degrees(sine * relative / std::sqrt(1 - sine * sine))};
  if (!angle_in_range(out.angle_deg)) return Refusal{said("the angle{range}", {{"range", kRange}})};
  return out;
}

Checked<double> holder_angle_deg(const HolderSetting& setting) {
  double angle = setting.holder_deg;
  for (const double wedge : setting.wedges_deg) angle += wedge;
  if (!angle_in_range(angle))
    return Refusal{said("holder and wedges give {angle}°; the angle{range}",
                        {{"angle", print_number(angle, 3)}, {"range", kRange}})};
  return angle;
}

}  // namespace bq::inline edge
