#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bluntness/life_model.h"
#include "bluntness/steel_pairs.h"
#include "trial/trial.h"

namespace bq::inline workflow {

/// One trial of several that are looked at together.
struct TrialLives {
  std::string name;  ///< of the project
  LifeTable table;
  std::vector<SteelCard> steels{};
  std::string limit{};  ///< as printed: "600 gf"
};
TrialLives lives_of(const std::string& name, const Trial& trial, const std::vector<RunFit>& fits,
                    const Threshold& limit);
/// A trial by its own curves and, where `threshold` is a multiple of the fresh reading ("3x"), by
/// its own limit. Refused: a threshold that cannot be read here, a unit of another kind than `unit`
/// (where given), stopped.
Checked<TrialLives> lives_of(const std::string& name, const Trial& trial,
                             const std::string& threshold, std::optional<Unit> unit,
                             const stats::Work& work = {});

/// The factor that names a run's trial.
inline constexpr const char* kTrialTerm = "trial";

/// The lives of several trials in one table: runs are called "trial: run", blades "trial: blade",
/// and the trial is a factor (kTrialTerm); factors of one trial's own are left out. Only what is
/// alike is put together: runs of one kind of `work` (empty: that of which the first trial has
/// most); the same run in two files counts once; a steel that the trials' cards give hardnesses
/// more than 1 HRC apart is as many steels. What is left out is said.
LifeTable lives_together(const std::vector<TrialLives>& trials,
                         const std::optional<std::string>& work = {});

/// Allows for the trials in the model of such a table. Where each blade was cut with once the trial
/// is the random effect (the blade's name in the table becomes the trial's). Where blades were used
/// again runs of one blade are alike, so the blade is the random effect and the trial a term: a
/// steel that was one blade in every trial is known from as many blades as trials. Returns whether
/// the trial is the random effect.
bool allow_for_trials(LifeTable& table, LifeSpec& spec);

/// "2.12": a ratio of lives to two decimals.
std::string ratio_in_words(double ratio);

/// Two steels over all trials.
struct SteelsTogether {
  SteelPair pair;
  int trials_with_both = 0;
  std::string sentence;
};
/// Several trials as one answer.
struct Together {
  struct Part {
    std::string name, limit;
    int runs = 0, left_out = 0;  ///< put together; not
  };
  std::string work;  ///< that was put together
  std::vector<Part> trials;
  LifeTable table;
  std::optional<LifeModel> model;
  std::vector<SteelsTogether> steels;  ///< every pair, the longest-lived first
  std::string sentence;                ///< the answer
  std::vector<std::string> remarks;
};
/// Steels are compared within trials: two that were never in one trial, and are not linked through
/// others, differ by their trials too, and nothing is said of them. Trials of one name are
/// numbered. Told apart: as in
/// compare_steels, all pairs held together (Holm 1979); where the trials alone (the trial as a
/// term) say otherwise than with the trials drawn from one kind, theirs is what is said.
Together look_together(const std::vector<TrialLives>& trials,
                       const std::optional<std::string>& work = {});

}  // namespace bq::inline workflow
