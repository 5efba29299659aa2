#pragma once

#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

#include "report/label_page.h"
#include "trial/trial.h"

namespace bq::inline workflow {

/// What the codes on labels say: "BQ", six letters of the project, a letter for the kind, a number.
/// Capitals and digits only, none that keyboards of other countries type in another place.
inline constexpr std::string_view kLabelPrefix = "BQ";
/// The project's six letters are kept with it under this key, made with its first labels.
inline constexpr const char* kLabelTagKey = "label-tag";
std::string label_tag(std::uint64_t seed);

/// Labels of all blades in use, of the tapes of runs that are planned or under way, of the shelf.
/// Runs of blind plans that are covered show their code and nothing else.
std::vector<Label> labels_of(const Trial& trial, const std::string& tag,
                             const std::set<std::string>& blind, AngleConvention angles);

/// What a code names in this project.
struct LabelTarget {
  enum class Kind { blade, run, abrasive } kind = Kind::blade;
  std::size_t index = 0;  ///< in Trial::blades, runs, shelf
};
/// Refused: no such code, one of another project, of something that is not there any more.
Checked<LabelTarget> read_label(const Trial& trial, const std::string& tag, std::string_view code);

}  // namespace bq::inline workflow
