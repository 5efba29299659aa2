#pragma once

#include <string>
#include <vector>

#include "bluntness/life_table.h"
#include "trial/trial.h"
#include "workflow/project_session.h"

namespace bq::inline workflow {

/// What is taken from another project.
struct LearnChoice {
  bool steels = true, media = true, stones = true;
};

/// What one project can take from another: what it has not by name already, each with its origin
/// in its note ("taken from Fernmoor trial on 2026-11-30"). Stones come with their measured sizes,
/// rates, flatness and wear; steels with hardness, behaviour and strength.
struct Learned {
  std::vector<SteelCard> steels;
  std::vector<MediumCard> media;
  std::vector<Abrasive> stones;
  std::vector<std::string> there;  ///< names that are here already, and are left as they are
  std::vector<std::string>
      unlike;  ///< of those, the ones of which the other project says otherwise
  /// "3 steel cards, 1 medium card and 8 abrasives"; "nothing".
  [[nodiscard]] std::string count() const;
};
/// `day`: ISO 8601, when it is taken.
Learned learn_from(const Trial& here, const Trial& other, const LearnChoice& choice,
                   const std::string& day);
/// As one step of undo. Throws StoreError.
void take_learned(ProjectSession& session, const Learned& learned);

/// One trial of several that are looked at together.
struct TrialLives {
  std::string name;  ///< of the project
  LifeTable table;
};
/// The lives of several trials in one table, each run's blade standing for its trial, so that a
/// random effect of the blade is one of the trial. Only what is alike is put together: runs of the
/// kind of work that the first trial's rows are of (its commonest one); others are left out and
/// said. Steels are one by their exact name.
LifeTable lives_together(const std::vector<TrialLives>& trials);

}  // namespace bq::inline workflow
