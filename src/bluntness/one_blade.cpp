#include "bluntness/one_blade.h"

#include <map>
#include <set>

namespace bq::inline bluntness {

std::vector<OneBlade> steels_of_one_blade(const std::vector<LifeRow>& rows) {
  std::map<std::string, std::set<std::string>> blades;
  for (const auto& row : rows)
    if (!row.facts.steel.empty()) blades[row.facts.steel].insert(row.facts.blade);
  std::vector<OneBlade> out;
  if (blades.size() < 2) return out;
  for (const auto& [steel, names] : blades)
    if (names.size() == 1 && !names.begin()->empty()) out.push_back({steel, *names.begin()});
  return out;
}

}  // namespace bq::inline bluntness
