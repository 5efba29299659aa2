#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bluntness/life_model.h"
#include "bluntness/steel_pairs.h"
#include "workflow/trials_together.h"

namespace bq::inline workflow {

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
