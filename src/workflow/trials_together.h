#pragma once

#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "bluntness/life_model.h"
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

/// Another project's trial with its curves.
struct FittedTrial {
  std::string name;  ///< the project's title; without one the file's name
  Trial trial;
  std::vector<RunFit> fits;
};
/// Reads and fits a project, which another program may be working on. Refused, as a sentence or a
/// part of one: what cannot be read, stopped.
Checked<FittedTrial> fitted_trial(const std::string& path, const stats::Work& work = {});
/// A trial by its own curves and, where `threshold` is a multiple of the fresh reading ("3x"), by
/// its own limit. Refused: a threshold that cannot be read here, a unit of another kind than `unit`
/// (where given).
Checked<TrialLives> lives_of(const FittedTrial& fitted, const std::string& threshold,
                             std::optional<Unit> unit);

/// The factor that names a run's trial.
inline constexpr const char* kTrialTerm = "trial";
/// The trial of a row of lives_together.
std::string trial_of(const LifeRow& row);
std::set<std::string> trials_in(const LifeTable& table);

/// The names under which each trial's steels stand in the common table, where they are not their
/// own: with the hardness, where the trials' cards say states of one name that are apart.
std::vector<std::map<std::string, std::string>> names_of_steels(
    const std::vector<TrialLives>& trials);

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

}  // namespace bq::inline workflow
