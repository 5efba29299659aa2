#pragma once

#include <string>
#include <vector>

#include "bluntness/life_table.h"

namespace bq::inline bluntness {

/// A steel that is known by one blade alone: steel and blade are one thing then, and what lasts may
/// be the one or the other (DOMAIN §7).
struct OneBlade {
  std::string steel, blade;
};
/// Those of the rows' steels all of whose runs name the same blade; none where there is one steel.
std::vector<OneBlade> steels_of_one_blade(const std::vector<LifeRow>& rows);

}  // namespace bq::inline bluntness
