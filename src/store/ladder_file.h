#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "edge/ladder.h"
#include "edge/steel_behaviour.h"
#include "trial/sharpening.h"

namespace bq::inline store {

/// A sharpening that is asked for: the `ladder` file of FORMATS.
struct LadderQuestion {
  EdgeState state;
  LadderWish wish;
  std::vector<Abrasive> shelf;  ///< kind "bench-stone" where none is said
  std::optional<double> hardness_hrc, hard_phase_percent;
  GatePolicy burr = GatePolicy::every_abrasive;  ///< also written "every", "coarsest", "one side"
  std::vector<std::string> notes;                ///< fields that are not known here
};

/// Reads a ladder file. Refused with the field's path, or line and column where it is not JSON.
/// An angle is a number per side, or [left, right].
Checked<LadderQuestion> parse_ladder_file(std::string_view text);

}  // namespace bq::inline store
