#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "store/list_table.h"

namespace bq::inline store {

/// What a column of a list is.
enum class ListCell {
  blade,
  steel,
  note,
  stone,
  grit,
  size,
  kind,
  rate,
  price,
  length,
  before,
  after,
  place,
  unit,
  part,  ///< of a gauge study: the place that is read again
  by_operator,
  repeat,
  reading,
  run,  ///< of a stroke
  cuts,
  stroke,
  time,
  force,
  skip
};

/// By a head in English, German, French or Spanish; what stands in brackets is left away.
std::optional<ListCell> list_cell_of(std::string_view head);
/// "blade", "steel", …: as a map names it.
std::string_view name_of(ListCell cell);
std::optional<ListCell> parse_list_cell(std::string_view text);
/// What a list of a kind must have, the one that names its rows first.
std::vector<ListCell> needed_by(ListKind kind);
bool belongs(ListCell cell, ListKind kind);

}  // namespace bq::inline store
