#pragma once

#include <string>
#include <vector>

#include "bluntness/life_contrast.h"

namespace bq::inline bluntness {

/// What the runs say of two steels at the same angle and finish.
enum class SteelVerdict {
  differs,      ///< told apart, all pairs of the table asked together
  alike,        ///< the ratio lies within the margin, whatever it is
  cannot_tell,  ///< neither
  one_blade     ///< one of them is known by one blade alone
};
std::string_view name_of(SteelVerdict verdict);  ///< "differs", "alike", …: as in files

/// Lives of two steels; both "differs" and "alike" can be true of one pair: then it is `differs`
/// with `within` set.
struct SteelPair {
  std::string longer, shorter;  ///< by the fitted life
  LifeContrast contrast;        ///< of longer against shorter, its interval for this pair alone
  double family_p = 1;          ///< two-sided, held together over all pairs (Holm 1979)
  bool within = false;          ///< the ratio lies within the margin
  SteelVerdict verdict = SteelVerdict::cannot_tell;
};

/// A difference in life that nobody would choose a steel by.
inline constexpr double kAlikeMargin = 0.15;

/// The model's steels with ln of their fitted life at the middle of everything else, the longest
/// first.
std::vector<std::pair<double, std::string>> steels_by_life(const LifeModel& model);

/// Every pair of the model's steels, the longest-lived first. Told apart: the family-wise p is
/// below 1 − level. Alike: both one-sided tests against ratios of 1 + margin and 1/(1 + margin) at
/// 1 − level each reject (Schuirmann 1987), so it is wrongly said in at most 5 % at a level of
/// 95 %. Pairs of steels known by one blade take no part. Empty without a steel in the model.
std::vector<SteelPair> compare_steels(const LifeModel& model, double margin = kAlikeMargin);

/// Whether two steels last alike whatever their ratio is: `contrast` (the row of the one less that
/// of the other) lies within the margin by both one-sided tests at the model's level.
bool lies_within(const LifeModel& model, const Eigen::VectorXd& contrast,
                 double margin = kAlikeMargin);
/// By the pair's `family_p` and `within`, at this level.
SteelVerdict verdict_of(const SteelPair& pair, double level);

/// "A and B last alike here, within 15 %: A 1.02 times as long as B (0.96 to 1.08, 95 %)."; words
/// for a pair that is `within`.
std::string alike_sentence(const SteelPair& pair, double margin = kAlikeMargin);

}  // namespace bq::inline bluntness
