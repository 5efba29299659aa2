#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "quantity/checked.h"
#include "store/csv_reader.h"

namespace bq::inline store {

/// A table as it lies in a file: rows of cells, unquoted and trimmed, with the line each began on.
struct TableGrid {
  struct Row {
    std::uint64_t line = 1;
    std::vector<std::string> cells;
    [[nodiscard]] bool blank() const;
  };
  std::vector<Row> rows;
  std::string encoding;  ///< "UTF-8", "UTF-16", "Windows-1252"
  char separator = ',';
};

/// Bounds of what is taken: more is refused.
inline constexpr std::size_t kMostTableBytes = std::size_t(256) << 20,
                             kMostTableColumns = CsvReader::kMostColumns;

/// Reads text of a usual encoding (byte-order mark, else UTF-8 where it is valid, else
/// Windows-1252) with the separator that most lines agree on (comma, semicolon, tab, |). Refused:
/// nothing in it, bytes that are no text, too large, too many columns.
/// `encoding` ("UTF-8", "UTF-16", "Windows-1252") and `separator` are taken as said; "" and 0:
/// found.
Checked<TableGrid> read_grid(std::string_view bytes, std::string_view encoding = {},
                             char separator = 0);

}  // namespace bq::inline store
