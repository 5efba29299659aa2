// A whole project as JSON and back: every table with every row, so that nothing is left out when a
// table is added.
#include <sqlite3.h>

#include <nlohmann/json.hpp>
#include <set>

#include "quantity/nesting.h"
#include "quantity/said.h"
#include "store/base64.h"
#include "store/project_database.h"
#include "store/project_schema.h"

namespace bq::inline store {
namespace {

using Json = nlohmann::json;

/// Without the checksums, which follow from the rest.
std::vector<std::string> tables_of(SQLite::Database& db) {
  std::vector<std::string> out;
  for (const SchemaEntry& entry : schema_of(db))
    if (entry.type == "table" && entry.name != "checksum") out.push_back(entry.name);
  return out;
}

Json cell_of(const SQLite::Column& column) {
  switch (column.getType()) {
    case SQLITE_INTEGER:
      return column.getInt64();
    case SQLITE_FLOAT:
      return column.getDouble();
    case SQLITE_TEXT:
      return column.getString();
    case SQLITE_BLOB:
      return Json{{"base64", base64_of(column.getBlob(), std::size_t(column.getBytes()))}};
    default:
      return nullptr;
  }
}

[[noreturn]] void refuse_record(const std::string& why) {
  throw StoreError(StoreProblem::refused, said("{why}. Nothing was made.", {{"why", why}}));
}

void bind_cell(SQLite::Statement& row, int index, const Json& cell, const std::string& where) {
  if (cell.is_null())
    row.bind(index);
  else if (cell.is_number_unsigned() && cell.get<std::uint64_t>() > std::uint64_t(INT64_MAX))
    refuse_record(said("A number at {where} is too large", {{"where", where}}));
  else if (cell.is_number_integer())
    row.bind(index, cell.get<std::int64_t>());
  else if (cell.is_number())
    row.bind(index, cell.get<double>());
  else if (cell.is_string())
    row.bind(index, cell.get_ref<const std::string&>());
  else if (const auto blob = cell.is_object() ? cell.find("base64") : cell.end();
           cell.is_object() && blob != cell.end() && blob->is_string()) {
    const auto bytes = from_base64(blob->get_ref<const std::string&>());
    if (!bytes) refuse_record(said("{where} is no base64", {{"where", where}}));
    row.bind(index, bytes->data(), int(bytes->size()));
  } else
    refuse_record(said("{where} is neither number, text, null nor bytes", {{"where", where}}));
}

void put_table(SQLite::Database& db, const std::string& table, const Json& content) {
  const std::string place = "record.tables." + table;
  const auto columns = content.is_object() ? content.find("columns") : content.end();
  const auto rows = content.is_object() ? content.find("rows") : content.end();
  if (!content.is_object() || columns == content.end() || rows == content.end() ||
      !columns->is_array() || !rows->is_array())
    refuse_record(said("{place} needs \"columns\" and \"rows\"", {{"place", place}}));
  const auto known = columns_of(db, table);
  std::string names, marks;
  for (const auto& column : *columns) {
    if (!column.is_string() ||
        std::find(known.begin(), known.end(), column.get<std::string>()) == known.end())
      refuse_record(said("{place}.columns: {column} is no column of this version",
                         {{"place", place}, {"column", column.dump()}}));
    names += (names.empty() ? "" : ", ") + quoted_name(column.get<std::string>());
    marks += marks.empty() ? "?" : ", ?";
  }
  db.exec("DELETE FROM " + quoted_name(table));
  if (rows->empty()) return;
  SQLite::Statement add(
      db, "INSERT INTO " + quoted_name(table) + "(" + names + ") VALUES(" + marks + ")");
  std::size_t number = 0;
  for (const auto& row : *rows) {
    const std::string where = place + ".rows[" + std::to_string(number++) + "]";
    if (!row.is_array() || row.size() != columns->size())
      refuse_record(said("{where} does not have {columns} cells",
                         {{"where", where}, {"columns", std::to_string(columns->size())}}));
    for (std::size_t i = 0; i < row.size(); ++i)
      bind_cell(add, int(i) + 1, row[i], where + "[" + std::to_string(i) + "]");
    try {
      add.exec();
    } catch (const SQLite::Exception& error) {
      refuse_record(
          said("{where} does not fit ({error})", {{"where", where}, {"error", error.what()}}));
    }
    add.reset();
    add.clearBindings();
  }
}

}  // namespace

void ProjectFile::write_record(std::ostream& out) const {
  const auto lock = database_->use();
  SQLite::Database& db = *database_->sqlite;
  try {
    const auto version = db.execAndGet("PRAGMA user_version").getInt();
    out << "{\"version\": " << version << ", \"tables\": {";
    bool first_table = true;
    for (const auto& table : tables_of(db)) {
      const auto columns = columns_of(db, table);
      std::string names;
      for (const auto& column : columns) names += (names.empty() ? "" : ", ") + quoted_name(column);
      out << (first_table ? "\n  " : ",\n  ") << Json(table).dump()
          << ": {\"columns\": " << Json(columns).dump() << ", \"rows\": [";
      first_table = false;
      SQLite::Statement all(
          db, "SELECT " + names + " FROM " + quoted_name(table) +
                  (table == "setting" ? std::string(" WHERE key != '") + kLogKey + "'" : "") +
                  " ORDER BY 1");
      bool first_row = true;
      while (all.executeStep()) {
        Json row = Json::array();
        for (int i = 0; i < all.getColumnCount(); ++i) row.push_back(cell_of(all.getColumn(i)));
        out << (first_row ? "\n    " : ",\n    ")
            << row.dump(-1, ' ', false, Json::error_handler_t::replace);
        first_row = false;
      }
      out << "]}";
    }
    out << "}}";
  } catch (const SQLite::Exception& error) {
    throw_store_error(error, database_->path);
  }
}

ProjectFile ProjectFile::create_from_record(const std::filesystem::path& path,
                                            std::string_view json) {
  if (too_deep(json))
    refuse_record(
        said("This file is none of ours: {too_deep}", {{"too_deep", std::string(kTooDeep)}}));
  const Json root = Json::parse(json, nullptr, false);
  if (root.is_discarded()) refuse_record(said("This is no JSON file, or it breaks off"));
  const auto record = root.is_object() ? root.find("record") : root.end();
  if (!root.is_object() || record == root.end() || !record->is_object() ||
      !record->contains("version") || !record->contains("tables") ||
      !(*record)["version"].is_number_integer() || !(*record)["tables"].is_object())
    refuse_record(
        said("This JSON file is no whole project: \"record\" with \"version\" and \"tables\" is "
             "missing. Readings come in as a table"));
  // Compared as it is written: a number beyond 64 bits is newer too.
  if ((*record)["version"].get<double>() > kVersion)
    refuse_record(said("This project was exported by a newer version of the program"));
  ProjectFile project = create(path, "");
  try {
    project.database_->write([&] {
      SQLite::Database& db = *project.database_->sqlite;
      const auto& tables = (*record)["tables"];
      const auto known = tables_of(db);
      for (const auto& [name, content] : tables.items())
        if (std::find(known.begin(), known.end(), name) == known.end())
          refuse_record(said("record.tables.{name} is no table of this version", {{"name", name}}));
      // In the schema's order: a row's references are there before it.
      for (auto table = known.rbegin(); table != known.rend(); ++table)
        db.exec("DELETE FROM " + quoted_name(*table));
      for (const auto& table : known)
        if (tables.contains(table)) put_table(db, table, tables[table]);
    });
    if (const auto problems = project.check(); !problems.empty())
      refuse_record(said("The project in it does not hold together: {problems}",
                         {{"problems", problems.front()}}));
    project.fold();
  } catch (...) {
    project.database_.reset();
    remove_with_logs(path);
    throw;
  }
  return project;
}

}  // namespace bq::inline store
