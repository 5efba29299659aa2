#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "edge/abrasive.h"
#include "store/any_table.h"
#include "store/table_grid.h"
#include "trial/comparison.h"
#include "trial/trial.h"

namespace bq::inline store {

/// What a table that holds no runs may list.
enum class ListKind {
  blades,  ///< name, steel, note
  stones,  ///< name, grit or size (µm), kind, rate, price, length, note
  pairs    ///< blade, before, after, place: a comparison of two treatments
};
/// "blades", "stones", "pairs": as a map and the command line name it.
std::string_view name_of(ListKind kind);
std::optional<ListKind> parse_list_kind(std::string_view text);

/// A list as it was understood; one of blades, stones and pairs is filled.
struct ListTable {
  ListKind kind = ListKind::blades;
  std::vector<Blade> blades;
  std::vector<Abrasive> stones;
  std::optional<Comparison> pairs;
  std::vector<TableColumn> columns;
  std::vector<TableQuestion> questions;
  std::vector<TableFault> faults;
  std::vector<std::string> notes;
};

/// The list that a grid looks like by its heads, in English, German, French or Spanish; empty:
/// none.
std::optional<ListKind> looks_like_list(const TableGrid& grid);
/// Reads a list. A head nobody knows is asked about (map: columns, "note" or "skip"), a grit
/// without a standard too (map: grit); every fault has its line and column.
ListTable understand_list(const TableGrid& grid, ListKind kind, const TableMap& map);

}  // namespace bq::inline store
