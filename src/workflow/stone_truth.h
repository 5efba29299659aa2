#pragma once

#include <set>
#include <string>
#include <vector>

#include "trial/trial.h"

namespace bq::inline workflow {

/// What the scratches of sample pieces say of one abrasive.
struct StoneTruth {
  std::string stone;
  std::optional<double> label_um;  ///< what its label says
  double spacing_um = 0;           ///< mean over its pictures (geometric)
  double effective_um = 0, low_um = 0,
         high_um = 0;  ///< particle size its scratches stand for; 95 %
  double streaks = 0;  ///< share of deep scratches, mean over its pictures
  int pictures = 0;
  bool reference = false;  ///< its size is taken as known
  enum class Label { none, fits, misleads } label = Label::none;
  std::string sentence;  ///< "says 6.7 µm, works like 11 µm (9.8 to 12.4)"
};
struct StoneTwins {
  std::string coarse, fine;
  double ratio = 0, low = 0, high = 0;  ///< of their effective sizes; 95 %
  std::string sentence;
};
struct StoneTruths {
  std::vector<StoneTruth> stones;  ///< coarsest first, by what they do
  std::vector<StoneTwins> twins;   ///< neighbours that do the same work, or cannot be told apart
  bool estimated = true;           ///< no reference: the ratio is the program's round figure
  double ratio = 0.6;              ///< spacing over particle size
  double picture_sd = 0;  ///< of ln spacing between pictures of one stone, pooled; 0 unknown
  std::string sentence;
  std::vector<std::string> left_out;  ///< pictures without scale or scratches, each with the reason
};

/// Effective particle size = mean scratch spacing / ratio. The picture is the unit; the scatter
/// between pictures of one stone is pooled over the stones (t on its degrees of freedom), where no
/// stone has two pictures the pictures' own standard errors stand in (and it is said).
/// `references`: stones whose label or measured size is taken as true: they give the ratio
/// (geometric mean) and its error; without any it is 0.6, a round figure of this program, and every
/// size is an estimate: order and ratios hold all the same. A label misleads when it lies outside
/// the interval and more than a quarter off; neighbours are twins when the interval of their sizes'
/// ratio reaches below `redundant`.
StoneTruths stone_truths(const Trial& trial, const std::set<std::string>& references,
                         double redundant = ShelfRules{}.redundant);

/// Names of the references, kept as a setting, one in a line.
inline constexpr const char* kReferenceStonesKey = "lens-reference-stones";
std::set<std::string> parse_references(const std::string& kept);
std::string print_references(const std::set<std::string>& names);

}  // namespace bq::inline workflow
