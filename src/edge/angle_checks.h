#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "edge/edge_geometry.h"
#include "edge/grind.h"

namespace bq::inline edge {

/// Left and right read in one clamping and again with the blade turned over in the clamp.
struct ClampTiltCheck {
  double edge_difference_deg = 0;  ///< left − right of the edge itself
  double tilt_deg = 0;             ///< of the clamp: what flips when the blade is turned
};
ClampTiltCheck clamp_tilt(double left_deg, double right_deg, double left_turned_deg,
                          double right_turned_deg);

/// One line of a gauge log: a zero on the reference face, a reading, the zero looked at again, or
/// the blade turned over in the clamp (its angle means nothing).
struct GaugeEntry {
  enum class Kind { zero, reading, zero_check, turned };
  Kind kind = Kind::reading;
  EdgeSide side = EdgeSide::left;  ///< readings
  double station_mm = 0;           ///< readings: from the heel
  double angle_deg = 0;            ///< as shown by the gauge
  bool operator==(const GaugeEntry&) const = default;
};
std::string_view name_of(
    GaugeEntry::Kind kind);  ///< "zero", "reading", "zero check", "turned over"
std::optional<GaugeEntry::Kind> parse_gauge_entry(std::string_view text);

struct GaugeLogOptions {
  double drift_limit_deg = 0.2;  ///< larger drift voids the readings between, >= 0
  /// The gauge was zeroed on a face that leans this much from the centre plane (per side): readings
  /// are taken from that face and corrected by it.
  double face_taper_deg = 0;
  bool operator==(const GaugeLogOptions&) const = default;
};

struct GaugeReading {
  EdgeSide side = EdgeSide::left;
  double station_mm = 0;
  double angle_deg = 0;    ///< per side, from the centre plane: shown + taper
  bool voided = false;     ///< zero drift beyond the limit: kept, not counted
  bool unchecked = false;  ///< the zero was not looked at again after it
  bool turned = false;     ///< taken with the blade turned over in the clamp
  std::size_t entry = 0;   ///< its line in the log
};

struct SideSummary {
  int count = 0;
  double mean_deg = 0;
  std::optional<double> sd_deg;  ///< two readings at least
  double least_deg = 0, largest_deg = 0;
  double heel_to_tip_deg = 0;  ///< largest minus least of the stations' means
};

struct GaugeLog {
  std::vector<GaugeReading> readings;
  struct Drift {
    double drift_deg = 0;
    bool beyond_limit = false;
  };
  std::vector<Drift> drifts;               ///< one for each zero check
  std::optional<SideSummary> left, right;  ///< of readings that are not voided
  std::optional<double> left_minus_right_deg;
  std::optional<ClampTiltCheck> tilt;  ///< with both sides read both ways round
};

/// Evaluates a log in order. The zero's drift is the check's value minus the zero's (usually 0).
/// Refused: a reading before any zero, an angle outside (0°, 80°) after correction, a negative
/// limit.
Checked<GaugeLog> evaluate_gauge_log(const std::vector<GaugeEntry>& log,
                                     const GaugeLogOptions& options);

/// What a reflected beam showed on one side: one spot, two spots (two facets) or a smear (convex).
struct BeamReading {
  EdgeSide side = EdgeSide::left;
  std::vector<double> spots_deg;  ///< per side, one or two
  std::optional<std::pair<double, double>> smear_deg;
};
struct BeamFinding {
  double shoulder_deg = 0, apex_deg = 0;  ///< equal for a single flat facet
  enum class Kind { flat, two_facets, convex } kind = Kind::flat;
};
/// Refused: neither spots nor smear, more than two spots, angles outside (0°, 80°).
Checked<BeamFinding> read_beam(const BeamReading& reading);

/// Angle per side with its half-width (95 %) from the calliper's resolution.
struct CalliperAngle {
  double angle_deg = 0;
  double plus_minus_deg = 0;
};
/// Two thicknesses of a symmetric wedge at two distances from the apex: tan θ = Δt / (2·Δd).
/// resolution_mm: of the calliper, in each of the four lengths (uniform; propagated to first
/// order).
Checked<CalliperAngle> angle_from_thicknesses(double near_distance_mm, double near_thickness_mm,
                                              double far_distance_mm, double far_thickness_mm,
                                              double resolution_mm);
/// One facet's width b along its face and the thickness t at the shoulder of a symmetric edge: θ =
/// asin(t / 2b).
Checked<CalliperAngle> angle_from_facet(double shoulder_thickness_mm, double facet_width_mm,
                                        double resolution_mm);

/// A rolling or V-slot holder: its own angle, plus or minus wedges.
struct HolderSetting {
  std::string name;
  double holder_deg = 0;
  std::vector<double> wedges_deg;  ///< signed
};
/// Holder angle plus the wedges. Refused outside (0°, 80°).
Checked<double> holder_angle_deg(const HolderSetting& setting);

}  // namespace bq::inline edge
