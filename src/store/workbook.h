#pragma once

#include <string>
#include <variant>
#include <vector>

namespace bq::inline store {

using WorkbookCell = std::variant<std::string, double>;
/// One sheet of a workbook: a line of words, heads, rows. Names up to 31 letters.
struct WorkbookSheet {
  std::string name;
  std::vector<std::string> words;  ///< above the table, one a row
  std::vector<std::string> heads;
  std::vector<std::vector<WorkbookCell>> rows;
};

/// Writes an .xlsx file with libxlsxwriter. Text is always stored as text (never run as a formula).
/// `date`: ISO 8601 day that stands as the time of making: the same content and date give the same
/// bytes. Throws StoreError when the file cannot be written.
void write_workbook(const std::string& path, const std::vector<WorkbookSheet>& sheets,
                    const std::string& title, const std::string& date);

}  // namespace bq::inline store
