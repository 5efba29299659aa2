#include "store/workbook.h"

#include <xlsxwriter.h>

#include <algorithm>
#include <ctime>

#include "quantity/said.h"
#include "store/project_file.h"

namespace bq::inline store {
namespace {

constexpr lxw_row_t kMostRows = 1048576;

std::size_t letters_in(const std::string& text) {
  return std::size_t(std::count_if(text.begin(), text.end(), [](char c) {
    return (static_cast<unsigned char>(c) & 0xc0) != 0x80;
  }));
}

std::time_t time_of_day(const std::string& date) {
  std::tm parts{};
  if (std::sscanf(date.c_str(), "%d-%d-%d", &parts.tm_year, &parts.tm_mon, &parts.tm_mday) != 3)
    return 946684800;
  parts.tm_year -= 1900;
  parts.tm_mon -= 1;
  return timegm(&parts);
}

void write_sheet(lxw_workbook* book, const WorkbookSheet& sheet, lxw_format* head,
                 lxw_format* words) {
  lxw_worksheet* page = workbook_add_worksheet(book, sheet.name.c_str());
  if (!page)
    throw StoreError(StoreProblem::refused,
                     said("The workbook takes no sheet named \"{name}\".", {{"name", sheet.name}}));
  lxw_row_t row = 0;
  for (const auto& line : sheet.words) worksheet_write_string(page, row++, 0, line.c_str(), words);
  if (!sheet.words.empty()) ++row;
  std::vector<std::size_t> widths(sheet.heads.size(), 6);
  for (std::size_t c = 0; c < sheet.heads.size(); ++c) {
    worksheet_write_string(page, row, lxw_col_t(c), sheet.heads[c].c_str(), head);
    widths[c] = std::max(widths[c], letters_in(sheet.heads[c]));
  }
  if (!sheet.heads.empty()) worksheet_freeze_panes(page, row + 1, 0);
  if (sheet.rows.size() + row + 1 > kMostRows)
    throw StoreError(StoreProblem::refused,
                     said("A workbook holds {most_rows} rows at most; export the readings as .csv.",
                          {{"most_rows", std::to_string(kMostRows)}}));
  for (const auto& cells : sheet.rows) {
    ++row;
    for (std::size_t c = 0; c < cells.size(); ++c) {
      if (const auto* number = std::get_if<double>(&cells[c])) {
        worksheet_write_number(page, row, lxw_col_t(c), *number, nullptr);
        continue;
      }
      const std::string& text = std::get<std::string>(cells[c]);
      if (text.empty()) continue;
      worksheet_write_string(page, row, lxw_col_t(c), text.c_str(), nullptr);
      if (c < widths.size()) widths[c] = std::max(widths[c], letters_in(text));
    }
  }
  for (std::size_t c = 0; c < widths.size(); ++c)
    worksheet_set_column(page, lxw_col_t(c), lxw_col_t(c),
                         double(std::min<std::size_t>(widths[c] + 2, 60)), nullptr);
}

}  // namespace

void write_workbook(const std::string& path, const std::vector<WorkbookSheet>& sheets,
                    const std::string& title, const std::string& date) {
  lxw_workbook* book = workbook_new(path.c_str());
  if (!book)
    throw StoreError(StoreProblem::read_only,
                     said("The workbook \"{path}\" cannot be begun.", {{"path", path}}));
  lxw_doc_properties properties{};
  std::string shown = title;
  properties.title = shown.data();
  properties.created = time_of_day(date);
  workbook_set_properties(book, &properties);
  lxw_format* head = workbook_add_format(book);
  format_set_bold(head);
  format_set_bottom(head, LXW_BORDER_THIN);
  lxw_format* words = workbook_add_format(book);
  format_set_italic(words);
  try {
    for (const auto& sheet : sheets) write_sheet(book, sheet, head, words);
  } catch (...) {
    workbook_close(book);
    throw;
  }
  if (const lxw_error error = workbook_close(book); error != LXW_NO_ERROR)
    throw StoreError(StoreProblem::read_only,
                     said("The workbook \"{path}\" could not be written: {error}.",
                          {{"path", path}, {"error", lxw_strerror(error)}}));
}

}  // namespace bq::inline store
