#pragma once

#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "bluntness/life_model.h"
#include "bluntness/matching.h"

namespace bq::inline workflow {

/// What is asked of the runs together.
struct LifeQuestion {
  double threshold = 0;  ///< in the trial's unit
  std::string medium;    ///< empty: the one with most runs
  /// "steel" × "angle" and the like, on top of the usual terms; left out where a term is not in the
  /// runs or the runs do not hold it.
  std::vector<std::pair<std::string, std::string>> interactions;
  std::optional<MatchQuestion> match;  ///< empty: the first two steels, mid angle
};

/// A line of life against angle at the middle finish, for one steel.
struct LifeLine {
  std::string steel;
  std::vector<double> angle_deg, life, low, high;
};

/// Everything the life and matching pages show, from one go.
struct LifeFindings {
  LifeQuestion question;  ///< with medium and match filled in
  std::vector<std::pair<std::string, int>> media;
  LifeTable table;  ///< of the medium
  std::vector<SideDifference> sides;
  std::optional<LifeModel> model;
  std::string why_not;           ///< when there is no model
  std::string interaction_note;  ///< why a wished interaction is not in it; "" it is
  std::vector<LifeLine> lines;
  /// Slope −1 in ln tan θ through the middle of the data: what wear geometry alone predicts.
  LifeLine pure_geometry;
  bool match_chosen = false;  ///< the pair was asked for; else it is the usual one
  std::optional<MatchAnswer> match;
  std::string match_refusal;
};

/// Pure and slow enough for a worker (some milliseconds for 50 runs). `facts` whole or as
/// for_answers gives them: who read and which batch lay ready are terms of the model.
/// `fits` are those of its runs, in order.
LifeFindings find_life(const Trial& facts, const std::vector<RunFit>& fits,
                       const LifeQuestion& question);

/// The angle effect in a sentence, with the share geometry explains; where life bends over the
/// angle the angle at which it is longest.
std::string angle_sentence(const LifeFindings& findings,
                           AngleConvention angles = AngleConvention::per_side);
/// "Life bends over the angle here: the longest of 10° to 22° per side is at about 14° …"; empty
/// where the model has no bend. The other end's life is said with its interval.
std::string bend_sentence(const LifeModel& model, AngleConvention angles);

}  // namespace bq::inline workflow
