#pragma once

#include <string>
#include <vector>

namespace bq::inline quantity {

/// "operator, block or order"; "" of none.
inline std::string either_of(const std::vector<std::string>& names) {
  std::string out;
  for (std::size_t i = 0; i < names.size(); ++i)
    out += (i == 0 ? "" : i + 1 == names.size() ? " or " : ", ") + names[i];
  return out;
}

}  // namespace bq::inline quantity
