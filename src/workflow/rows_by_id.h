#pragma once

#include <algorithm>
#include <cstdint>

namespace bq::inline workflow {

/// Rows lie in the order of their ids, as the file gives them: the place of the one with this id,
/// or where it would lie.
template <class Rows>
auto place_of(Rows& rows, std::int64_t id) {
  return std::lower_bound(rows.begin(), rows.end(), id,
                          [](const auto& row, std::int64_t x) { return row.id < x; });
}

}  // namespace bq::inline workflow
