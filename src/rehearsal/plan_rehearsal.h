#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "bluntness/matching.h"
#include "plan/plan_power.h"
#include "rehearsal/plan_world.h"
#include "rehearsal/recipe.h"
#include "stats/parallel.h"
#include "stats/power.h"

namespace bq::inline rehearsal {

/// How one play of a plan ended.
struct PlayOutcome {
  float log_ratio = 0, standard_error = 0;
  float match_width =
      -1;  ///< of the matching angle's or finish's interval; −1: not asked, or not bounded
  std::uint16_t runs = 0, right_censored = 0, left_censored = 0;
  bool determined = false;  ///< the analysis gave an answer
  bool seen = false;        ///< its interval leaves out a ratio of 1
  bool match_asked = false;
  bool best_asked = false;  ///< which edge lasts longest
  bool best_right = false;  ///< what came out is the longest-lived, or within a tenth of it
  /// Looked at after every run: the run after which enough were made for the choice; 0: not before
  /// the sheet's end.
  std::uint16_t enough_after = 0;
  bool enough_wrong =
      false;  ///< and another edge outlasts what was chosen then by more than a tenth
  bool operator==(const PlayOutcome&) const = default;
};

/// What is asked of every play, and of some of them.
struct PlayQuestion {
  ContrastQuestion contrast;
  std::optional<MatchQuestion> match;  ///< where the plan has steels and angles or finishes
  std::vector<PlannedEdge> edges;      ///< between which the plan decides
};
PlayQuestion play_question(const TrialPlan& plan, const RunSheet& sheet);

/// Judges one played trial. The default is what a real trial gets: fit_run, life_table, LifeModel,
/// life_contrast, and where `dear` says so match() and the longest-lived edge.
using Analysis =
    std::function<PlayOutcome(const Trial& trial, const PlayQuestion& question, bool dear)>;
PlayOutcome analyse_play(const Trial& trial, const PlayQuestion& question, bool dear);

struct RehearsalOptions {
  long plays = 2000;
  std::uint64_t seed = 1;
  /// Also ask for the matching angle (or finish): how must `to` be ground to last as long as
  /// `from`? And which edge lasts longest. Only every tenth play, they are dear.
  bool match = true;
  Analysis analysis;  ///< empty: analyse_play
};

/// What the plays say.
struct Rehearsal {
  std::vector<PlayOutcome> plays;  ///< in order; fewer than asked for when stopped
  long asked = 0;
  double true_ratio = 1;
  long detected = 0;      ///< seen, in the true direction (any direction where the true ratio is 1)
  long wrong_way = 0;     ///< seen, in the other direction
  long undetermined = 0;  ///< the analysis could not be made
  stats::Share power;     ///< detected of the plays, exact 95 % interval
  double right_censored_share = 0, left_censored_share = 0;  ///< of the runs
  double median_interval_factor = 0;  ///< half-width of the ratio's interval as a factor; 0 unknown
  double mean_log_ratio = 0;          ///< over the determined plays
  long match_plays = 0, match_bounded = 0;
  long best_plays = 0, best_right = 0;  ///< plays asked which edge is best, and those that knew
  std::optional<double> median_match_width;  ///< degrees per side, or µm
  /// Of the plays asked which edge is best: in how many enough runs were made before the sheet's
  /// end, in how many of them wrongly, and after how many runs usually.
  long enough_plays = 0, enough_wrong = 0;
  std::optional<double> median_enough_after;
  [[nodiscard]] bool stopped() const { return long(plays.size()) < asked; }
};

/// Plays the sheet `options.plays` times on virtual blades and analyses each. Play i depends on the
/// seed and i only: the same for any number of workers, and `before` (an earlier, stopped one with
/// the same plan and seed) is gone on from. Progress counts plays. Memory: 32 bytes a play.
/// Refused: as recipe_of and contrast_question; 1 <= plays <= 1,000,000.
Checked<Rehearsal> rehearse(const TrialPlan& plan, const RunSheet& sheet,
                            const RehearsalOptions& options, const stats::Work& work,
                            const std::vector<PlayOutcome>& before = {});

/// Mean variance of ln life that comes from the curves alone (readings and checkpoints), from a few
/// plays.
Checked<double> curve_variance_of(const TrialPlan& plan, const RunSheet& sheet, int plays = 3);

/// SD of ln life from run to run as the analysis will meet it: runs, blades and blocks where they
/// are no terms of it, and the curves' own error.
Checked<double> life_sd_of(const TrialPlan& plan, const RunSheet& sheet);

/// By formula, the chance to see any difference among all levels of the question's factor, when
/// their lives are as stated. Empty for a number, and with two levels.
std::optional<double> any_level_power(const TrialPlan& plan, const RunSheet& sheet, double sd);

/// A point of the rehearsed power curve.
struct RehearsedPoint {
  double ratio = 1;
  stats::Share power;
};
Checked<std::vector<RehearsedPoint>> rehearse_curve(const TrialPlan& plan, const RunSheet& sheet,
                                                    const std::vector<double>& ratios,
                                                    const RehearsalOptions& options,
                                                    const stats::Work& work);

/// A change to the plan and what it would buy.
struct Help {
  std::string what;        ///< "one more replicate"
  TrialPlan plan;          ///< with the change made
  std::string impossible;  ///< why it cannot be done; "" it can
  stats::Share power;
  double extra_minutes = 0, extra_medium_m = 0;
  int extra_runs = 0;
};
/// One more replicate, twice the readings, longer runs, more checkpoints, a gauge twice as steady,
/// same-blade blocks: each rehearsed with the same seed as the plan itself. The first entry is the
/// plan as it is; then most gain first, impossible ones last. Fewer entries when stopped. At most
/// kMostHelps × options.plays plays.
inline constexpr int kMostHelps = 7;
Checked<std::vector<Help>> what_would_help(const TrialPlan& plan, const RehearsalOptions& options,
                                           const stats::Work& work);

}  // namespace bq::inline rehearsal
