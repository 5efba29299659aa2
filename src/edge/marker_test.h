#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "quantity/checked.h"

namespace bq::inline edge {

/// Where the ink went after a touch, always in the words apex and shoulder.
enum class InkSeen { apex_only, shoulder_only, whole_bevel, middle_only, nothing, patchy };
std::string_view name_of(InkSeen seen);
std::optional<InkSeen> parse_ink_seen(std::string_view text);

struct MarkerSettings {
  double guess_deg = 15;  ///< per side
  double reach_deg = 10;  ///< the true angle is sought within guess ± reach
  double step_deg = 0.5;  ///< the jig can be set in such steps, > 0
  double misread = 0.10;  ///< share of touches that people report wrongly, [0, 0.4]
  double window_deg =
      0.5;  ///< about within this of the bevel's angle a touch cleans the whole bevel, > 0; how
            ///< much it is on this facet and with this ink is learnt from the answers
  double wished_width_deg = 1;  ///< the 95 % interval is to be no wider, > 0
  bool own_steps = false;       ///< the tester walks in steps of the jig, toward the bevel's angle
  bool operator==(const MarkerSettings&) const = default;
};

struct MarkerTouch {
  double trial_deg = 0;  ///< angle the abrasive was set to, per side
  InkSeen seen = InkSeen::nothing;
  bool operator==(const MarkerTouch&) const = default;
};

struct MarkerAnswer {
  bool done = false;                 ///< the interval is no wider than wished
  double angle_deg = 0;              ///< posterior median
  double low_deg = 0, high_deg = 0;  ///< 95 % interval
  double next_deg = 0;               ///< the next touch to make (when not done)
  bool ask_again = false;            ///< next_deg repeats a touch that clashes with the others
  /// Touches that were more likely misread than not, by their place in the list.
  std::vector<std::size_t> contradictions;
  bool one_answer =
      false;  ///< four touches or more and always the same answer: look at ink and light
  bool looks_convex = false;  ///< "middle only" was seen at two angles or more
};

/// The marker test as inference (DOMAIN §2): a probability over the bevel's angle on a grid of
/// 0.05°, flat to begin with; each touch multiplies it with the chance of that report, which is the
/// true outcome with probability 1 − misread. `nothing` and `patchy` say nothing about the angle;
/// `middle only` favours angles near the trial.
///
/// The first touch lies 3° steeper than the guess, so that a scratch can only fall at the apex, not
/// on the face. After that the next touch is the jig setting that is expected to narrow the
/// probability most (largest expected loss of entropy); with own_steps it is one step flatter where
/// only the apex was touched and one steeper where only the shoulder was, as a hand walks. The
/// window is learnt along: it may be a third to nearly three times the one that is set. The
/// interval is the equal-tailed one that leaves 1.25 % on either side, half of what 95 % needs:
/// that pays for a misread rate other than assumed. It is never done on one kind of answer. Checked
/// by simulations with 10 % misreads and windows of half, once and twice the one that was set
/// (tests): the interval held the truth in 92 to 98 % of the plays of each. Refused: settings or
/// trial angles outside their ranges.
Checked<MarkerAnswer> assess_marker(const MarkerSettings& settings,
                                    const std::vector<MarkerTouch>& touches);

/// Probability over the angle after the touches, for drawing: (angle, density).
struct MarkerBelief {
  std::vector<double> angle_deg, probability;
};
Checked<MarkerBelief> marker_belief(const MarkerSettings& settings,
                                    const std::vector<MarkerTouch>& touches);

/// Chance (0…1) that a tester who never misreads sees this at `trial_deg` on a bevel at
/// `angle_deg`.
double chance_to_see(InkSeen seen, double trial_deg, double angle_deg, double window_deg);

}  // namespace bq::inline edge
