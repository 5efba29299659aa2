#pragma once

#include <string>
#include <vector>

#include "quantity/said.h"

namespace bq::inline quantity {

/// "operator, block or order"; "" of none.
inline std::string either_of(const std::vector<std::string>& names) {
  std::string out;
  for (std::size_t i = 0; i < names.size(); ++i)
    out += (i == 0 ? "" : i + 1 == names.size() ? said(" or ") : ", ") + names[i];
  return out;
}

/// "C01, C02 and 3 more".
inline std::string first_few(const std::vector<std::string>& names, std::size_t most) {
  std::string out;
  for (std::size_t i = 0; i < names.size() && i < most; ++i) out += (i ? ", " : "") + names[i];
  if (names.size() > most)
    out += said(" and {count} more", {{"count", std::to_string(names.size() - most)}});
  return out;
}

/// "Marl, Cairn"; "" of none.
inline std::string listed(const std::vector<std::string>& words, const char* between = ", ") {
  std::string out;
  for (const auto& word : words) out += (out.empty() ? "" : between) + word;
  return out;
}

}  // namespace bq::inline quantity
