#pragma once

#include <cstdint>
#include <string_view>
#include <vector>

#include "quantity/checked.h"
#include "trial/trial.h"

namespace bq::inline trial {

enum class StepKind { read, cut, finished };

/// What the operator does next in a run.
struct Step {
  StepKind kind = StepKind::read;
  std::int64_t at_cuts = 0;       ///< the checkpoint this belongs to (cumulative cuts)
  std::int64_t cuts_to_make = 0;  ///< for StepKind::cut
  int reading_number = 0;         ///< for StepKind::read: 1 … readings_each
  std::size_t checkpoint_index = 0;
};

/// The next step from the plan, the cuts made and the readings kept. Excluded readings do not fill
/// a checkpoint: it asks for another. A run without a plan is finished once it has readings.
Step next_step(const Run& run);

/// Rounded geometric ladder from 0 to `last` cuts with `steps` checkpoints after 0 (about ten
/// figures a decade, doubles merged). last >= 1, steps >= 1.
std::vector<std::int64_t> checkpoint_ladder(std::int64_t last, int steps);

/// Reads "0 20 50 100" or "0, 20, 50": rising whole numbers >= 0, at most 200 of them.
Checked<std::vector<std::int64_t>> parse_checkpoints(std::string_view text);
std::string print_checkpoints(const std::vector<std::int64_t>& checkpoints);

}  // namespace bq::inline trial
