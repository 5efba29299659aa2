#pragma once

#include <array>
#include <optional>
#include <string>
#include <vector>

#include "trial/trial.h"

namespace bq::inline trial {

/// A blade as its history tells: the latest outline, section, setting and findings, and the spots
/// that have not been cleared.
struct EdgeNow {
  std::vector<OutlinePoint> outline;  ///< a straight 100 mm edge when none was set
  bool outline_known = false;
  std::optional<SectionPlan> section;
  bool section_older = false;  ///< it was put on record before the last finished sharpening
  std::optional<SettingRecord> setting;
  struct SideAngles {
    struct Station {
      double at_mm = 0;
      double mean_deg = 0;
      double plus_minus_deg = 0;  ///< the latest reading's; 0: not known
      int readings = 0;
    };
    std::vector<Station> stations;  ///< rising place
    [[nodiscard]] std::optional<double> mean_deg() const;
    [[nodiscard]] double range_deg() const;
  };
  SideAngles left, right;              ///< of the edge bevel, or of one that was not said
  SideAngles micro_left, micro_right;  ///< of the micro-bevel
  bool bevel_unsaid = false;           ///< some of left or right do not say their bevel
  [[nodiscard]] std::array<const SideAngles*, 4> angles() const {
    return {&left, &right, &micro_left, &micro_right};
  }
  /// What this check found in trouble and nothing has closed since; null none.
  [[nodiscard]] const FindingRecord* trouble(IntakeCheck check) const;
  [[nodiscard]] bool has_angle() const;    ///< of either bevel, on either side
  [[nodiscard]] double range_deg() const;  ///< the widest of one side of one bevel
  std::vector<ThicknessRecord> thicknesses;
  std::vector<SpotRecord> spots;
  std::vector<std::optional<FindingRecord>> findings;  ///< one for each IntakeCheck
  /// From heel to tip along the blade: what places are measured on.
  [[nodiscard]] double length_mm() const;
  /// Along the edge itself, round its curve: what metal is reckoned with.
  [[nodiscard]] double edge_mm() const;
  /// Thickness against distance at every place with two distances or more, each fit to start a
  /// section from; of two thicknesses at one distance the later holds.
  struct MeasuredPlace {
    double at_mm = 0;
    std::vector<MeasuredThickness> profile;
  };
  [[nodiscard]] std::vector<MeasuredPlace> measured_places() const;
};

/// The angle of a station is the mean of the readings since the last section record or finished
/// sharpening, and the spots are those since the last finished sharpening: what was measured or
/// seen before is history of the edge that is gone.
EdgeNow edge_now(const Blade& blade);

/// A blade's section with another edge ground on its primary grind (3° per side on a 2 mm blank
/// where it has none): the edge bevel to the apex, the micro-bevel kMicroFacet_um wide. It may not
/// be possible to grind (make_section).
inline constexpr double kMicroFacet_um = 60;
SectionPlan with_edge(SectionPlan plan, const BevelAngles& edge,
                      const std::optional<BevelAngles>& micro);

/// Depth of the deepest damage that is on the edge now: marked on the map, or chips found at intake
/// and not mended since; 0 none.
double open_damage_um(const EdgeNow& edge);

struct EdgeWords {
  std::string spread;     ///< "Edge bevel: left 15.2° (14.8° to 15.6°), right 15.9° per side; …"
  std::string thickness;  ///< thick and thin spots at one distance; "" with fewer than two places
  std::string worst;      ///< "34 mm from the heel: rework here, …"; "" when nothing is known
  std::optional<double> worst_at_mm;
};
/// The worst place is the gravest spot (damage, then burr, then hanging, then bright, the larger
/// first); without spots the station farthest outside `tolerance_deg` of the sides' mean.
EdgeWords describe_edge(const EdgeNow& edge, double tolerance_deg);

}  // namespace bq::inline trial
