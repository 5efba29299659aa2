// The rows of a table: cells as numbers, units, grits and words, and the readings they hold.
#include <algorithm>
#include <charconv>
#include <cmath>

#include "edge/grit.h"
#include "quantity/number.h"
#include "store/readings_columns.h"
#include "store/table_understanding.h"

namespace bq::inline store::understanding {
namespace {

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

/// Whether these words may stand behind a number of this meaning without saying anything else: a
/// range ("12-14"), a tolerance or a second number never.
bool may_follow(Meaning meaning, const std::string& rest) {
  if (rest.empty()) return true;
  const std::string plain = plain_words(rest);
  if (plain.find_first_of("0123456789") != std::string::npos) return false;
  static const std::set<std::string, std::less<>> kDegrees{"",     "deg",    "degree", "degrees",
                                                           "grad", "degres", "grados", "度"};
  static const std::set<std::string, std::less<>> kCuts{
      "x",      "cut",   "cuts",   "strokes", "slices", "schnitt", "schnitte",
      "coupes", "coupe", "cortes", "corte",   "passes", "回",      "回切断"};
  static const std::set<std::string, std::less<>> kSizes{
      "um",   "micron",  "microns",  "mikrometer",    "grit",
      "mesh", "kornung", "micrones", "microns moyens"};
  if (is_angle(meaning)) return kDegrees.contains(plain) && rest.find_first_of("-/+") > rest.size();
  if (meaning == Meaning::cuts) return kCuts.contains(plain);
  if (meaning == Meaning::finish) return kSizes.contains(plain);
  return true;  // a reading: it is its unit, looked at there
}

}  // namespace

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

std::string exact(double value) {
  char text[400];
  const auto end = std::to_chars(text, text + sizeof text, value, std::chars_format::fixed).ptr;
  return {text, end};
}

std::optional<double> Understanding::number(const TableGrid::Row& row, const Column& column,
                                            const std::string& text) {
  return number(row, column, text, number_cell(text));
}

std::optional<double> Understanding::number(const TableGrid::Row& row, const Column& column,
                                            const std::string& text,
                                            const std::optional<NumberCell>& value) {
  const auto parsed = value ? number_by(value->number, column.decimal) : std::nullopt;
  if (is_error_cell(text))
    problem(row.line, column.at,
            "the formula in " + shown(column.name) + " came to nothing: " + shown(text));
  else if (!parsed || value->beyond)
    problem(row.line, column.at, "no number in " + shown(column.name) + ": " + shown(text));
  else if (!may_follow(column.guess.meaning, value->rest))
    problem(row.line, column.at,
            "what stands behind the number in " + shown(column.name) +
                " is not understood: " + shown(text));
  else
    return parsed;
  return std::nullopt;
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
  const auto parsed = number(row, column, text, value);
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
  if (is_error_cell(text)) {
    problem(row.line, column.at,
            "the formula in " + shown(column.name) + " came to nothing: " + shown(text));
    return;
  }
  const HeadGuess& guess = column.guess;
  switch (guess.meaning) {
    case Meaning::edge_angle:
    case Meaning::micro_angle:
      if (const auto value = number(row, column, text))
        facts[guess.tidy_name()] = exact(inclusive_ ? *value / 2 : *value);
      break;
    case Meaning::finish:
      if (const auto um = finish_um(row, column, text)) facts[guess.tidy_name()] = *um;
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
  if (value && value->beyond) {
    left_out_
        ["readings past what the gauge shows (\">\" or \"<\"): they are no numbers, and leaving "
         "them out makes edges look better than they are"]
            .push_back(row.line);
    return;
  }
  const auto reading = number(row, column, text, value);
  if (!reading) return;
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
  std::map<std::size_t, Facts> carried;  // of columns written where they change, by cell
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
      if (column.sparse && text.empty()) own = carried[column.at];
      if (column.sparse && !own.empty()) carried[column.at] = own;
      facts.merge(own);
    }
    double cuts = 0;
    if (cuts_column) {
      const std::string& text = cell(*row, *cuts_column);
      bool any = false;
      for (const auto& column : columns_)
        any = any || (column.guess.meaning == Meaning::reading && !cell(*row, column).empty());
      if (text.empty() && !any) {  // says something of the run only
        const Column* run = one(Meaning::run);
        if (!run || !run->sparse) left_out_["rows without cuts and reading"].push_back(row->line);
        continue;
      }
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

}  // namespace bq::inline store::understanding
