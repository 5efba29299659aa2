#include "store/table_grid.h"

#include <algorithm>
#include <array>
#include <map>

#include "quantity/csv_cell.h"
#include "quantity/said.h"
#include "store/readings_columns.h"

namespace bq::inline store {
namespace {

void append_utf8(std::string& out, std::uint32_t code) {
  if (code < 0x80) {
    out += char(code);
  } else if (code < 0x800) {
    out += char(0xc0 | (code >> 6));
    out += char(0x80 | (code & 0x3f));
  } else if (code < 0x10000) {
    out += char(0xe0 | (code >> 12));
    out += char(0x80 | ((code >> 6) & 0x3f));
    out += char(0x80 | (code & 0x3f));
  } else {
    out += char(0xf0 | (code >> 18));
    out += char(0x80 | ((code >> 12) & 0x3f));
    out += char(0x80 | ((code >> 6) & 0x3f));
    out += char(0x80 | (code & 0x3f));
  }
}

bool is_utf8(std::string_view bytes) {
  for (std::size_t i = 0; i < bytes.size();) {
    const auto c = static_cast<unsigned char>(bytes[i]);
    const std::size_t more = c < 0x80   ? 0
                             : c < 0xc2 ? 9
                             : c < 0xe0 ? 1
                             : c < 0xf0 ? 2
                             : c < 0xf5 ? 3
                                        : 9;
    if (more == 9 || i + more >= bytes.size() + (more == 0 ? 1 : 0)) return false;
    for (std::size_t k = 1; k <= more; ++k)
      if ((static_cast<unsigned char>(bytes[i + k]) & 0xc0) != 0x80) return false;
    i += more + 1;
  }
  return true;
}

std::string from_utf16(std::string_view bytes, bool big) {
  std::string out;
  const auto unit = [&](std::size_t i) {
    const auto a = static_cast<unsigned char>(bytes[i]),
               b = static_cast<unsigned char>(bytes[i + 1]);
    return std::uint32_t(big ? a << 8 | b : b << 8 | a);
  };
  for (std::size_t i = 0; i + 1 < bytes.size(); i += 2) {
    std::uint32_t code = unit(i);
    if (code >= 0xd800 && code < 0xdc00 && i + 3 < bytes.size()) {
      const std::uint32_t low = unit(i + 2);
      if (low >= 0xdc00 && low < 0xe000) {
        code = 0x10000 + ((code - 0xd800) << 10) + (low - 0xdc00);
        i += 2;
      }
    }
    append_utf8(out, code >= 0xd800 && code < 0xe000 ? 0xfffd : code);
  }
  return out;
}

std::string from_windows_1252(std::string_view bytes) {
  // 0x80…0x9f; 0: not defined (shown as a replacement character).
  static constexpr std::array<std::uint16_t, 32> kHigh{
      0x20ac, 0,      0x201a, 0x0192, 0x201e, 0x2026, 0x2020, 0x2021, 0x02c6, 0x2030, 0x0160,
      0x2039, 0x0152, 0,      0x017d, 0,      0,      0x2018, 0x2019, 0x201c, 0x201d, 0x2022,
      0x2013, 0x2014, 0x02dc, 0x2122, 0x0161, 0x203a, 0x0153, 0,      0x017e, 0x0178};
  std::string out;
  for (const char c : bytes) {
    const auto byte = static_cast<unsigned char>(c);
    const std::uint32_t code = byte >= 0x80 && byte < 0xa0 ? kHigh[byte - 0x80] : byte;
    append_utf8(out, code ? code : 0xfffd);
  }
  return out;
}

/// The text in UTF-8, and what it was.
std::pair<std::string, std::string> decoded(std::string_view bytes, std::string_view encoding) {
  if (encoding == "Windows-1252") return {from_windows_1252(bytes), "Windows-1252"};
  if (encoding == "UTF-16" && !bytes.starts_with("\xfe\xff"))
    return {from_utf16(bytes.substr(bytes.starts_with("\xff\xfe") ? 2 : 0), false), "UTF-16"};
  if (bytes.starts_with("\xef\xbb\xbf")) return {std::string(bytes.substr(3)), "UTF-8"};
  if (bytes.starts_with("\xff\xfe")) return {from_utf16(bytes.substr(2), false), "UTF-16"};
  if (bytes.starts_with("\xfe\xff")) return {from_utf16(bytes.substr(2), true), "UTF-16"};
  if (is_utf8(bytes)) return {std::string(bytes), "UTF-8"};
  return {from_windows_1252(bytes), "Windows-1252"};
}

/// Splits into rows of raw cells. A quote inside a quoted cell is written twice; cells keep line
/// ends that stand between quotes.
std::vector<TableGrid::Row> split(const std::string& text, char separator) {
  std::vector<TableGrid::Row> rows;
  TableGrid::Row row;
  std::string cell;
  std::uint64_t line = 1;
  bool quoted = false, any = false;
  const auto end_cell = [&] {
    row.cells.emplace_back(unguarded(trimmed(cell)));
    cell.clear();
  };
  const auto end_row = [&] {
    end_cell();
    rows.push_back(std::move(row));
    row = {};
    any = false;
  };
  for (std::size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (!any) row.line = line;
    any = true;
    if (quoted) {
      if (c == '"' && i + 1 < text.size() && text[i + 1] == '"') {
        cell += '"';
        ++i;
      } else if (c == '"') {
        quoted = false;
      } else {
        cell += c;
      }
      line += c == '\n';
      continue;
    }
    if (cell.empty() && c != '"' && c != separator && c != '\n' && c != '\r') {
      // Up to the next sign that ends a cell nothing is to be decided.
      std::size_t end = i;
      while (end < text.size() && text[end] != separator && text[end] != '\n' &&
             text[end] != '\r' && text[end] != '"')
        ++end;
      cell.assign(text, i, end - i);
      i = end - 1;
    } else if (c == '"' && trimmed(cell).empty()) {
      cell.clear();
      quoted = true;
    } else if (c == separator) {
      end_cell();
    } else if (c == '\n' || c == '\r') {
      if (c == '\r' && i + 1 < text.size() && text[i + 1] == '\n') ++i;
      ++line;
      end_row();
    } else {
      cell += c;
    }
  }
  if (any) end_row();
  return rows;
}

/// The separator that lines agree on: the one whose commonest count per line, above 0, most lines
/// have; more columns decide between equals.
char separator_of(const std::string& text) {
  const std::string head = text.substr(0, 64 * 1024);
  char best = ',';
  std::pair<int, int> most{0, 0};
  for (const char separator : {'\t', ';', '|', ','}) {
    std::map<std::size_t, int> counts;
    for (const auto& row : split(head, separator))
      if (!row.blank()) ++counts[row.cells.size()];
    for (const auto& [cells, lines] : counts)
      if (cells > 1 && std::pair(lines, int(cells)) > most) {
        most = {lines, int(cells)};
        best = separator;
      }
  }
  return best;
}

}  // namespace

bool TableGrid::Row::blank() const {
  return std::all_of(cells.begin(), cells.end(), [](const std::string& c) { return c.empty(); });
}

Checked<TableGrid> read_grid(std::string_view bytes, std::string_view encoding, char separator) {
  if (bytes.size() > kMostTableBytes)
    return Refusal{said("the table is larger than {most_table_bytes} MiB",
                        {{"most_table_bytes", std::to_string(kMostTableBytes >> 20)}})};
  const auto [text, found] = decoded(bytes, encoding);
  if (encoding == "UTF-8" && found != "UTF-8")
    return Refusal{said("this is no UTF-8: there are bytes in it that no letter has")};
  if (text.find('\0') != std::string::npos)
    return Refusal{said(
        "this is no text: there is a NUL byte in it (tables are taken as text, .xlsx or .ods)")};
  TableGrid grid;
  grid.encoding = found;
  grid.separator = separator ? separator : separator_of(text);
  grid.rows = split(text, grid.separator);
  if (std::all_of(grid.rows.begin(), grid.rows.end(),
                  [](const TableGrid::Row& row) { return row.blank(); }))
    return Refusal{said("there is nothing in it")};
  for (const auto& row : grid.rows)
    if (row.cells.size() > kMostTableColumns)
      return Refusal{said("line {line} has {cells} columns; at most {most_table_columns} are taken",
                          {{"line", std::to_string(row.line)},
                           {"cells", std::to_string(row.cells.size())},
                           {"most_table_columns", std::to_string(kMostTableColumns)}})};
  return grid;
}

}  // namespace bq::inline store
