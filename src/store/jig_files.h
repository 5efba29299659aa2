#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "edge/angle_checks.h"
#include "edge/clamp_jig.h"
#include "edge/marker_test.h"
#include "trial/edge_record.h"

namespace bq::inline store {

/// The `clamp` file of FORMATS.
struct ClampQuestion {
  struct Station {
    std::string name;
    double x_mm = 0;
  };
  ClampJig jig;
  std::vector<OutlinePoint> outline;
  std::vector<Station> stations;
  std::optional<Station> held;  ///< the station whose angle is held
  double held_deg = 0;
  ClampSolver::Limits limits{-25, 25, 0};
  ClampSolver::Aim aim = ClampSolver::Aim::least_range;
  std::optional<ClampSolver::TipInk> tip_ink;
  std::vector<std::string> notes;
};
Checked<ClampQuestion> parse_clamp_file(std::string_view text);

/// A jig's own measures as a project keeps them: pivot along and beside the blade, its height and
/// the abrasive's offset, in mm. Empty where they cannot be read.
std::string jig_text(const ClampJig& jig);
std::optional<ClampJig> parse_jig_text(std::string_view text);

/// The `marker` file: the settings and the touches made so far.
struct MarkerQuestion {
  MarkerSettings settings;
  std::vector<MarkerTouch> touches;
  EdgeSide side = EdgeSide::left;                 ///< of the blade, where the test is made
  MeasuredBevel bevel = MeasuredBevel::not_said;  ///< that is inked
  double at_mm = 0;                               ///< from the heel
  std::vector<std::string> notes;
};
Checked<MarkerQuestion> parse_marker_file(std::string_view text);
/// The file again; parse_marker_file gives the same question back.
std::string marker_file_json(const MarkerQuestion& question);

/// A gauge log as it is kept while it is being taken.
struct GaugeLogFile {
  GaugeLogOptions options;
  std::vector<GaugeEntry> entries;
  MeasuredBevel bevel = MeasuredBevel::not_said;  ///< that all the readings are of
};
std::string gauge_log_json(const GaugeLogFile& log);
Checked<GaugeLogFile> parse_gauge_log(std::string_view text);

}  // namespace bq::inline store
