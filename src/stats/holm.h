#pragma once

#include <vector>

namespace bq::stats {

/// p values held together, in their order: the smallest against all of them, the next against one
/// fewer, none below one before it, at most 1 (Holm 1979). The chance that any true hypothesis has
/// one below α is at most α, however they depend on each other.
std::vector<double> holm(const std::vector<double>& p);

}  // namespace bq::stats
