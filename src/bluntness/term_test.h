#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bluntness/life_model.h"

/// Inside of life_terms.cpp and circumstances.cpp: whether life needs one term more.
namespace bq::inline bluntness {

/// Degrees of freedom that must be left beside a term nobody asked for.
inline constexpr int kSpareRuns = 4;

struct TermTest {
  std::optional<LifeModel> with;  ///< with the term
  std::optional<double> p;        ///< of no need for it (p_of_more), on the same runs
  std::string why_not;            ///< it cannot be told: why; then neither of the two
};
/// `spec` without and with `term`.
TermTest test_term(const LifeTable& table, const LifeSpec& spec, const std::string& term,
                   int least_freedom);
/// The same of something beside the edge's own terms, which every run must say.
TermTest test_side_term(const LifeTable& table, const LifeSpec& spec, const std::string& term,
                        int least_freedom);

/// What the runs have for a term, in words, in order.
std::vector<std::string> levels_in(const LifeTable& table, const std::string& term);

}  // namespace bq::inline bluntness
