#pragma once

#include <array>
#include <string_view>

#include "bluntness/recommendation.h"

/// Inside of recommend(): the score, and what would change the first place.
namespace bq::inline bluntness::ranking {

enum class Limit { steel, angle, finish, life, force, damage, minutes, roughest };
std::string_view words_of(Limit limit);

inline constexpr int kFigures = 4;  ///< life, force, damage, minutes
struct Judged {
  RankedEdge edge;
  std::vector<Limit> stopped_by;
  std::array<double, kFigures>
      log_ratio{};  ///< to the best candidate that passes, 0 or less for those that pass
};

/// ln of a figure (0 … kFigures − 1), larger is better; empty where it is not known.
std::optional<double> log_figure(const RankedEdge& edge, int figure);
/// Fills log_ratio and score.
void score(std::vector<Judged>& passed, std::vector<Judged>& stopped,
           const RecommendWishes& wishes);
/// By score, then the lower limit of life, then the force.
bool comes_before(const Judged& a, const Judged& b);
/// "Changes if the force limit falls below 31 N: then Marl Tough 14° per side comes first." Both
/// sorted.
std::vector<std::string> sensitivity(const std::vector<Judged>& passed,
                                     const std::vector<Judged>& stopped,
                                     const RecommendLimits& limits, const RecommendWishes& wishes,
                                     AngleConvention angles);
std::string rule_in_words(const RecommendWishes& wishes);

}  // namespace bq::inline bluntness::ranking
