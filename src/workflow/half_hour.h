#pragma once

#include <optional>
#include <string>
#include <vector>

#include "workflow/verdict.h"

namespace bq::inline workflow {

enum class HalfHourKind { leave, deburr, refinish, reprofile, thin };
std::string_view name_of(HalfHourKind kind);

/// One thing that could be done to the blade in hand now.
struct HalfHourOption {
  HalfHourKind kind = HalfHourKind::leave;
  std::string what;  ///< "touch up to 25 µm at 15° per side"
  double minutes = 0, metal_mm3 = 0;
  bool estimated = false;  ///< a rate or time is a round figure
  std::optional<double>
      price;  ///< abrasive worn, and time where an hour has a price; the bench's own money
  std::optional<double> extra_cuts;      ///< over leaving it, usual edge; empty: not to be told
  std::optional<double> extra_low;       ///< the same by the lower 95 % limit for the next edge
  std::optional<double> low_per_minute;  ///< what it is ranked by; empty for leaving it
  std::string why;                       ///< evidence, or what is missing
};

struct HalfHourQuestion {
  std::size_t blade = 0;
  double threshold = 0;
  std::string medium;                   ///< empty: the one with most runs
  std::optional<double> force_limit_N;  ///< for thinning
  std::vector<std::string> stones;      ///< at hand; empty: the shelf
  AngleConvention angles = AngleConvention::per_side;
};

struct HalfHour {
  double cuts_made = 0,
         cuts_left = 0;  ///< since the last sharpening; left to the limit by the model (0: past it)
  std::vector<HalfHourOption> options;  ///< ranked, those that cannot be told last
  std::string sentence;                 ///< "Best: …, about 12 extra cuts a minute …"
  std::vector<std::string> remarks;
};

/// What to do with one blade: the extra cuts of each act come from the same life model, ladder
/// planner and sections as everything else. Ranked by the lower limit of extra cuts per minute.
/// Refused in words: no life model for the medium, a blade without steel, section or run, a steel
/// without runs there.
Checked<HalfHour> best_half_hour(const VerdictSource& source, const HalfHourQuestion& question);

}  // namespace bq::inline workflow
