#include "store/any_table.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>
#include <set>

#include "edge/grit.h"
#include "quantity/measure.h"
#include "quantity/number.h"
#include "store/number_column.h"
#include "store/readings_columns.h"
#include "store/table_grid.h"
#include "trial/trial.h"

namespace bq::inline store {
namespace {

constexpr std::size_t kMostProblems = 50, kHeadWithin = 40;
/// Per side no ground edge is as blunt: a larger angle was meant inclusive, or is asked about.
constexpr double kSteepPerSide_deg = 27;

bool says_of_run(Meaning m) {
  switch (m) {
    case Meaning::run:
    case Meaning::blade:
    case Meaning::steel:
    case Meaning::edge_angle:
    case Meaning::micro_angle:
    case Meaning::finish:
    case Meaning::medium:
    case Meaning::cut_mode:
    case Meaning::block:
    case Meaning::factor:
      return true;
    default:
      return false;
  }
}

bool is_angle(Meaning m) { return m == Meaning::edge_angle || m == Meaning::micro_angle; }

struct Column {
  std::size_t at = 0;  ///< cell
  std::string name;
  HeadGuess guess;
  bool from_map = false;
  std::optional<double> across;  ///< cuts that the head counts
  char decimal = '.';
  bool sparse = false;  ///< written only where it changes
};

/// "g" on a gauge is a gram of force.
std::optional<Unit> unit_in(std::string_view text) {
  static const std::set<std::string, std::less<>> kGrams{"g",     "gr",      "gram",  "grams",
                                                         "gramm", "grammes", "gramos"};
  const std::string plain = plain_words(text);
  if (kGrams.contains(plain)) return Unit::gf;
  if (plain == "newton" || plain == "newtons") return Unit::N;
  const auto unit = parse_unit(text);
  if (!unit || *unit == Unit::um || *unit == Unit::thou) return std::nullopt;
  return *unit;
}

std::string quoted(const std::string& text) {
  if (text.find_first_of(",\"\r\n") == std::string::npos) return text;
  std::string out = "\"";
  for (const char c : text) {
    out += c;
    if (c == '"') out += '"';
  }
  return out + '"';
}

std::string exact(double value) { return print_number(value, 15); }

std::string mode_word(const std::string& cell) {
  static const std::map<std::string, std::string, std::less<>> kModes{
      {"slicing", "slice"}, {"sliced", "slice"},      {"slice", "slice"},       {"draw", "slice"},
      {"ziehend", "slice"}, {"ziehschnitt", "slice"}, {"push", "push"},         {"pushing", "push"},
      {"pushed", "push"},   {"press", "push"},        {"druckschnitt", "push"}, {"chop", "chop"},
      {"chopping", "chop"}, {"hacken", "chop"}};
  const auto found = kModes.find(plain_words(cell));
  return found == kModes.end() ? cell : found->second;
}

std::string excluded_word(const std::string& cell) {
  static const std::set<std::string, std::less<>> kYes{"1",  "yes", "y",   "x",  "true",
                                                       "ja", "j",   "oui", "si", "はい"};
  static const std::set<std::string, std::less<>> kNo{"0", "no", "n", "false", "nein", "non", ""};
  const std::string plain = plain_words(cell);
  return kYes.contains(plain) ? "1" : kNo.contains(plain) ? "0" : cell;
}

/// Lines as "3, 5 and 12 more".
std::string lines_in_words(const std::vector<std::uint64_t>& lines) {
  std::string out;
  for (std::size_t i = 0; i < lines.size() && i < 3; ++i)
    out += (i ? ", " : "") + std::to_string(lines[i]);
  if (lines.size() > 3) out += " and " + std::to_string(lines.size() - 3) + " more";
  return (lines.size() == 1 ? "line " : "lines ") + out;
}

class Understanding {
 public:
  Understanding(const TableMap& map, AnyTable& out) : map_(map), out_(out) {}
  void understand(std::string_view bytes);

 private:
  const TableMap& map_;
  AnyTable& out_;
  TableGrid grid_;
  std::size_t head_ = 0;
  std::vector<Column> columns_;
  std::vector<std::string> factors_;
  /// Data rows in order, without blank ones, sums and notes.
  std::vector<const TableGrid::Row*> rows_;
  bool inclusive_ = false;

  // Left out, by what they are, with their lines.
  std::map<std::string, std::vector<std::uint64_t>> left_out_;

  void problem(std::uint64_t line, std::size_t cell, const std::string& what) {
    if (out_.problems.size() < kMostProblems)
      out_.problems.push_back(std::to_string(line) + ":" + std::to_string(cell + 1) + ": " + what);
  }
  void ask(const std::string& key, const std::string& sentence,
           const std::vector<std::string>& choices) {
    for (const auto& question : out_.questions)
      if (question.key == key) return;
    out_.questions.push_back({key, sentence, choices});
  }
  static const std::string& cell(const TableGrid::Row& row, const Column& column) {
    static const std::string kNothing;
    return column.at < row.cells.size() ? row.cells[column.at] : kNothing;
  }
  [[nodiscard]] std::vector<Column*> with(Meaning meaning) {
    std::vector<Column*> out;
    for (auto& column : columns_)
      if (column.guess.meaning == meaning && !column.across) out.push_back(&column);
    return out;
  }
  [[nodiscard]] Column* one(Meaning meaning) {
    const auto found = with(meaning);
    return found.empty() ? nullptr : found.front();
  }

  bool find_head();
  void name_columns();
  bool find_shape();
  void ask_about_columns();
  void pick_rows();
  void decide_signs();
  void decide_convention();
  void note_left_out();
  void list_columns();

  std::optional<double> number(const TableGrid::Row& row, const Column& column,
                               const std::string& text);
  std::optional<std::string> finish_um(const TableGrid::Row& row, const Column& column,
                                       const std::string& text);
  std::optional<Unit> unit_of(const TableGrid::Row& row, const Column& column,
                              const NumberCell& value);

  using Facts = std::map<std::string, std::string>;  ///< tidy column → cell
  void add_fact(const TableGrid::Row& row, const Column& column, const std::string& text,
                Facts& facts);
  void add_reading(const TableGrid::Row& row, const Column& column, double cuts, Facts facts);
  void write_rows();
  void write_columns_as_runs();
  std::string run_name(const TableGrid::Row& row, const Facts& facts, double cuts);
  std::optional<double> last_cuts_;
  int counted_runs_ = 0;
  std::set<std::string> run_names_;
  std::vector<std::pair<std::uint64_t, Facts>> tidy_rows_;
};

bool Understanding::find_head() {
  for (std::size_t r = 0; r < grid_.rows.size() && r < kHeadWithin; ++r) {
    int known = 0, across = 0, filled = 0;
    bool cuts_first = false;
    for (std::size_t c = 0; c < grid_.rows[r].cells.size(); ++c) {
      const std::string& text = grid_.rows[r].cells[c];
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
    if (known >= 2 || (known >= 1 && across >= 2) || (cuts_first && filled >= 2)) {
      head_ = r;
      return true;
    }
  }
  problem(grid_.rows.front().line, 0,
          "no row names the columns: one row above the numbers must say which is which, at least "
          "the cuts and the reading");
  return false;
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
        out_.notes.push_back("column " + std::to_string(c + 1) + " has no head and is left out (" +
                             lines_in_words(lines) + ")");
      continue;
    }
    if (!seen.insert(name).second) {
      problem(head.line, c, "the column " + shown(name) + " is there twice");
      continue;
    }
    Column column{c, name, guess_head(name), false, std::nullopt, '.', false};
    if (const auto said = map_.columns.find(name); said != map_.columns.end()) {
      std::string meaning = said->second;
      for (const auto& [end, side] :
           {std::pair{"_left", TableSide::left}, std::pair{"_right", TableSide::right}})
        if (meaning.ends_with(end)) {
          meaning.erase(meaning.size() - std::string_view(end).size());
          column.guess.side = side;
        }
      column.guess.meaning = *parse_meaning(meaning);
      column.guess.sure = 1;
      column.from_map = true;
    } else if (column.guess.sure < 1) {
      column.across = cuts_in_head(name);
    }
    columns_.push_back(std::move(column));
  }
}

bool Understanding::find_shape() {
  const std::size_t readings = with(Meaning::reading).size();
  const auto across = std::count_if(columns_.begin(), columns_.end(),
                                    [](const Column& c) { return c.across.has_value(); });
  const Column* cuts = one(Meaning::cuts);
  if (!cuts && across >= 2) {
    out_.shape = TableShape::run_per_row;
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
          "The column " + shown(column.name) + " is near to \"" + guess.near + "\". Is it that (" +
              std::string(name_of(guess.meaning)) + "), a factor of your own, or nothing to take?",
          {std::string(name_of(guess.meaning)), "factor", "skip"});
    if (guess.meaning == Meaning::factor || guess.meaning == Meaning::skip ||
        guess.meaning == Meaning::reading)
      continue;
    const std::string key =
        std::string(name_of(guess.meaning)) + (guess.side == TableSide::left    ? "_left"
                                               : guess.side == TableSide::right ? "_right"
                                                                                : "");
    if (const auto [before, fresh] = taken.try_emplace(key, &column); !fresh)
      ask("columns." + column.name,
          "Both " + shown(before->second->name) + " and " + shown(column.name) + " look like " +
              key + ". What is the second?",
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
    const bool counts = column != columns_.end() && column->guess.meaning == Meaning::cuts;
    if (!counts && is_summary_word(row.cells[first])) {
      left_out_["sums and means"].push_back(row.line);
      continue;
    }
    const bool says_something = column != columns_.end() && says_of_run(column->guess.meaning) &&
                                !column->across && column->guess.meaning != Meaning::factor &&
                                out_.shape == TableShape::long_rows;
    if (filled == 1 && columns_.size() >= 3 && !counts && !says_something) {
      left_out_["notes between the rows"].push_back(row.line);
      continue;
    }
    rows_.push_back(&row);
  }
  if (head_ > 0) {
    std::vector<std::uint64_t> above;
    for (std::size_t r = 0; r < head_; ++r)
      if (!grid_.rows[r].blank()) above.push_back(grid_.rows[r].line);
    if (!above.empty()) left_out_["titles above the head"] = above;
  }
  // A column that is written in fewer than half of the rows, the first among them, is written where
  // it changes.
  for (auto& column : columns_) {
    if (!says_of_run(column.guess.meaning) || column.across || rows_.empty()) continue;
    const auto filled = std::count_if(rows_.begin(), rows_.end(),
                                      [&](const auto* row) { return !cell(*row, column).empty(); });
    column.sparse = !cell(*rows_.front(), column).empty() && 2 * std::size_t(filled) < rows_.size();
    if (column.sparse)
      out_.notes.push_back(shown(column.name) + " is written where it changes: it is carried down");
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
              "in " + shown(column.name) +
                  " both the point and the comma are decimal signs somewhere: write it with one");
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
          shown(sign.example) + " in " + shown(column->name) +
              " can be a number with three decimals or one of thousands, and nothing else in the "
              "table tells. Which sign is the decimal one?",
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
    problem(grid_.rows[head_].line, 0, "some angles are said per side and some inclusive");
  if (!asked || said_inclusive || said_per_side) return;
  if (!map_.angles.empty()) {
    inclusive_ = map_.angles == "inclusive";
    return;
  }
  if (tidy_name && steepest <= kSteepPerSide_deg) return;
  ask("angles",
      "Are the angles in " + shown(asked->name) + " (up to " + print_number(steepest, 4) +
          "°) per side or inclusive, both sides together?",
      {"per side", "inclusive"});
}

std::optional<double> Understanding::number(const TableGrid::Row& row, const Column& column,
                                            const std::string& text) {
  const auto value = number_cell(text);
  const auto parsed = value ? number_by(value->number, column.decimal) : std::nullopt;
  if (!parsed)
    problem(row.line, column.at, "no number in " + shown(column.name) + ": " + shown(text));
  return parsed;
}

std::optional<std::string> Understanding::finish_um(const TableGrid::Row& row, const Column& column,
                                                    const std::string& text) {
  if (const auto grit = parse_grit(text)) return exact(grit->mean_um);
  const auto value = number_cell(text);
  if (!value) {
    problem(row.line, column.at,
            "no particle size in " + shown(column.name) + ": " + shown(text) +
                " (µm, or P, F, JIS, ANSI with a number)");
    return std::nullopt;
  }
  const auto parsed = number_by(value->number, column.decimal);
  if (!parsed) return std::nullopt;
  const auto is_um = [](std::string_view unit) {
    const std::string plain = plain_words(unit);
    return plain == "um" || plain == "micron" || plain == "microns";
  };
  if (is_um(value->rest) || is_um(column.guess.unit) || column.name == "finish_um" ||
      map_.grit == "um")
    return exact(*parsed);
  if (!map_.grit.empty()) {
    const auto grit = parse_grit(map_.grit + " " + exact(*parsed));
    if (grit) return exact(grit->mean_um);
    problem(row.line, column.at, grit.refusal().reason);
    return std::nullopt;
  }
  ask("grit",
      "What are the numbers in " + shown(column.name) + " (" + shown(text) +
          "): particle sizes in µm, or grit numbers, and by which standard?",
      {"um", "P", "F", "JIS", "ANSI"});
  return std::nullopt;
}

std::optional<Unit> Understanding::unit_of(const TableGrid::Row& row, const Column& column,
                                           const NumberCell& value) {
  const auto said = [&](const std::string& text, std::size_t at) -> std::optional<Unit> {
    const auto unit = unit_in(text);
    if (!unit)
      problem(row.line, at, shown(text) + " is no unit of a reading (gf, N, lbf, ozf, mm, in)");
    return unit;
  };
  if (!value.rest.empty()) return said(value.rest, column.at);
  if (const Column* units = one(Meaning::unit))
    if (const std::string& text = cell(row, *units); !text.empty()) return said(text, units->at);
  if (!column.guess.unit.empty())
    if (const auto unit = unit_in(column.guess.unit)) return unit;
  if (!map_.unit.empty()) return unit_in(map_.unit);
  ask("unit", "In which unit are the readings in " + shown(column.name) + "?",
      {"gf", "N", "lbf", "ozf", "mm", "in"});
  return std::nullopt;
}

void Understanding::add_fact(const TableGrid::Row& row, const Column& column,
                             const std::string& text, Facts& facts) {
  if (text.empty() || is_no_value(text)) return;
  const HeadGuess& guess = column.guess;
  const std::string side = guess.side == TableSide::left    ? "_left"
                           : guess.side == TableSide::right ? "_right"
                                                            : "";
  switch (guess.meaning) {
    case Meaning::edge_angle:
    case Meaning::micro_angle:
      if (const auto value = number(row, column, text))
        facts[std::string(name_of(guess.meaning)) + side] = exact(inclusive_ ? *value / 2 : *value);
      break;
    case Meaning::finish:
      if (const auto um = finish_um(row, column, text)) facts["finish_um" + side] = *um;
      break;
    case Meaning::cut_mode:
      facts["cut_mode"] = mode_word(text);
      break;
    case Meaning::excluded:
      facts["excluded"] = excluded_word(text);
      break;
    case Meaning::factor: {
      const auto value = number_cell(text);
      const auto parsed =
          value && value->rest.empty() ? number_by(value->number, column.decimal) : std::nullopt;
      // "007" is a word; so is what has figures and letters.
      facts[column.name] = parsed && !(value->number.size() > 1 && value->number[0] == '0' &&
                                       value->number[1] != '.' && value->number[1] != ',')
                               ? exact(*parsed)
                               : text;
      break;
    }
    default:
      facts[std::string(name_of(guess.meaning))] = text;
  }
}

void Understanding::add_reading(const TableGrid::Row& row, const Column& column, double cuts,
                                Facts facts) {
  const std::string& text = cell(row, column);
  if (is_no_value(text)) {
    if (!text.empty()) left_out_["cells that say there is no reading"].push_back(row.line);
    return;
  }
  const auto value = number_cell(text);
  if (!value) {
    problem(row.line, column.at, "no number in " + shown(column.name) + ": " + shown(text));
    return;
  }
  if (value->beyond) {
    left_out_
        ["readings past what the gauge shows (\">\" or \"<\"): they are no numbers, and leaving "
         "them out makes edges look better than they are"]
            .push_back(row.line);
    return;
  }
  const auto reading = number_by(value->number, column.decimal);
  if (!reading) {
    problem(row.line, column.at, "no number in " + shown(column.name) + ": " + shown(text));
    return;
  }
  const auto unit = unit_of(row, column, *value);
  if (!unit) return;
  if (cuts < 0 || cuts != std::floor(cuts)) {
    problem(row.line, column.at, "cuts must be a whole number, 0 or more: " + exact(cuts));
    return;
  }
  facts["cuts"] = exact(cuts);
  facts["reading"] = exact(*reading);
  facts["unit"] = std::string(sign_of(*unit));
  tidy_rows_.emplace_back(row.line, std::move(facts));
  ++out_.readings;
}

/// A name for a run that none is given for.
std::string Understanding::run_name(const TableGrid::Row& row, const Facts& facts, double cuts) {
  if (out_.shape == TableShape::run_per_row) {
    const auto blade = facts.find("blade");
    std::string name = blade == facts.end() ? "row " + std::to_string(row.line) : blade->second;
    if (run_names_.contains(name)) name += ", row " + std::to_string(row.line);
    return name;
  }
  // A run ends where the cuts go back.
  if (!last_cuts_ || cuts < *last_cuts_) ++counted_runs_;
  last_cuts_ = cuts;
  return "run " + std::to_string(counted_runs_);
}

void Understanding::write_rows() {
  const Column* cuts_column = one(Meaning::cuts);
  Facts carried;
  const bool names_runs = one(Meaning::run) != nullptr;
  std::map<std::string, double> last_of_blade;
  for (const auto* row : rows_) {
    Facts facts;
    for (const auto& column : columns_) {
      if (column.across || column.guess.meaning == Meaning::skip ||
          column.guess.meaning == Meaning::cuts || column.guess.meaning == Meaning::reading ||
          column.guess.meaning == Meaning::unit)
        continue;
      const std::string& text = cell(*row, column);
      Facts own;
      add_fact(*row, column, text, own);
      if (own.empty() && column.sparse && text.empty()) {
        for (const auto& [key, value] : carried)
          if (key == column.name)
            facts[value.substr(0, value.find('\n'))] = value.substr(value.find('\n') + 1);
        continue;
      }
      for (const auto& [key, value] : own) {
        if (column.sparse) carried[column.name] = key + "\n" + value;
        facts[key] = value;
      }
    }
    double cuts = 0;
    if (cuts_column) {
      const std::string& text = cell(*row, *cuts_column);
      bool any = false;
      for (const auto& column : columns_)
        any = any || (column.guess.meaning == Meaning::reading && !cell(*row, column).empty());
      if (text.empty() && !any) continue;  // says something of the run only
      const auto value = number(*row, *cuts_column, text);
      if (!value) continue;
      cuts = *value;
    }
    if (names_runs && !facts.contains("run")) {
      problem(row->line, one(Meaning::run)->at, "the run is not named");
      continue;
    }
    if (!names_runs) {
      const auto blade = facts.find("blade");
      const bool by_blade = blade != facts.end() && out_.shape != TableShape::run_per_row;
      // Each blade is one run as long as its cuts go up.
      if (by_blade) {
        const auto last = last_of_blade.find(blade->second);
        if (last != last_of_blade.end() && cuts < last->second)
          ask("columns",
              "No column names the runs, and the cuts of blade " + shown(blade->second) +
                  " go back in line " + std::to_string(row->line) +
                  ". Which column tells its runs apart?",
              {});
        last_of_blade[blade->second] = cuts;
        facts["run"] = blade->second;
      } else {
        facts["run"] = run_name(*row, facts, cuts);
      }
    }
    run_names_.insert(facts["run"]);
    for (const auto& column : columns_)
      if (column.across)
        add_reading(*row, column, *column.across, facts);
      else if (column.guess.meaning == Meaning::reading)
        add_reading(*row, column, cuts, facts);
  }
  if (!names_runs)
    out_.notes.push_back(one(Meaning::blade) && out_.shape != TableShape::run_per_row
                             ? "no column names the runs: each blade is one run"
                             : "no column names the runs: they are named by " +
                                   std::string(out_.shape == TableShape::run_per_row
                                                   ? "blade or row"
                                                   : "number, a new one where the cuts go back"));
}

void Understanding::write_columns_as_runs() {
  const Column& cuts_column = columns_.front();
  std::map<std::size_t, Facts> facts;
  for (std::size_t i = 1; i < columns_.size(); ++i) facts[i]["run"] = columns_[i].name;
  for (const auto* row : rows_) {
    const std::string& text = cell(*row, cuts_column);
    if (!number_cell(text)) {
      // A line of facts: "steel | Marl | Cairn".
      Column said = cuts_column;
      said.guess = guess_head(text);
      said.name = text;
      if (said.guess.sure < 0.9 || !says_of_run(said.guess.meaning)) {
        problem(row->line, cuts_column.at, "no count of cuts: " + shown(text));
        continue;
      }
      if (is_angle(said.guess.meaning) && said.guess.convention == SaidConvention::none &&
          map_.angles.empty()) {
        ask("angles",
            "Are the angles in line " + std::to_string(row->line) +
                " per side or inclusive, both sides together?",
            {"per side", "inclusive"});
        continue;
      }
      const bool before = inclusive_;
      inclusive_ = said.guess.convention == SaidConvention::inclusive ||
                   (said.guess.convention == SaidConvention::none && map_.angles == "inclusive");
      for (std::size_t i = 1; i < columns_.size(); ++i) {
        Column here = said;
        here.at = columns_[i].at;
        here.decimal = columns_[i].decimal;
        add_fact(*row, here, cell(*row, here), facts[i]);
      }
      inclusive_ = before;
      continue;
    }
    const auto cuts = number(*row, cuts_column, text);
    if (!cuts) continue;
    for (std::size_t i = 1; i < columns_.size(); ++i) {
      add_reading(*row, columns_[i], *cuts, facts[i]);
      run_names_.insert(columns_[i].name);
    }
  }
}

void Understanding::note_left_out() {
  for (const auto& [what, lines] : left_out_)
    out_.notes.push_back("left out: " + what + " (" + lines_in_words(lines) + ")");
  if (grid_.encoding != "UTF-8") out_.notes.push_back("read as " + grid_.encoding);
  if (inclusive_) out_.notes.emplace_back("angles are inclusive: halved to degrees per side");
}

void Understanding::list_columns() {
  const bool runs_down = out_.shape == TableShape::run_per_column;
  for (const auto& column : columns_) {
    TableColumn said{column.name, std::string(name_of(column.guess.meaning)), column.guess.unit,
                     column.guess.sure};
    if (column.guess.side != TableSide::both)
      said.meaning += column.guess.side == TableSide::left ? "_left" : "_right";
    if (column.across) {
      said.meaning = "reading at " + exact(*column.across) + " cuts";
      said.sure = 0.9;
    } else if (runs_down && &column != &columns_.front()) {
      said.meaning = "readings of a run";
      said.sure = 0.9;
    } else if (column.guess.meaning == Meaning::factor && !column.from_map) {
      out_.unknown.push_back(column.name);
    } else if (column.guess.meaning == Meaning::skip && !column.from_map) {
      out_.notes.push_back("left out: the column " + shown(column.name));
    }
    out_.columns.push_back(std::move(said));
  }
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
    for (const auto& head : heads) text += (text.empty() ? "" : ",") + quoted(text_of(head));
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

}  // namespace

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

Checked<TableMap> parse_table_map(std::string_view json) {
  const auto read = nlohmann::json::parse(json, nullptr, false);
  if (!read.is_object())
    return Refusal{"a map is a JSON object: {\"columns\":{…},\"unit\":\"gf\"}"};
  TableMap out;
  for (const auto& [key, value] : read.items()) {
    if (key == "columns" && value.is_object()) {
      for (const auto& [head, meaning] : value.items()) {
        std::string text = meaning.is_string() ? meaning.get<std::string>() : meaning.dump();
        std::string bare = text;
        for (const std::string_view end : {"_left", "_right"})
          if (bare.ends_with(end)) bare.erase(bare.size() - end.size());
        if (!parse_meaning(bare))
          return Refusal{"columns." + head + ": \"" + text + "\" is no meaning of a column"};
        out.columns[head] = text;
      }
      continue;
    }
    std::string* place = key == "unit"      ? &out.unit
                         : key == "angles"  ? &out.angles
                         : key == "decimal" ? &out.decimal
                         : key == "grit"    ? &out.grit
                                            : nullptr;
    if (!place || !value.is_string())
      return Refusal{"\"" + key + "\" is no part of a map (columns, unit, angles, decimal, grit)"};
    *place = value.get<std::string>();
  }
  const auto one_of = [](const std::string& text, std::initializer_list<std::string_view> choices) {
    return text.empty() || std::find(choices.begin(), choices.end(), text) != choices.end();
  };
  if (!out.unit.empty() && !unit_in(out.unit))
    return Refusal{"unit: \"" + out.unit + "\" is not gf, N, lbf, ozf, mm or in"};
  if (out.angles == "per_side") out.angles = "per side";
  if (!one_of(out.angles, {"per side", "inclusive"}))
    return Refusal{"angles: say \"per side\" or \"inclusive\""};
  if (!one_of(out.decimal, {".", ","})) return Refusal{R"(decimal: say "." or ",")"};
  if (!one_of(out.grit, {"um", "P", "F", "JIS", "ANSI"}))
    return Refusal{"grit: say um, P, F, JIS or ANSI"};
  return out;
}

std::string table_map_text(const TableMap& map) {
  nlohmann::json out = nlohmann::json::object();
  for (const auto& [head, meaning] : map.columns) out["columns"][head] = meaning;
  const auto add = [&](const char* key, const std::string& text) {
    if (!text.empty()) out[key] = text;
  };
  add("unit", map.unit);
  add("angles", map.angles);
  add("decimal", map.decimal);
  add("grit", map.grit);
  return out.dump(2, ' ', false, nlohmann::json::error_handler_t::replace);
}

AnyTable understand_table(std::string_view bytes, const TableMap& map) {
  AnyTable out;
  Understanding(map, out).understand(bytes);
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
