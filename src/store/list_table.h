#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "edge/abrasive.h"
#include "stats/gauge_study.h"
#include "store/any_table.h"
#include "store/table_grid.h"
#include "trial/comparison.h"
#include "trial/force_stroke.h"
#include "trial/trial.h"

namespace bq::inline store {

/// What a table that holds no runs may list.
enum class ListKind {
  blades,  ///< name, steel, note
  stones,  ///< name, grit or size (µm), kind, rate, price, length, note
  pairs,   ///< blade, before, after, place: a comparison of two treatments
  gauge,   ///< part, operator, reading, repeat: a gauge study
  strokes  ///< run, cuts, time, force: samples of force strokes, one a row
};
inline constexpr ListKind kListKinds[] = {ListKind::blades, ListKind::stones, ListKind::pairs,
                                          ListKind::gauge, ListKind::strokes};
/// "blades", "stones", "pairs", "gauge", "strokes": as a map and the command line name it.
std::string_view name_of(ListKind kind);
std::optional<ListKind> parse_list_kind(std::string_view text);

/// A force stroke of a run, as a table holds it.
struct ListedStroke {
  std::string run, by_operator;
  std::int64_t cuts = 0;
  ForceStroke stroke;
  std::uint64_t line = 0;  ///< where it begins
};

/// A list as it was understood; what its kind says is filled.
struct ListTable {
  ListKind kind = ListKind::blades;
  std::vector<Blade> blades;
  std::vector<Abrasive> stones;
  std::optional<Comparison> pairs;
  std::vector<stats::GaugeReading> gauge;
  Unit gauge_unit = Unit::gf;
  std::vector<ListedStroke> strokes;
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
