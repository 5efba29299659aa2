#pragma once

#include <set>
#include <string>

#include "stats/random.h"

namespace bq::inline plan {

/// "KT4": two consonants and a digit that cannot be taken for each other, none of `taken`, which
/// grows by it. After many clashes codes get two digits more. Integer arithmetic only: the same on
/// every machine.
std::string blind_code(stats::Random& random, std::set<std::string>& taken);

}  // namespace bq::inline plan
