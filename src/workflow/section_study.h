#pragma once

#include <optional>
#include <string>
#include <vector>

#include "edge/section_outcomes.h"
#include "store/section_file.h"
#include "trial/edge_record.h"

namespace bq::inline workflow {

struct StressStudy {
  WeakestPlace weakest;
  std::optional<LeadingLimit> limit;
  std::optional<double> peak_ratio;       ///< peak over the leading limit
  std::optional<double> least_angle_deg;  ///< of a plain wedge, per side
  std::string sentence;
};

/// Everything a section file asks, answered; what the command and the window show.
struct SectionStudy {
  Section section;
  Section before;  ///< compared with: `compare_with`, or the blank or measured start
  bool compared_with_start = true;
  std::vector<Facet> facets;
  std::optional<double> shoulder_mm;  ///< where the first grind ends
  std::optional<BehindEdge> behind;
  std::vector<std::pair<double, std::optional<double>>> thickness_mm;  ///< distance, thickness
  Removal removed;
  std::optional<RemovalCost> cost;        ///< with the edge's length
  std::optional<StressStudy> stress;      ///< with a load
  std::optional<double> parting_index;    ///< at K = 1, N/mm of edge
  std::optional<double> parting_against;  ///< the same over that of `before`
  std::optional<SubstrateEffect> substrate;
  std::vector<TouchUpState> touch_ups;
  std::optional<int> thinning_due;
  std::vector<ThinningOption> thinning;
};

/// The load, and what metal costs here: kept with the project under this key.
inline constexpr const char* kSectionQuestionsKey = "section-questions";
struct SectionQuestions {
  double line_N_per_mm = 20;
  double depth_um = 80;
  double length_mm = 5;  ///< of edge that the load acts on; 0: all of it
  double rate_mm3_per_min = 30;
  double friction = 0.3;
  [[nodiscard]] SideLoad load() const { return {line_N_per_mm, depth_um * 1e-3, length_mm}; }
};
std::string section_questions_text(const SectionQuestions& questions);
/// The defaults where the text says nothing sensible.
SectionQuestions section_questions_of(const std::string& text);

/// What a steel bends and breaks at: from its hardness, its bend strength or the default of its
/// toughness.
StrengthLimits strength_of(const SteelCard& card);

/// Refused when a section, a series or a thinning cannot be made; the reason says which.
Checked<SectionStudy> study_section(const SectionQuestion& question);

}  // namespace bq::inline workflow
