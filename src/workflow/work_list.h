#pragma once

#include <optional>
#include <string>
#include <vector>

#include "trial/edge_map.h"
#include "trial/trial.h"

namespace bq::inline workflow {

/// What is to be done to a blade, in the order in which it has to be done.
enum class BladeWork { straighten, outline, thin, chips, sharpen, deburr, spots, clean };
std::string_view name_of(BladeWork work);  ///< "straighten", "outline and recurve", …

struct WorkItem {
  BladeWork work = BladeWork::straighten;
  std::string what;  ///< "straighten it, 0.4 mm out of line"; no full stop
  std::string why;   ///< one sentence; "" where the thing speaks for itself
  std::optional<double> at_mm;
  std::optional<double> metal_mm3, minutes;  ///< of this item alone; estimates
  bool minutes_estimated = false;
  std::string with;  ///< what the minutes are worked with; "" without minutes
};

/// Open findings and marks of the blade as work (DOMAIN §4): straightening, outline and recurve
/// (everything but the hollow comes down by its depth; a parabolic hollow), thinning where the edge
/// is too thick to be worth sharpening, chips and sharpening by the ladder of the shelf, burr,
/// hanging and bright places, cleaning. Empty where nothing is open.
std::vector<WorkItem> work_list(const Trial& trial, std::size_t blade);

/// "Take the hollow out of the outline, 0.3 mm deep (3.8 mm³, 1 min on Grey 400)."
std::string describe(const WorkItem& item);

/// Findings that a finished sharpening closes: what it straightened, the outline it mended, chips
/// of known depth where the apex of the section it leaves lies that much deeper. Said good, with
/// "mended by the sharpening" as the note; nothing that was not in trouble.
std::vector<FindingRecord> findings_closed_by(const Blade& blade, const Sharpening& sharpening,
                                              const std::optional<SectionPlan>& leaves);

/// Thickness behind an edge above which sharpening is not worth its while: a round figure.
inline constexpr double kThickBehindEdge_mm = 0.5;

}  // namespace bq::inline workflow
