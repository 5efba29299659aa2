#pragma once

#include <string>
#include <vector>

#include "edge/abrasive.h"
#include "stats/paired_test.h"
#include "trial/comparison.h"

namespace bq::inline bluntness {

/// What a comparison of two treatments says.
struct TreatmentVerdict {
  stats::PairedTest test;  ///< second over first
  bool by_blade = false;   ///< true: each blade's pairs were averaged (three blades or more)
  int blades = 0;
  /// Per blade: time and wear, as far as they are known of both.
  std::optional<double> first_price, second_price;
  std::string price_missing;  ///< "the minutes of the strop are": known of the other only
  std::string result;         ///< "Strop B reads 8 % lower than strop A (2 to 14 %, 12 pairs)."
  std::string price;          ///< "It costs 1.20 more a blade and takes 3 min longer."
  std::string verdict;        ///< price against benefit, one sentence
  std::vector<std::string> cautions;  ///< one blade only; few pairs; no figures for the price
};

/// The blade is the unit of replication: with three blades or more each blade's pairs become one
/// (the mean log ratio) before the test; with fewer the marked sections are the pairs and the
/// answer holds for these blades only, which is said. Refused: no pair, readings that are not
/// positive, no names.
Checked<TreatmentVerdict> compare_treatments(const Comparison& comparison, double level = 0.95);

/// What a comparison says of strops: nothing, whether one helps (one treatment is without it), or
/// which of two. A treatment that lies on the shelf is what the shelf says, whatever its name; of
/// others the name must hold the word "strop".
enum class StropMatter { none, whether, which };
StropMatter strop_matter(const Comparison& comparison, const std::vector<Abrasive>& shelf);

}  // namespace bq::inline bluntness
