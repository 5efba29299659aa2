#pragma once

#include <algorithm>
#include <array>
#include <optional>
#include <string_view>

namespace bq::inline quantity {

/// The value of an enumeration whose names stand in the order of its values; empty for a text that
/// is none of them.
template <class Enum, std::size_t N>
std::optional<Enum> enum_named(const std::array<std::string_view, N>& names,
                               std::string_view text) {
  const auto found = std::find(names.begin(), names.end(), text);
  if (found == names.end()) return std::nullopt;
  return Enum(found - names.begin());
}

}  // namespace bq::inline quantity
