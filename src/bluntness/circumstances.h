#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bluntness/life_contrast.h"
#include "bluntness/life_model.h"

namespace bq::inline bluntness {

/// What belongs to the day and the hand, not to the edge: block, operator, batch of medium. In the
/// life model only where its levels differ: nobody asks about it for itself.
bool is_circumstance(const std::string& term);

/// The circumstance that is no factor of the runs: when they were made.
inline constexpr const char* kOrder = "order";

/// Whether one circumstance, or a factor of the user's own, changed life.
struct Circumstance {
  std::string name;                 ///< "operator", "order", …
  std::vector<std::string> levels;  ///< as told; of the order the first and the last run's names
  /// The levels that differ most, and the life at `longest` over that at `shortest`; of the order
  /// the first run's time and the last one's, in that order.
  std::string shortest, longest;
  std::optional<LifeContrast> contrast;
  std::optional<double> p;       ///< of no difference between its levels at all
  std::optional<double> p_holm;  ///< the same, held against how many were asked (Holm 1979)
  std::string why_not;           ///< it cannot be judged: why; then there are no figures

  [[nodiscard]] bool seen() const { return p_holm && *p_holm < 0.05; }
};

/// Every one in which the runs of a table differ, each alone beside the edge's own terms (`spec`,
/// whose circumstances are left out): life with it and without it on the same runs (F from the
/// likelihoods). `trial` tells when runs were made: by the first thing the Bench wrote of each; the
/// order is judged as steady change of ln life from the first run to the last, by rank.
std::vector<Circumstance> circumstances(const Trial& trial, const LifeTable& table,
                                        const LifeSpec& spec);

}  // namespace bq::inline bluntness
