#include "store/spreadsheet.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "quantity/number.h"
#include "quantity/said.h"
#include "store/archive.h"
#include "store/readings_columns.h"
#include "store/xml_reader.h"

namespace bq::inline store {
namespace {

/// Shown where a formula came to nothing that was kept: no number, so it is a fault with its place.
constexpr const char* kNoResult = "#no result";
constexpr const char* kDamaged = "the spreadsheet is damaged: it cannot be read";

/// What ends the reading of a spreadsheet; its sentence is the refusal.
struct NotTaken : std::runtime_error {
  using std::runtime_error::runtime_error;
};

/// Days that serial numbers count from, in days since 1970-01-01: 1899-12-30, which is
/// right from 1 March 1900 on (29 February 1900 is counted and never was), or 1904-01-01.
constexpr std::int64_t kOrigin1900 = -25569, kOrigin1904 = -24107;

std::string serial_text(double serial, std::int64_t origin) {
  constexpr double kSecondsADay = 86400;
  if (!(std::abs(serial) < 3e6)) return kNoResult;
  const auto seconds = std::int64_t(std::llround(serial * kSecondsADay));
  const std::int64_t days = seconds / 86400, rest = seconds % 86400;
  if (seconds < 0) return kNoResult;
  const std::string time = fmt::format("{:02}:{:02}:{:02}", rest / 3600, rest / 60 % 60, rest % 60);
  if (days == 0) return time;
  // H. Hinnant, "chrono-compatible low-level date algorithms": civil_from_days.
  const std::int64_t z = days + origin + 719468, era = (z >= 0 ? z : z - 146096) / 146097;
  const auto day_of_era = unsigned(z - era * 146097);
  const unsigned year_of_era =
      (day_of_era - day_of_era / 1460 + day_of_era / 36524 - day_of_era / 146096) / 365;
  const unsigned day_of_year =
      day_of_era - (365 * year_of_era + year_of_era / 4 - year_of_era / 100);
  const unsigned from_march = (5 * day_of_year + 2) / 153;
  const unsigned month = from_march < 10 ? from_march + 3 : from_march - 9;
  const std::string day =
      fmt::format("{:04}-{:02}-{:02}", std::int64_t(year_of_era) + era * 400 + (month <= 2 ? 1 : 0),
                  month, day_of_year - (153 * from_march + 2) / 5 + 1);
  return rest == 0 ? day : day + ' ' + time;
}

/// A number as text that can be read in one way only.
std::string number_text(double value) {
  if (!std::isfinite(value)) return kNoResult;
  // What a spreadsheet keeps has 15 figures that count; the rest is how it was reckoned.
  std::string text = fmt::format("{:.15g}", value);
  if (text.find('e') != std::string::npos) text = fmt::format("{:.17f}", value);
  const std::size_t point = text.find('.');
  if (point != std::string::npos && text.size() - point - 1 == 3) text += '0';
  return text;
}

/// Whether a number format shows a day or a time.
bool shows_date(std::string_view code) {
  bool quoted = false, bracketed = false;
  for (std::size_t i = 0; i < code.size(); ++i) {
    const char c = code[i];
    if (c == '\\')
      ++i;
    else if (c == '"')
      quoted = !quoted;
    else if (c == '[')
      bracketed = true;
    else if (c == ']')
      bracketed = false;
    else if (!quoted && !bracketed &&
             std::string_view("ymdhsYMDHS").find(c) != std::string_view::npos)
      return true;
  }
  return false;
}

std::string part_of(const Archive& archive, const std::string& name) {
  auto out = archive.read(name);
  if (!out) throw NotTaken(kDamaged);
  return std::move(*out);
}

/// Cells of a sheet as they come, bounded over the whole file.
class SheetCells {
 public:
  SheetCells(std::string name, std::size_t& cells) : cells_(cells) { out_.name = std::move(name); }

  void put(std::size_t row, std::size_t column, std::string text) {
    text = trimmed(text);
    if (text.empty()) return;
    if (column >= kMostTableColumns)
      throw NotTaken(
          said("the sheet \"{name}\" has more than {most_table_columns} columns",
               {{"name", out_.name}, {"most_table_columns", std::to_string(kMostTableColumns)}}));
    if (out_.grid.rows.empty() || out_.grid.rows.back().line != row + 1) {
      out_.grid.rows.emplace_back();
      out_.grid.rows.back().line = row + 1;
    }
    auto& cells = out_.grid.rows.back().cells;
    const std::size_t more = column < cells.size() ? 0 : column + 1 - cells.size();
    cells_ += more;
    if (cells_ > kMostSpreadsheetCells)
      throw NotTaken(said("the spreadsheet has more than {most_spreadsheet_cells} cells",
                          {{"most_spreadsheet_cells", std::to_string(kMostSpreadsheetCells)}}));
    if (more > 0) cells.resize(column + 1);
    cells[column] = std::move(text);
  }
  void hide(std::size_t row) { hidden_.push_back(row + 1); }
  SpreadsheetSheet finish() {
    out_.grid.encoding = "UTF-8";
    auto& rows = out_.grid.rows;
    if (!std::is_sorted(rows.begin(), rows.end(),
                        [](const auto& a, const auto& b) { return a.line < b.line; }))
      throw NotTaken(kDamaged);
    for (const std::uint64_t line : hidden_) {
      const auto found = std::lower_bound(
          rows.begin(), rows.end(), line,
          [](const TableGrid::Row& row, std::uint64_t at) { return row.line < at; });
      if (found != rows.end() && found->line == line) out_.hidden.push_back(line);
    }
    return std::move(out_);
  }

 private:
  SpreadsheetSheet out_;
  std::size_t& cells_;
  std::vector<std::uint64_t> hidden_;
};

// ---- .xlsx ----

/// "B4" → row 3, column 1.
std::pair<std::size_t, std::size_t> place_of(std::string_view text) {
  std::size_t i = 0, column = 0, row = 0;
  constexpr std::size_t kLetters = 3, kFigures = 8;
  for (; i < text.size() && text[i] >= 'A' && text[i] <= 'Z'; ++i)
    column = column * 26 + std::size_t(text[i] - 'A' + 1);
  const std::size_t letters = i;
  for (; i < text.size() && text[i] >= '0' && text[i] <= '9'; ++i)
    row = row * 10 + std::size_t(text[i] - '0');
  if (i != text.size() || letters == 0 || letters > kLetters || i - letters > kFigures || row == 0)
    throw NotTaken(kDamaged);
  return {row - 1, column - 1};
}

class Workbook {
 public:
  explicit Workbook(const Archive& archive) : archive_(archive) {}

  std::vector<SpreadsheetSheet> read() {
    const std::string workbook = document_part();
    folder_ = workbook.substr(0, workbook.rfind('/') + 1);
    read_links(folder_ + "_rels/" + workbook.substr(folder_.size()) + ".rels");
    read_sheet_names(part_of(archive_, workbook));
    for (const auto& [id, link] : links_) {
      if (link.first == "sharedStrings") read_strings(part_of(archive_, link.second));
      if (link.first == "styles") read_styles(part_of(archive_, link.second));
    }
    std::vector<SpreadsheetSheet> out;
    for (const auto& [name, id] : sheets_) {
      const auto link = links_.find(id);
      if (link == links_.end() || link->second.first != "worksheet") continue;  // a chart
      out.push_back(read_sheet(name, part_of(archive_, link->second.second)));
    }
    return out;
  }

 private:
  /// The part that the archive as a whole names as its document.
  std::string document_part() {
    read_links("_rels/.rels");
    for (const auto& [id, link] : links_)
      if (link.first == "officeDocument") return link.second;
    throw NotTaken("this archive is no spreadsheet that is known (.xlsx, .ods)");
  }
  void read_links(const std::string& part) {
    links_.clear();
    const std::string xml = part_of(archive_, part);
    XmlReader in(xml);
    while (in.next()) {
      if (!in.begins("Relationship")) continue;
      const std::string type = in.attribute("Type").value_or("");
      std::string target = in.attribute("Target").value_or("");
      if (target.starts_with('/'))
        target.erase(0, 1);
      else
        target = folder_ + target;
      links_[in.attribute("Id").value_or("")] = {type.substr(type.rfind('/') + 1), target};
    }
  }
  void read_sheet_names(const std::string& xml) {
    XmlReader in(xml);
    while (in.next()) {
      if (in.begins("workbookPr")) {
        const std::string since_1904 = in.attribute("date1904").value_or("0");
        origin_ = since_1904 == "1" || since_1904 == "true" ? kOrigin1904 : kOrigin1900;
      }
      if (in.begins("sheet"))
        sheets_.emplace_back(in.attribute("name").value_or(""),
                             in.attribute("id", true).value_or(""));
    }
  }
  void read_strings(const std::string& xml) {
    XmlReader in(xml);
    while (in.next())
      if (in.begins("si")) strings_.push_back(in.inner_text("rPh"));  // without how it is spoken
  }
  void read_styles(const std::string& xml) {
    XmlReader in(xml);
    std::map<std::string, std::string> codes;
    bool cell_formats = false;
    while (in.next()) {
      if (in.begins("numFmt"))
        codes[in.attribute("numFmtId").value_or("")] = in.attribute("formatCode").value_or("");
      if (in.begins("cellXfs")) cell_formats = true;
      if (in.ends("cellXfs")) cell_formats = false;
      if (!cell_formats || !in.begins("xf")) continue;
      const std::string id = in.attribute("numFmtId").value_or("0");
      const auto code = codes.find(id);
      const auto parsed = parse_number(id);
      const double number = parsed ? *parsed : 0;
      // Formats that need no words of their own: ECMA-376-1, 18.8.30.
      const bool customary = (number >= 14 && number <= 22) || (number >= 45 && number <= 47);
      dates_.push_back(code != codes.end() ? shows_date(code->second) : customary);
    }
  }
  SpreadsheetSheet read_sheet(const std::string& name, const std::string& xml) {
    SheetCells out(name, cells_);
    XmlReader in(xml);
    std::size_t row = 0, column = 0;
    while (in.next()) {
      if (in.begins("row")) {
        row = in.attribute("r") ? place_of("A" + *in.attribute("r")).first : row;
        column = 0;
        const std::string hidden = in.attribute("hidden").value_or("");
        if (hidden == "1" || hidden == "true") out.hide(row);
      }
      if (in.ends("row")) ++row;
      if (!in.begins("c")) continue;
      std::string type = "n", style = "0", place;
      in.each_attribute([&](std::string_view name, std::string_view word) {
        if (name == "r") place = word;
        if (name == "t") type = word;
        if (name == "s") style = word;
      });
      if (!place.empty()) {
        const auto [at_row, at_column] = place_of(place);
        if (at_row != row) throw NotTaken(kDamaged);
        column = at_column;
      }
      out.put(row, column, cell_text(in, type, style));
      ++column;
    }
    return out.finish();
  }
  std::string cell_text(XmlReader& in, const std::string& type, const std::string& style_id) {
    std::string value;
    bool formula = false, valued = false;
    if (!in.empty()) {
      const int outer = in.depth();
      while (in.next() && in.depth() > outer) {
        if (in.begins("f")) {
          formula = true;
          in.skip();
        } else if (in.begins("v") || in.begins("is")) {
          value = in.inner_text("rPh");
          valued = true;
        } else if (in.begins_any()) {
          in.skip();
        }
      }
    }
    if (!valued || value.empty()) return formula && type != "str" ? kNoResult : "";
    if (type == "s") {
      const auto index = parse_number(value);
      if (!index || !(*index >= 0) || !(*index < double(strings_.size())))
        throw NotTaken("the spreadsheet is damaged: a text is missing");
      return strings_[std::size_t(*index)];
    }
    if (type != "n") return value;  // inlineStr, str, b, d; e: "#DIV/0!"
    const auto number = parse_number(value);
    if (!number) return value;
    const auto style = parse_number(style_id);
    const bool date =
        style && *style >= 0 && *style < double(dates_.size()) && dates_[std::size_t(*style)];
    return date ? serial_text(*number, origin_) : number_text(*number);
  }

  const Archive& archive_;
  std::string folder_;
  std::map<std::string, std::pair<std::string, std::string>> links_;  ///< id → kind, part
  std::vector<std::pair<std::string, std::string>> sheets_;           ///< name, id
  std::vector<std::string> strings_;
  std::vector<bool> dates_;  ///< of each cell format: it shows a day or time
  std::int64_t origin_ = kOrigin1900;
  std::size_t cells_ = 0;
};

// ---- .ods ----

/// "PT14H05M09S" → "14:05:09"; anything else as it is written.
std::string time_text(const std::string& iso) {
  int hours = 0, minutes = 0;
  double seconds = 0;
  if (std::sscanf(iso.c_str(), "PT%dH%dM%lfS", &hours, &minutes, &seconds) != 3) return iso;
  return fmt::format("{:02}:{:02}:{:02}", hours, minutes, int(seconds));
}

/// How often an element stands there by its word; none when it has no such word.
std::size_t repeats(std::string_view said) {
  if (said.empty()) return 1;
  const auto count = parse_number(said);
  if (!count || !(*count >= 1)) throw NotTaken(kDamaged);
  return std::size_t(std::min(*count, 2e7));
}

/// The words of a cell, without remarks and drawings that lie on it.
std::string open_text(XmlReader& in) {
  std::string text;
  if (in.empty()) return text;
  const int outer = in.depth();
  constexpr std::size_t kMostBlanks = 100;
  bool first = true;
  while (in.next() && in.depth() > outer) {
    if (in.begins("annotation") || (in.begins_any() && in.prefix() == "draw")) {
      in.skip();
    } else if (in.begins("p")) {
      text += first ? "" : "\n";
      first = false;
    } else if (in.begins("s")) {
      text.append(std::min(repeats(in.attribute("c").value_or("")), kMostBlanks), ' ');
    } else if (in.begins("tab") || in.begins("line-break")) {
      text += ' ';
    } else {
      text += in.text();
    }
  }
  return text;
}

/// A cell of an .ods sheet: what it holds, and over how many columns it is repeated.
std::pair<std::string, std::size_t> open_cell(XmlReader& in) {
  std::string type, value, date, time, truth, said;
  bool formula = false;
  std::size_t across = 1;
  in.each_attribute([&](std::string_view name, std::string_view word) {
    if (name == "value-type" && type.empty()) type = word;
    if (name == "value") value = word;
    if (name == "date-value") date = word;
    if (name == "time-value") time = word;
    if (name == "boolean-value") truth = word;
    if (name == "string-value") said = word;
    if (name == "formula") formula = true;
    if (name == "number-columns-repeated") across = repeats(word);
  });
  std::string text = open_text(in);
  if (type == "string") return {said.empty() ? text : said, across};  // an error has its text only
  if (const std::size_t t = date.find('T'); t != std::string::npos)
    date = date.substr(t) == "T00:00:00" ? date.substr(0, t) : date.replace(t, 1, " ");
  if (!date.empty()) return {date, across};
  if (!time.empty()) return {time_text(time), across};
  if (!truth.empty()) return {truth == "true" ? "1" : "0", across};
  if (value.empty()) return {text.empty() && formula ? kNoResult : text, across};
  const auto number = parse_number(value);
  if (!number) throw NotTaken(kDamaged);
  return {number_text(*number), across};
}

std::vector<SpreadsheetSheet> read_open_document(const Archive& archive) {
  std::vector<SpreadsheetSheet> out;
  const std::string xml = part_of(archive, "content.xml");
  XmlReader in(xml);
  std::size_t cells = 0;
  while (in.next()) {
    if (!in.begins("table") || in.empty()) continue;
    SheetCells sheet(in.attribute("name").value_or(""), cells);
    const int outer = in.depth();
    std::size_t row = 0;
    while (in.next() && in.depth() > outer) {
      if (!in.begins("table-row")) continue;
      const std::size_t times = repeats(in.attribute("number-rows-repeated").value_or(""));
      const std::string visible = in.attribute("visibility").value_or("visible");
      std::vector<std::pair<std::size_t, std::string>> found;
      std::size_t column = 0;
      if (!in.empty()) {
        const int inside = in.depth();
        while (in.next() && in.depth() > inside) {
          if (!in.begins("table-cell") && !in.begins("covered-table-cell")) continue;
          const auto [text, across] = open_cell(in);
          for (std::size_t i = 0; i < across && !text.empty(); ++i) {
            if (column + i >= kMostTableColumns)
              throw NotTaken(said("a sheet has more than {most_table_columns} columns",
                                  {{"most_table_columns", std::to_string(kMostTableColumns)}}));
            found.emplace_back(column + i, text);
          }
          column += across;
        }
      }
      for (std::size_t i = 0; i < times && !found.empty(); ++i) {
        for (const auto& [at, text] : found) sheet.put(row + i, at, text);
        if (visible != "visible") sheet.hide(row + i);
      }
      row += times;
    }
    out.push_back(sheet.finish());
  }
  return out;
}

}  // namespace

Checked<std::vector<SpreadsheetSheet>> read_spreadsheet(std::string_view bytes) {
  auto archive = Archive::open(bytes);
  if (!archive) return archive.refusal();
  try {
    const bool open_document = archive->read("content.xml").has_value();
    auto sheets = open_document ? read_open_document(*archive) : Workbook(*archive).read();
    std::erase_if(sheets, [](const SpreadsheetSheet& s) { return s.grid.rows.empty(); });
    if (sheets.empty()) return Refusal{said("there is nothing in it")};
    return sheets;
  } catch (const NotTaken& refusal) {
    return Refusal{refusal.what()};
  } catch (const NotWellFormed&) {
    return Refusal{kDamaged};
  }
}

Checked<TableGrid> read_any_grid(std::string_view bytes, const std::string& sheet,
                                 const std::string& encoding, char separator) {
  if (!is_archive(bytes)) return read_grid(bytes, encoding, separator);
  auto sheets = read_spreadsheet(bytes);
  if (!sheets) return sheets.refusal();
  auto all = sheets.take();
  const auto meant = std::find_if(all.begin(), all.end(),
                                  [&](const SpreadsheetSheet& s) { return s.name == sheet; });
  return std::move((meant == all.end() ? all.front() : *meant).grid);
}

}  // namespace bq::inline store
