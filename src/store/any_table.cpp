#include "store/any_table.h"

#include <algorithm>

#include "quantity/csv_cell.h"
#include "quantity/said.h"
#include "store/archive.h"
#include "store/readings_columns.h"
#include "store/table_understanding.h"

namespace bq::inline store {
namespace understanding {
void Understanding::note_left_out() {
  for (const auto& [what, lines] : left_out_)
    out_.notes.push_back(said("left out: {what} ({lines_in_words})",
                              {{"what", what}, {"lines_in_words", lines_in_words(lines)}}));
  if (grid_.encoding != "UTF-8")
    out_.notes.push_back(said("read as {encoding}", {{"encoding", grid_.encoding}}));
  if (inclusive_) out_.notes.emplace_back("angles are inclusive: halved to degrees per side");
}

bool Understanding::choose_sheet(std::vector<SpreadsheetSheet> sheets) {
  std::vector<std::string> all, with_head;
  for (const auto& sheet : sheets) {
    all.push_back(sheet.name);
    if (head_of(sheet.grid)) with_head.push_back(sheet.name);
  }
  const std::string wanted = !map_.sheet.empty() ? map_.sheet
                             : with_head.empty() ? all.front()
                                                 : with_head.front();
  if (map_.sheet.empty() && with_head.size() > 1)
    ask("sheet", said("Several sheets look like tables of readings. Which one is it?"), with_head);
  const auto meant = std::find_if(sheets.begin(), sheets.end(),
                                  [&](const SpreadsheetSheet& s) { return s.name == wanted; });
  if (meant == sheets.end()) {
    ask("sheet",
        said("There is no sheet {shown} in it. Which one is it?", {{"shown", shown(wanted)}}), all);
    return false;
  }
  if (sheets.size() > 1)
    for (const auto& sheet : sheets)
      if (sheet.name != wanted)
        out_.notes.push_back(said("left out: the sheet {shown}", {{"shown", shown(sheet.name)}}));
  if (!meant->hidden.empty())
    out_.notes.push_back(said("taken though the spreadsheet does not show them: {lines_in_words}",
                              {{"lines_in_words", lines_in_words(meant->hidden)}}));
  out_.sheet = wanted;
  grid_ = std::move(meant->grid);
  return true;
}

bool Understanding::read(std::string_view bytes) {
  if (is_archive(bytes)) {
    auto sheets = read_spreadsheet(bytes);
    if (sheets) return choose_sheet(sheets.take());
    problem(1, 0, sheets.refusal().reason);
    return false;
  }
  auto grid = read_grid(bytes, map_.encoding, separator_sign(map_.separator));
  if (grid) {
    grid_ = grid.take();
    out_.encoding = grid_.encoding;
    out_.separator = grid_.separator == '\t' ? "tab" : std::string(1, grid_.separator);
  } else {
    problem(1, 0, grid.refusal().reason);
  }
  return grid.ok();
}

void Understanding::understand(std::string_view bytes) {
  if (!read(bytes)) return;
  const auto head = head_of(grid_);
  if (!head) {
    problem(grid_.rows.front().line, 0,
            said("no row names the columns: one row above the numbers must say which is which, at "
                 "least the cuts and the reading"));
    return;
  }
  head_ = *head;
  take_apart();
  show_rows();
}

void Understanding::show_rows() {
  std::set<std::uint64_t> faulty;
  for (const auto& fault : out_.faults) faulty.insert(fault.line);
  // Rows are in order, so are those of them that are taken.
  std::size_t taken = 0;
  using Use = TablePreviewRow::Use;
  for (std::size_t r = 0; r < grid_.rows.size(); ++r) {
    const auto& row = grid_.rows[r];
    const bool is_taken = taken < rows_.size() && rows_[taken] == &row;
    taken += is_taken;
    const bool near = out_.preview.size() < AnyTable::kMostPreviewed;
    if (row.blank() || (!near && !faulty.contains(row.line))) continue;
    const Use use = r < head_    ? Use::title
                    : r == head_ ? Use::head
                    : is_taken   ? Use::data
                                 : Use::left_out;
    out_.preview.push_back({row.line, use, row.cells});
  }
}

void Understanding::take_apart() {
  name_columns();
  const bool shaped = find_shape();
  ask_about_columns();
  if (shaped && out_.faults.empty()) {
    pick_rows();
    look_at_values();
  }
  list_columns();
  if (!shaped || !out_.faults.empty()) return;
  decide_signs();
  if (out_.shape != TableShape::run_per_column) decide_convention();
  // What is asked already may stand in the way of reading the rows; the rest is asked with it.
  if (out_.shape == TableShape::run_per_column)
    write_columns_as_runs();
  else
    write_rows();
  note_left_out();
  if (out_.readings == 0 && out_.faults.empty() && out_.questions.empty())
    problem(grid_.rows[head_].line, 0, said("there is a head but no reading"));
  out_.runs = std::int64_t(run_names_.size());
  if (!out_.faults.empty() || !out_.questions.empty()) return;
  std::string heads;
  for (const auto& key : keys_) heads += (heads.empty() ? "" : ",") + csv_cell(key);
  out_.tidy = heads + '\n' + tidy_rows_;
  out_.lines = std::move(tidy_lines_);
  out_.lines.insert(out_.lines.begin(), grid_.rows[head_].line);
}

}  // namespace understanding

std::string_view name_of(TableShape shape) {
  switch (shape) {
    case TableShape::long_rows:
      return "long";
    case TableShape::repeats:
      return "repeats";
    case TableShape::run_per_row:
      return "run per row";
    case TableShape::run_per_column:
      return "run per column";
  }
  return "";
}

AnyTable understand_table(std::string_view bytes, const TableMap& map) {
  AnyTable out;
  understanding::Understanding(map, out).understand(bytes);
  return out;
}

bool is_tidy_head(std::string_view first_line) {
  const auto grid = read_grid(first_line.substr(0, first_line.find('\n')));
  if (!grid) return false;
  std::set<std::string_view> needed{"run", "cuts", "reading", "unit"}, known;
  for (const auto& name : grid->rows.front().cells)
    for (const auto& [tidy, column] : kKnown)
      if (tidy == name) known.insert(tidy);
  for (const auto& name : grid->rows.front().cells) {
    needed.erase(name);
    if (known.contains(name)) continue;
    // A name that may be meant for a known column that is not there is no factor until somebody
    // says so.
    const HeadGuess guess = guess_head(name);
    if (guess.sure > 0 && guess.meaning != Meaning::skip && !known.contains(name_of(guess.meaning)))
      return false;
  }
  return needed.empty();
}

}  // namespace bq::inline store
