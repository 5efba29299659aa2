#pragma once

#include <SQLiteCpp/SQLiteCpp.h>
#include <sqlite3.h>

#include <string>
#include <vector>

#include "store/leaf_search.h"
#include "store/project_schema.h"

/// Inside of project_salvage.cpp: a value on its way from a damaged file into the new one.
namespace bq::inline store {

inline void bind_column(SQLite::Statement& to, int at, const SQLite::Column& from) {
  switch (from.getType()) {
    case SQLITE_INTEGER:
      return to.bind(at, from.getInt64());
    case SQLITE_FLOAT:
      return to.bind(at, from.getDouble());
    case SQLITE_TEXT:
      return to.bind(at, from.getString());
    case SQLITE_BLOB:
      return to.bind(at, from.getBlob(), from.getBytes());
    default:
      return to.bind(at);
  }
}

/// Whether the rows of a table have numbers.
inline bool is_numbered(const SchemaEntry& table) {
  return table.sql.find("WITHOUT ROWID") == std::string::npos;
}

/// What the rows of a table of the new project look like in a page, and whether they have numbers.
struct RowShape {
  std::vector<LeafColumn> columns;
  bool numbered = true;
  bool operator==(const RowShape&) const = default;
};

inline RowShape shape_of(SQLite::Database& db, const SchemaEntry& table) {
  using Kind = LeafColumn::Kind;
  RowShape out;
  out.numbered = is_numbered(table);
  SQLite::Statement columns(db,
                            "SELECT type, \"notnull\" OR pk, pk FROM pragma_table_info(?) ORDER BY "
                            "cid");
  columns.bind(1, table.name);
  while (columns.executeStep()) {
    const std::string type = columns.getColumn(0).getString();
    LeafColumn column;
    column.may_be_empty = columns.getColumn(1).getInt() == 0;
    column.kind = type == "INTEGER" ? Kind::whole
                  : type == "REAL"  ? Kind::real
                  : type == "BLOB"  ? Kind::blob
                                    : Kind::text;
    if (out.numbered && column.kind == Kind::whole && columns.getColumn(2).getInt())
      column.kind = Kind::number_of_row;
    out.columns.push_back(column);
  }
  return out;
}

inline void bind_leaf(SQLite::Statement& to, int at, const LeafValue& value) {
  if (const auto* whole = std::get_if<std::int64_t>(&value)) return to.bind(at, *whole);
  if (const auto* real = std::get_if<double>(&value)) return to.bind(at, *real);
  if (const auto* text = std::get_if<std::string>(&value)) return to.bind(at, *text);
  if (const auto* blob = std::get_if<LeafBlob>(&value))
    return to.bind(at, blob->bytes.data(), int(blob->bytes.size()));
  to.bind(at);
}

}  // namespace bq::inline store
