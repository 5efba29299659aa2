// A project's tables as CSV with their schema, and back: the tables of an open data package.
#include <SQLiteCpp/SQLiteCpp.h>
#include <sqlite3.h>

#include <nlohmann/json.hpp>

#include "quantity/csv_cell.h"
#include "quantity/said.h"
#include "store/base64.h"
#include "store/project_database.h"
#include "store/project_schema.h"
#include "store/table_resource.h"

namespace bq::inline store {
namespace {

using PackageJson = nlohmann::ordered_json;

struct ColumnFacts {
  std::string name, type;
  bool needed = false, key = false;
};

std::vector<ColumnFacts> facts_of(SQLite::Database& db, const std::string& table) {
  std::vector<ColumnFacts> out;
  SQLite::Statement info(db, "PRAGMA table_info(" + quoted_name(table) + ")");
  while (info.executeStep())
    out.push_back({info.getColumn(1).getString(), info.getColumn(2).getString(),
                   info.getColumn(3).getInt() != 0, info.getColumn(5).getInt() != 0});
  return out;
}

/// What the ending of a column's name says of its unit.
std::string unit_of(std::string_view column) {
  static constexpr std::pair<std::string_view, std::string_view> kUnits[]{
      {"_deg", "degrees per side"},
      {"_um", "µm"},
      {"_mm", "mm"},
      {"_MPa", "MPa"},
      {"_hrc", "Rockwell C"},
      {"_N", "N"},
      {"_hz", "Hz"},
      {"_percent", "%"},
      {"made_at", "UTC, ISO 8601"},
      {"entered_at", "UTC, ISO 8601"}};
  for (const auto& [ending, unit] : kUnits)
    if (column.ends_with(ending)) return std::string(unit);
  return {};
}

/// The bytes of a picture stand as a file beside the tables.
bool is_part_bytes(const std::string& table, const std::string& column) {
  return table == "picture_part" && column == "bytes";
}

PackageJson schema_json(SQLite::Database& db, const std::string& table) {
  PackageJson fields = PackageJson::array(), keys = PackageJson::array();
  for (const auto& column : facts_of(db, table)) {
    const bool bytes = is_part_bytes(table, column.name);
    PackageJson field{{"name", bytes ? "size" : column.name},
                      {"type", bytes || column.type == "INTEGER" ? "integer"
                               : column.type == "REAL"           ? "number"
                                                                 : "string"}};
    if (column.type == "BLOB" && !bytes) field["format"] = "binary";
    if (bytes)
      field["description"] =
          "bytes of this part; they stand in the picture's file, one after another";
    else if (const std::string unit = unit_of(column.name); !unit.empty())
      field["description"] = unit;
    if (column.needed) field["constraints"] = {{"required", true}};
    if (column.key) keys.push_back(column.name);
    fields.push_back(std::move(field));
  }
  PackageJson out{{"fields", fields}, {"missingValues", {kNoValueCell}}};
  if (!keys.empty()) out["primaryKey"] = keys;
  PackageJson foreign = PackageJson::array();
  SQLite::Statement list(db, "PRAGMA foreign_key_list(" + quoted_name(table) + ")");
  while (list.executeStep())
    foreign.push_back({{"fields", list.getColumn(3).getString()},
                       {"reference",
                        {{"resource", list.getColumn(2).getString()},
                         {"fields", list.getColumn(4).getString()}}}});
  if (!foreign.empty()) out["foreignKeys"] = foreign;
  return out;
}

std::string cell_text(const SQLite::Column& column) {
  switch (column.getType()) {
    case SQLITE_INTEGER:
      return std::to_string(column.getInt64());
    case SQLITE_FLOAT:
      return PackageJson(column.getDouble())
          .dump();  // the shortest that gives the same number back
    case SQLITE_TEXT: {
      std::string text = column.getString();
      // A backslash stands before what begins with one: "\N" alone is no value.
      if (text.starts_with('\\')) text.insert(0, 1, '\\');
      return csv_cell(text);
    }
    case SQLITE_BLOB:
      return base64_of(column.getBlob(), std::size_t(column.getBytes()));
    default:
      return kNoValueCell;
  }
}

std::string name_in_package(std::int64_t id, const std::string& name) {
  std::string out = "pictures/" + std::to_string(id) + "-";
  for (const char c : name)
    out += (c >= '0' && c <= '9') || (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '.' ||
                   c == '-'
               ? c
               : '_';
  return out;
}

[[noreturn]] void refuse(const std::string& why) {
  throw StoreError(StoreProblem::refused, said("{why}. Nothing was made.", {{"why", why}}));
}

}  // namespace

std::vector<TableResource> ProjectFile::table_resources() const {
  const auto lock = database_->use();
  SQLite::Database& db = *database_->sqlite;
  std::vector<TableResource> out;
  try {
    for (const SchemaEntry& entry : schema_of(db)) {
      if (entry.type != "table" || entry.name == "checksum") continue;
      const std::string& table = entry.name;
      TableResource one{table, {}, schema_json(db, table).dump()};
      std::string names;
      for (const auto& column : facts_of(db, table)) {
        const bool bytes = is_part_bytes(table, column.name);
        one.csv += (names.empty() ? "" : ",") + (bytes ? "size" : column.name);
        names += (names.empty() ? "" : ", ") +
                 (bytes ? "length(" + quoted_name(column.name) + ")" : quoted_name(column.name));
      }
      one.csv += '\n';
      SQLite::Statement all(
          db, "SELECT " + names + " FROM " + quoted_name(table) +
                  (table == "setting" ? std::string(" WHERE key != '") + kLogKey + "'" : "") +
                  (table == "picture_part" ? " ORDER BY 1, 2" : " ORDER BY 1"));
      while (all.executeStep()) {
        for (int i = 0; i < all.getColumnCount(); ++i)
          one.csv += (i > 0 ? "," : "") + cell_text(all.getColumn(i));
        one.csv += '\n';
        ++one.rows;
      }
      out.push_back(std::move(one));
    }
  } catch (const SQLite::Exception& error) {
    throw_store_error(error, database_->path);
  }
  return out;
}

std::vector<PictureResource> ProjectFile::picture_resources() const {
  const auto lock = database_->use();
  SQLite::Database& db = *database_->sqlite;
  std::vector<PictureResource> out;
  try {
    SQLite::Statement all(db, "SELECT id, name FROM picture ORDER BY id");
    SQLite::Statement parts(db,
                            "SELECT bytes FROM picture_part WHERE picture_id = ? ORDER BY part");
    while (all.executeStep()) {
      PictureResource one{all.getColumn(0).getInt64(), {}, {}};
      one.path = name_in_package(one.id, all.getColumn(1).getString());
      parts.reset();
      parts.bind(1, one.id);
      while (parts.executeStep())
        one.bytes.append(static_cast<const char*>(parts.getColumn(0).getBlob()),
                         std::size_t(parts.getColumn(0).getBytes()));
      out.push_back(std::move(one));
    }
  } catch (const SQLite::Exception& error) {
    throw_store_error(error, database_->path);
  }
  return out;
}

bool for_each_csv_row(std::string_view csv,
                      const std::function<void(const std::vector<CsvText>&)>& take) {
  std::vector<CsvText> row;
  CsvText cell;
  bool quoted = false;
  for (std::size_t i = 0; i < csv.size(); ++i) {
    const char c = csv[i];
    if (quoted) {
      if (c != '"') {
        cell.text += c;
      } else if (i + 1 < csv.size() && csv[i + 1] == '"') {
        cell.text += '"';
        ++i;
      } else {
        quoted = false;
      }
    } else if (c == '"' && cell.text.empty() && !cell.quoted) {
      quoted = cell.quoted = true;
    } else if (c == ',' || c == '\n') {
      row.push_back(std::exchange(cell, {}));
      if (c == '\n') {
        take(row);
        row.clear();
      }
    } else if (c != '\r' || i + 1 >= csv.size() || csv[i + 1] != '\n') {
      cell.text += c;
    }
  }
  if (!row.empty() || !cell.text.empty()) {
    row.push_back(std::move(cell));
    take(row);
  }
  return !quoted;
}

ProjectFile ProjectFile::create_from_tables(const std::filesystem::path& path, int version,
                                            const std::vector<TableResource>& tables,
                                            const std::vector<PictureResource>& pictures) {
  std::string record = "{\"record\": {\"version\": " + std::to_string(version) + ", \"tables\": {";
  bool first_table = true;
  for (const auto& table : tables) {
    const PackageJson schema = PackageJson::parse(table.schema, nullptr, false);
    if (!schema.is_object() || !schema.contains("fields") || !schema["fields"].is_array())
      refuse(said("The table {name} has no schema", {{"name", table.name}}));
    std::vector<std::string> names, types;
    for (const auto& field : schema["fields"]) {
      if (!field.is_object() || !field.contains("name") || !field["name"].is_string() ||
          !field.contains("type") || !field["type"].is_string())
        refuse(said("A field of the table {name} has no name or no type", {{"name", table.name}}));
      names.push_back(field["name"]);
      types.push_back(field.value("format", "") == "binary" ? "binary"
                                                            : field["type"].get<std::string>());
    }
    const bool parts = table.name == "picture_part";
    PackageJson columns = names;
    if (parts)
      for (auto& name : columns)
        if (name == "size") name = "bytes";
    record += (first_table ? "" : ", ") + PackageJson(table.name).dump() +
              ": {\"columns\": " + columns.dump() + ", \"rows\": [";
    first_table = false;
    std::size_t line = 0;
    std::map<std::int64_t, std::size_t> taken;  // bytes of each picture that are in parts already
    const bool whole = for_each_csv_row(table.csv, [&](const std::vector<CsvText>& cells) {
      const std::string where = "data/" + table.name + ".csv, row " + std::to_string(++line);
      if (cells.size() != names.size())
        refuse(said("{where} does not have {names} cells",
                    {{"where", where}, {"names", std::to_string(names.size())}}));
      if (line == 1) return;
      record += line == 2 ? "[" : ", [";
      std::int64_t picture = 0;
      for (std::size_t i = 0; i < cells.size(); ++i) {
        const std::string& text = cells[i].text;
        record += i > 0 ? ", " : "";
        const bool number = types[i] == "integer" || types[i] == "number";
        if (text == kNoValueCell && !cells[i].quoted) {
          record += "null";
        } else if (number) {
          const PackageJson value = PackageJson::parse(text, nullptr, false);
          if (!value.is_number() || (types[i] == "integer" && !value.is_number_integer()))
            refuse(said("{where}: {names} is no {types}: {text}", {{"where", where},
                                                                   {"names", names[i]},
                                                                   {"types", types[i]},
                                                                   {"text", text.substr(0, 40)}}));
          if (parts && names[i] == "picture_id") picture = value.get<std::int64_t>();
          if (parts && names[i] == "size") {
            const auto found =
                std::find_if(pictures.begin(), pictures.end(),
                             [&](const PictureResource& p) { return p.id == picture; });
            const auto size = value.get<std::int64_t>();
            std::size_t& at = taken[picture];
            if (found == pictures.end() || size < 0 || at + std::size_t(size) > found->bytes.size())
              refuse(said("{where}: the picture's file is missing or shorter than its parts",
                          {{"where", where}}));
            const std::string_view bytes =
                std::string_view(found->bytes).substr(at, std::size_t(size));
            record += "{\"base64\": \"" + base64_of(bytes.data(), bytes.size()) + "\"}";
            at += std::size_t(size);
          } else {
            record += text;
          }
        } else if (types[i] == "binary") {
          record += "{\"base64\": " + PackageJson(text).dump() + "}";
        } else {
          std::string said(unguarded(text));
          if (said.starts_with('\\')) said.erase(0, 1);
          record += PackageJson(said).dump(-1, ' ', false, PackageJson::error_handler_t::replace);
        }
      }
      record += "]";
    });
    if (!whole) refuse(said("data/{name}.csv breaks off inside quotes", {{"name", table.name}}));
    record += "]}";
  }
  return create_from_record(path, record + "}}}");
}

}  // namespace bq::inline store
