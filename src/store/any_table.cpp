#include "store/any_table.h"

#include <algorithm>

#include "quantity/csv_cell.h"
#include "store/readings_columns.h"
#include "store/table_understanding.h"

namespace bq::inline store {
namespace understanding {
void Understanding::note_left_out() {
  for (const auto& [what, lines] : left_out_)
    out_.notes.push_back("left out: " + what + " (" + lines_in_words(lines) + ")");
  if (grid_.encoding != "UTF-8") out_.notes.push_back("read as " + grid_.encoding);
  if (inclusive_) out_.notes.emplace_back("angles are inclusive: halved to degrees per side");
}

void Understanding::understand(std::string_view bytes) {
  auto grid = read_grid(bytes);
  if (!grid) {
    problem(1, 0, grid.refusal().reason);
    return;
  }
  grid_ = std::move(*grid);
  if (!find_head()) return;
  name_columns();
  const bool shaped = find_shape();
  ask_about_columns();
  list_columns();
  if (!shaped || !out_.problems.empty()) return;
  pick_rows();
  decide_signs();
  if (out_.shape != TableShape::run_per_column) decide_convention();
  // What is asked already may stand in the way of reading the rows; the rest is asked with it.
  if (out_.shape == TableShape::run_per_column)
    write_columns_as_runs();
  else
    write_rows();
  note_left_out();
  if (out_.readings == 0 && out_.problems.empty() && out_.questions.empty())
    problem(grid_.rows[head_].line, 0, "there is a head but no reading");
  out_.runs = std::int64_t(run_names_.size());
  if (!out_.problems.empty() || !out_.questions.empty()) return;
  std::vector<std::string> heads{"run", "cuts", "reading", "unit"};
  std::set<std::string> known(heads.begin(), heads.end());
  for (const auto& [line, facts] : tidy_rows_)
    for (const auto& [key, value] : facts)
      if (known.insert(key).second) heads.push_back(key);
  const auto add_line = [&](std::uint64_t line, const auto& text_of) {
    std::string text;
    for (const auto& head : heads) text += (text.empty() ? "" : ",") + csv_cell(text_of(head));
    out_.tidy += text + '\n';
    out_.lines.push_back(line);
  };
  add_line(grid_.rows[head_].line, [](const std::string& head) { return head; });
  for (const auto& [line, facts] : tidy_rows_)
    add_line(line, [&](const std::string& head) {
      const auto found = facts.find(head);
      return found == facts.end() ? std::string() : found->second;
    });
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
