#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "edge/parting.h"
#include "edge/resharpening.h"
#include "edge/section.h"
#include "edge/steel_strength.h"
#include "edge/weakest_place.h"

namespace bq::inline store {

/// A section with the questions asked of it: the `section` file of FORMATS.
struct SectionQuestion {
  SectionPlan plan;
  std::optional<SectionPlan> compare_with;
  std::vector<double> at_mm;
  std::optional<SideLoad> load;
  std::optional<double> hardness_hrc;
  StrengthLimits limits;
  std::optional<double> edge_length_mm, rate_mm3_per_min;
  std::optional<double> parting_depth_mm;
  double friction = 0.3;
  std::vector<FacetFriction> friction_by_grind;  ///< facets with a finish of their own
  std::optional<Substrate> substrate;            ///< a strop that the apex is laid on
  double substrate_pressure_MPa = 0;
  std::optional<TouchUp> touch_up;
  int touch_ups = 0;
  std::optional<double> thinning_limit_mm;
  std::optional<ThinningWish> thinning;
  std::vector<std::string> notes;  ///< fields that are not known here
};

/// Reads a section file. Refused with the field's path, or line and column where it is not JSON.
/// Lengths are bounded to 500 mm, loads to 1e6.
Checked<SectionQuestion> parse_section_file(std::string_view text);

/// The plan alone, as the project file keeps it; parse_section_plan(section_plan_json(p)) == p.
std::string section_plan_json(const SectionPlan& plan);
Checked<SectionPlan> parse_section_plan(std::string_view text);

}  // namespace bq::inline store
