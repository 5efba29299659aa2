// What the columns of a table mean, how it is laid out, which sign is decimal: what is decided on
// the whole table.
#include <algorithm>

#include "edge/grit.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "quantity/wording.h"
#include "store/readings_columns.h"
#include "store/table_understanding.h"

namespace bq::inline store::understanding {
namespace {

constexpr std::size_t kHeadWithin = 40;
/// Per side no ground edge is as blunt: a larger angle was meant inclusive, or is asked about.
constexpr double kSteepPerSide_deg = 27;

}  // namespace

bool says_of_run(Meaning m) {
  if (m == Meaning::run || m == Meaning::factor) return true;
  for (const auto& [name, column] : kKnown)
    if (name == name_of(m)) return belongs_to_run(column);
  return false;
}

bool is_angle(Meaning m) { return m == Meaning::edge_angle || m == Meaning::micro_angle; }

/// Lines as "3, 5 and 12 more".
std::string lines_in_words(const std::vector<std::uint64_t>& lines) {
  std::vector<std::string> numbers;
  for (const auto line : lines) numbers.push_back(std::to_string(line));
  return (lines.size() == 1 ? said("line ") : said("lines ")) + first_few(numbers, 3);
}

std::optional<std::size_t> Understanding::head_of(const TableGrid& grid) const {
  for (std::size_t r = 0; r < grid.rows.size() && r < kHeadWithin; ++r) {
    int known = 0, across = 0, filled = 0;
    bool cuts_first = false;
    for (std::size_t c = 0; c < grid.rows[r].cells.size(); ++c) {
      const std::string& text = grid.rows[r].cells[c];
      if (text.empty()) continue;
      ++filled;
      const HeadGuess guess = guess_head(text);
      if (cuts_in_head(text) && guess.sure < 1) {
        ++across;
        continue;
      }
      known += guess.sure >= 0.5 || map_.columns.contains(text);
      cuts_first =
          cuts_first || (filled == 1 && guess.meaning == Meaning::cuts && guess.sure >= 0.5);
    }
    if (known >= 2 || (known >= 1 && across >= 2) || (cuts_first && filled >= 2)) return r;
  }
  return std::nullopt;
}

void Understanding::name_columns() {
  const auto& head = grid_.rows[head_];
  std::size_t width = head.cells.size();
  for (const auto& row : grid_.rows) width = std::max(width, row.cells.size());
  std::set<std::string> seen;
  for (std::size_t c = 0; c < width; ++c) {
    const std::string name = c < head.cells.size() ? head.cells[c] : "";
    if (name.empty()) {
      std::vector<std::uint64_t> lines;
      for (std::size_t r = head_ + 1; r < grid_.rows.size(); ++r)
        if (c < grid_.rows[r].cells.size() && !grid_.rows[r].cells[c].empty())
          lines.push_back(grid_.rows[r].line);
      if (!lines.empty())
        out_.notes.push_back(
            said("column {c} has no head and is left out ({lines_in_words})",
                 {{"c", std::to_string(c + 1)}, {"lines_in_words", lines_in_words(lines)}}));
      continue;
    }
    if (!seen.insert(name).second) {
      problem(head.line, c, said("the column {shown} is there twice", {{"shown", shown(name)}}));
      continue;
    }
    Column column{c, name, guess_head(name), false, std::nullopt, '.', false};
    if (const auto stated = map_.columns.find(name); stated != map_.columns.end()) {
      // What only a list has ("note") is left out of a table of readings.
      const auto meant = parse_sided_meaning(stated->second).value_or(SidedMeaning{Meaning::skip});
      column.guess.meaning = meant.meaning;
      if (meant.side != TableSide::both) column.guess.side = meant.side;
      column.guess.sure = 1;
      column.from_map = true;
    } else if (column.guess.sure < 1) {
      column.across = cuts_in_head(name);
    }
    columns_.push_back(std::move(column));
  }
}

bool Understanding::find_shape() {
  const auto readings = std::count_if(columns_.begin(), columns_.end(), [](const Column& c) {
    return c.guess.meaning == Meaning::reading;
  });
  const auto across = std::count_if(columns_.begin(), columns_.end(),
                                    [](const Column& c) { return c.across.has_value(); });
  const Column* cuts = one(Meaning::cuts);
  if (!cuts && across >= 2) {
    out_.shape = TableShape::run_per_row;
    for (auto& column : columns_)
      if (column.across) column.guess.meaning = Meaning::reading;
    return true;
  }
  for (auto& column : columns_) column.across.reset();
  if (!cuts) {
    std::vector<std::string> heads;
    for (const auto& column : columns_) heads.push_back(column.name);
    ask("columns",
        "No column counts the cuts. Which one does? Say it in the map: "
        "{\"columns\":{\"its head\":\"cuts\"}}",
        heads);
    return false;
  }
  if (readings == 0 && !one(Meaning::run) && cuts->at == columns_.front().at &&
      columns_.size() >= 2) {
    out_.shape = TableShape::run_per_column;
    for (auto& column : columns_)
      if (&column != &columns_.front()) column.guess.meaning = Meaning::reading;
    return true;
  }
  if (readings == 0) {
    std::vector<std::string> heads;
    for (const auto& column : columns_)
      if (column.guess.sure < 1) heads.push_back(column.name);
    ask("columns",
        "No column holds the readings. Which one does? Say it in the map: "
        "{\"columns\":{\"its head\":\"reading\"}}",
        heads);
    return false;
  }
  out_.shape = readings > 1 ? TableShape::repeats : TableShape::long_rows;
  return true;
}

void Understanding::ask_about_columns() {
  std::map<std::string, const Column*> taken;
  for (const auto& column : columns_) {
    const bool run_column =
        out_.shape == TableShape::run_per_column && &column != &columns_.front();
    if (run_column || column.across) continue;
    const HeadGuess& guess = column.guess;
    if (guess.sure > 0 && guess.sure < 0.9)
      ask("columns." + column.name,
          said("The column {shown} is near to \"{near}\". Is it that ({meaning}), a factor of your "
               "own, or nothing to take?",
               {{"shown", shown(column.name)},
                {"near", guess.near},
                {"meaning", std::string(name_of(guess.meaning))}}),
          {std::string(name_of(guess.meaning)), "factor", "skip"});
    if (guess.meaning == Meaning::factor || guess.meaning == Meaning::skip ||
        guess.meaning == Meaning::reading)
      continue;
    const std::string key = guess.tidy_name();
    if (const auto [before, fresh] = taken.try_emplace(key, &column); !fresh)
      ask("columns." + column.name,
          said("Both {shown} and {shown_2} look like {key}. What is the second?",
               {{"shown", shown(before->second->name)},
                {"shown_2", shown(column.name)},
                {"key", key}}),
          {"factor", "skip"});
  }
}

void Understanding::pick_rows() {
  for (std::size_t r = head_ + 1; r < grid_.rows.size(); ++r) {
    const auto& row = grid_.rows[r];
    if (row.blank()) continue;
    std::size_t filled = 0, first = row.cells.size();
    for (std::size_t c = 0; c < row.cells.size(); ++c)
      if (!row.cells[c].empty()) {
        ++filled;
        first = std::min(first, c);
      }
    const auto column = std::find_if(columns_.begin(), columns_.end(),
                                     [&](const Column& c) { return c.at == first; });
    if (is_example_row(row.cells[first])) {
      left_out_[said("the example of the template")].push_back(row.line);
      continue;
    }
    const bool counts = column != columns_.end() && column->guess.meaning == Meaning::cuts;
    if (!counts && is_summary_word(row.cells[first])) {
      left_out_[said("sums and means")].push_back(row.line);
      continue;
    }
    const bool says_something = column != columns_.end() && says_of_run(column->guess.meaning) &&
                                !column->across && column->guess.meaning != Meaning::factor &&
                                out_.shape == TableShape::long_rows;
    if (filled == 1 && columns_.size() >= 3 && !counts && !says_something) {
      left_out_[said("notes between the rows")].push_back(row.line);
      continue;
    }
    rows_.push_back(&row);
  }
  if (head_ > 0) {
    std::vector<std::uint64_t> above;
    for (std::size_t r = 0; r < head_; ++r)
      if (!grid_.rows[r].blank()) above.push_back(grid_.rows[r].line);
    if (!above.empty()) left_out_[said("titles above the head")] = above;
  }
  // A column that is written in fewer than half of the rows, the first among them, is written where
  // it changes.
  std::string carried;
  for (auto& column : columns_) {
    if (!says_of_run(column.guess.meaning) || column.across || rows_.empty()) continue;
    const auto filled = std::count_if(rows_.begin(), rows_.end(),
                                      [&](const auto* row) { return !cell(*row, column).empty(); });
    column.sparse = !cell(*rows_.front(), column).empty() && 2 * std::size_t(filled) < rows_.size();
    if (column.sparse) carried += (carried.empty() ? "" : ", ") + shown(column.name);
  }
  if (!carried.empty())
    out_.notes.push_back(
        said("written only where it changes, carried down: {carried}", {{"carried", carried}}));
}

void Understanding::look_at_values() {
  if (out_.shape == TableShape::run_per_column) return;
  const auto all_are = [&](const Column& column, const auto& is) {
    std::size_t filled = 0;
    for (const auto* row : rows_) {
      const std::string& text = cell(*row, column);
      if (is_no_value(text)) continue;
      if (!is(text)) return false;
      ++filled;
    }
    return filled > 0;
  };
  for (auto& column : columns_) {
    if (column.guess.meaning != Meaning::factor || column.from_map) continue;
    const std::string key = "columns." + column.name;
    if (!one(Meaning::unit) &&
        all_are(column, [](const auto& t) { return unit_in(t).has_value(); })) {
      column.guess.meaning = Meaning::unit;  // "gf", "N": nothing else is meant by them
      column.guess.sure = 0.9;
    } else if (all_are(column, is_date_cell)) {
      ask(key,
          said("{shown} holds days or times. Is each a block of its own (what was done on one day "
               "is more alike), a factor of your own, or nothing to take?",
               {{"shown", shown(column.name)}}),
          {"block", "factor", "skip"});
    } else if (all_are(column, [](const auto& t) {
                 const auto value = number_cell(t);
                 return value && !value->rest.empty() && unit_in(value->rest).has_value();
               })) {
      ask(key,
          said("{shown} holds numbers with the unit of a reading. Are they readings, a factor of "
               "your own, or nothing to take?",
               {{"shown", shown(column.name)}}),
          {"reading", "factor", "skip"});
    } else if (!one(Meaning::finish) &&
               all_are(column, [](const auto& t) { return parse_grit(t).ok(); })) {
      ask(key,
          said("{shown} holds grit designations. Is that the edge's finish, a factor of your own, "
               "or nothing to take?",
               {{"shown", shown(column.name)}}),
          {"finish_um", "factor", "skip"});
    }
  }
}

void Understanding::decide_signs() {
  const bool runs_down = out_.shape == TableShape::run_per_column;
  std::vector<std::string> all;
  std::vector<std::pair<Column*, DecimalSign>> open;
  for (auto& column : columns_) {
    const Meaning m = column.guess.meaning;
    const bool numbers = column.across || runs_down || m == Meaning::cuts ||
                         m == Meaning::reading || is_angle(m) || m == Meaning::finish ||
                         m == Meaning::factor;
    if (!numbers) continue;
    std::vector<std::string> texts;
    for (const auto* row : rows_)
      if (const auto value = number_cell(cell(*row, column)))
        if (m != Meaning::factor || value->rest.empty()) texts.push_back(value->number);
    if (m != Meaning::factor) all.insert(all.end(), texts.begin(), texts.end());
    const DecimalSign sign = decimal_sign_of(texts);
    if (sign.contradicts && m != Meaning::factor) {
      problem(grid_.rows[head_].line, column.at,
              said("in {shown} both the point and the comma are decimal signs somewhere: write it "
                   "with one",
                   {{"shown", shown(column.name)}}));
      continue;
    }
    if (sign.sign)
      column.decimal = sign.sign;
    else if (sign.ambiguous)
      open.emplace_back(&column, sign);
  }
  if (open.empty()) return;
  const DecimalSign table = decimal_sign_of(all);
  for (auto& [column, sign] : open) {
    if (!map_.decimal.empty()) {
      column->decimal = map_.decimal[0];
    } else if (table.sign) {
      column->decimal = table.sign;
    } else {
      ask("decimal",
          said("{shown} in {shown_2} can be a number with three decimals or one of thousands, and "
               "nothing else in the table tells. Which sign is the decimal one?",
               {{"shown", shown(sign.example)}, {"shown_2", shown(column->name)}}),
          {".", ","});
    }
  }
}

void Understanding::decide_convention() {
  const Column* asked = nullptr;
  double steepest = 0;
  bool said_inclusive = false, said_per_side = false, tidy_name = true;
  for (const auto& column : columns_) {
    if (!is_angle(column.guess.meaning)) continue;
    if (column.guess.convention == SaidConvention::inclusive) {
      said_inclusive = true;
      continue;
    }
    if (column.guess.convention == SaidConvention::per_side ||
        column.guess.side != TableSide::both) {
      said_per_side = true;
      continue;
    }
    asked = &column;
    tidy_name = tidy_name && (column.name == "edge_angle" || column.name == "micro_angle");
    for (const auto* row : rows_)
      if (const auto value = number_cell(cell(*row, column)))
        steepest = std::max(steepest, number_by(value->number, column.decimal).value_or(0));
  }
  inclusive_ = said_inclusive;
  if (said_inclusive && said_per_side)
    problem(grid_.rows[head_].line, 0, said("some angles are said per side and some inclusive"));
  if (!asked || said_inclusive || said_per_side) return;
  if (!map_.angles.empty()) {
    inclusive_ = map_.angles == "inclusive";
    return;
  }
  if (tidy_name && steepest <= kSteepPerSide_deg) return;
  ask("angles",
      said("Are the angles in {shown} (up to {steepest}°) per side or inclusive, both sides "
           "together?",
           {{"shown", shown(asked->name)}, {"steepest", print_number(steepest, 4)}}),
      {"per side", "inclusive"});
}

void Understanding::list_columns() {
  const bool runs_down = out_.shape == TableShape::run_per_column;
  for (const auto& column : columns_) {
    TableColumn stated{column.name, column.guess.tidy_name(), column.guess.unit, column.guess.sure};
    if (column.across) {
      stated.meaning = said("reading at {exact} cuts", {{"exact", exact(*column.across)}});
      stated.sure = 0.9;
    } else if (runs_down && &column != &columns_.front()) {
      stated.meaning = said("readings of a run");
      stated.sure = 0.9;
    } else if (column.guess.meaning == Meaning::factor && !column.from_map) {
      out_.unknown.push_back(column.name);
    } else if (column.guess.meaning == Meaning::skip && !column.from_map) {
      out_.notes.push_back(said("left out: the column {shown}", {{"shown", shown(column.name)}}));
    }
    out_.columns.push_back(std::move(stated));
  }
}

}  // namespace bq::inline store::understanding
