#pragma once

#include <optional>
#include <string_view>

#include "quantity/measure.h"

namespace bq::inline quantity {

/// A unit as a word of a file.
inline std::optional<Unit> unit_told(std::string_view text) {
  const auto unit = parse_unit(text);
  return unit ? std::optional(*unit) : std::nullopt;
}

}  // namespace bq::inline quantity
