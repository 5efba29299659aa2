#pragma once

#include <SQLiteCpp/SQLiteCpp.h>

#include <string>
#include <vector>

namespace bq::inline store {

/// One table or index of a project file.
struct SchemaEntry {
  std::string type;  ///< "table" or "index"
  std::string name;
  std::string sql;                   ///< as it was made
  std::vector<std::string> columns;  ///< of a table, in order
};

/// Makes what versions 1 to `version` have, in an empty database.
void make_schema(SQLite::Database& db, int version);
/// What a file of this version consists of (1 … ProjectFile::kVersion), in the order it is made.
const std::vector<SchemaEntry>& schema_of_version(int version);
/// What the file itself consists of, in the order it was made; no columns.
std::vector<SchemaEntry> schema_of(SQLite::Database& db);
/// Columns of a table, in order; none where there is no such table.
std::vector<std::string> columns_of(SQLite::Database& db, const std::string& table);
/// A name of the schema (never of a file's own making) as it stands in a statement.
std::string quoted_name(const std::string& name);

/// Whoever sends a file can write things into it that act when it is used: triggers, views, checks
/// and defaults that call functions. None of them runs here, and pages are looked at before they
/// are trusted.
void harden(SQLite::Database& db);
/// What the file's schema has beyond a project of this version, or has otherwise: "the trigger
/// sweep, the view total", five at most by name; "" when it has nothing. What is missing is not
/// told here (ProjectFile::check).
std::string stranger_in(SQLite::Database& db, int version);

}  // namespace bq::inline store
