#pragma once

#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "quantity/checked.h"
#include "store/table_words.h"

namespace bq::inline store {

/// How a table is laid out.
enum class TableShape {
  long_rows,       ///< one row a reading
  repeats,         ///< one row a checkpoint, its readings side by side
  run_per_row,     ///< one row a run, the cuts across in the heads
  run_per_column,  ///< one column a run, the cuts down the first column
};
std::string_view name_of(TableShape shape);  ///< "long", "repeats", "run per row", …

/// What somebody has answered about a kind of table; kept and given again with the next one.
struct TableMap {
  /// Head as written → meaning ("run", "edge_angle", "factor", "skip"; name_of(Meaning)).
  std::map<std::string, std::string> columns;
  std::string unit;       ///< of readings that say none: "gf", "N", …
  std::string angles;     ///< "per side" or "inclusive"
  std::string decimal;    ///< "." or ","
  std::string grit;       ///< of bare finish numbers: "um", "P", "F", "JIS", "ANSI"
  std::string sheet;      ///< of a spreadsheet: the name of the sheet that is meant
  std::string encoding;   ///< of a text: "UTF-8", "UTF-16", "Windows-1252"; "" found
  std::string separator;  ///< of a text: ",", ";", "|" or "tab"; "" found
  std::string kind;       ///< "readings", or of a list (ListKind); "" by its heads
  /// "blade", "steel", "medium" → name as written → name that is meant (itself: as written).
  std::map<std::string, std::map<std::string, std::string>> names;
  bool operator==(const TableMap&) const = default;
};
/// {"columns":{"edge_angel":"edge_angle"},"unit":"gf","angles":"inclusive","decimal":",","grit":"P"}
/// Refused with the place: no JSON, a key or a meaning nobody knows.
Checked<TableMap> parse_table_map(std::string_view json);
std::string table_map_text(const TableMap& map);
/// The sign that a map names: "tab" → '\t'; 0 for "".
char separator_sign(const std::string& separator);

/// What a column was taken for.
struct TableColumn {
  std::string name;     ///< as written
  std::string meaning;  ///< "reading", "edge_angle_left", "cuts 200 across", "factor", …
  std::string unit;     ///< "" none
  double sure = 0;      ///< 1 by its very name or by the map, 0 taken as a factor
};

/// Something the table does not say. Asked, never guessed.
struct TableQuestion {
  std::string key;       ///< where the answer goes in the map: "unit", "columns.edge_angel"
  std::string sentence;  ///< what is asked, and why
  std::vector<std::string> choices;
};

/// Something in a cell that cannot be taken.
struct TableFault {
  std::uint64_t line = 1;  ///< of the table, from 1
  std::size_t column = 1;  ///< from 1
  std::string what;
  /// "12:3: what".
  [[nodiscard]] std::string in_words() const {
    return std::to_string(line) + ":" + std::to_string(column) + ": " + what;
  }
};

/// A row of a table as it stands there, and what became of it.
struct TablePreviewRow {
  enum class Use { title, head, data, left_out };
  std::uint64_t line = 1;
  Use use = Use::data;
  std::vector<std::string> cells;
};

/// A table as it was understood.
struct AnyTable {
  static constexpr std::size_t kMostPreviewed = 200;
  TableShape shape = TableShape::long_rows;
  std::string sheet;                ///< of a spreadsheet: the one that was read
  std::string encoding, separator;  ///< of a text: as which it was read, as a map says it
  std::vector<TableColumn> columns;
  std::vector<std::string> unknown;  ///< heads taken as factors of the user's own
  std::vector<TableQuestion> questions;
  std::vector<TableFault> faults;        ///< the first 50
  std::vector<TablePreviewRow> preview;  ///< the first kMostPreviewed rows, and those with a fault
  std::vector<std::string> notes;        ///< what was left out or decided, each with its lines
  /// The same as a tidy readings table (docs/file-format.md), and for each of its lines, the head
  /// first, the line it came from. Empty while there are questions or problems.
  std::string tidy;
  std::vector<std::uint64_t> lines;
  std::int64_t readings = 0, runs = 0;
};

/// Understands a table as it is kept in life: text of any usual encoding and separator, or a
/// spreadsheet (.xlsx, .ods) with the sheet that names columns; titles, notes,
/// blank rows and sums between; four shapes; heads in five languages or near to them; values only
/// where they change; units in heads or cells; inclusive angles; grit designations; decimal comma
/// and thousands signs decided on the whole table; "> 400" and "n/a" as no reading. Nothing is
/// dropped or decided in silence: it is in notes, or asked.
AnyTable understand_table(std::string_view bytes, const TableMap& map = {});

/// Whether the head of a table is that of a tidy readings table and no other column's name may be
/// meant for a known column that is not there: such a table needs no understanding. Looks at the
/// first line only.
bool is_tidy_head(std::string_view first_line);

}  // namespace bq::inline store
