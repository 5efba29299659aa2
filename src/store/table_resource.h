#pragma once

#include <cstdint>
#include <functional>
#include <string>
#include <string_view>
#include <vector>

namespace bq::inline store {

/// A table of a project as a tabular data resource: CSV (UTF-8, RFC 4180, a head) and its schema
/// (JSON: fields with name, type, description, missingValues, primaryKey, foreignKeys).
struct TableResource {
  std::string name, csv, schema;
  std::int64_t rows = 0;
};

/// A picture of a project as a file.
struct PictureResource {
  std::int64_t id = 0;
  std::string path;  ///< "pictures/3-heel_40_cuts.png"
  std::string bytes;
};

/// Stands in a cell that holds no value.
inline constexpr const char* kNoValueCell = "\\N";

struct CsvText {
  std::string text;
  bool quoted = false;
};
/// Hands over the rows of a CSV text with commas; false where it breaks off inside quotes.
bool for_each_csv_row(std::string_view csv,
                      const std::function<void(const std::vector<CsvText>&)>& take);

}  // namespace bq::inline store
