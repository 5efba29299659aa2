#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "quantity/checked.h"
#include "store/table_grid.h"

namespace bq::inline store {

/// A sheet of a spreadsheet as a grid: numbers with a decimal point and never with just three
/// decimals (so that nobody takes one for thousands), days as 2026-03-01, times as 14:05:09,
/// formulas as what they came to when the file was kept ("#no result" where nothing was kept).
/// `line` of a row is its number in the sheet.
struct SpreadsheetSheet {
  std::string name;
  TableGrid grid;
  std::vector<std::uint64_t> hidden;  ///< rows that the spreadsheet does not show
};

inline constexpr std::size_t kMostSpreadsheetCells = 10'000'000;

/// Reads an .xlsx (ECMA-376) or .ods (OpenDocument 1.3) file; sheets without a word are left out.
/// Nothing in it is run or looked up elsewhere. Refused, before it is unpacked: what Archive
/// refuses; then what is neither kind of spreadsheet, more cells than kMostSpreadsheetCells, more
/// columns than a table may have, damaged files.
Checked<std::vector<SpreadsheetSheet>> read_spreadsheet(std::string_view bytes);

/// A grid from text, as `encoding` and `separator` say (read_grid), or from a spreadsheet's sheet
/// of this name (its first one where none is of the name).
Checked<TableGrid> read_any_grid(std::string_view bytes, const std::string& sheet,
                                 const std::string& encoding, char separator);

}  // namespace bq::inline store
