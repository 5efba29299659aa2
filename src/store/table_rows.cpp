// The rows of a table: cells as numbers, units, grits and words, and the readings they hold.
#include <algorithm>
#include <charconv>
#include <cmath>

#include "edge/grit.h"
#include "quantity/csv_cell.h"
#include "quantity/number.h"
#include "quantity/said.h"
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
            said("the formula in {shown} came to nothing: {shown_2}",
                 {{"shown", shown(column.name)}, {"shown_2", shown(text)}}));
  else if (!parsed || value->beyond)
    problem(row.line, column.at,
            said("no number in {shown}: {shown_2}",
                 {{"shown", shown(column.name)}, {"shown_2", shown(text)}}));
  else if (!may_follow(column.guess.meaning, value->rest))
    problem(row.line, column.at,
            said("what stands behind the number in {shown} is not understood: {shown_2}",
                 {{"shown", shown(column.name)}, {"shown_2", shown(text)}}));
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
            said("no particle size in {shown}: {shown_2} (µm, or P, F, JIS, ANSI with a number)",
                 {{"shown", shown(column.name)}, {"shown_2", shown(text)}}));
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
      said("What are the numbers in {shown} ({shown_2}): particle sizes in µm, or grit numbers, "
           "and by which standard?",
           {{"shown", shown(column.name)}, {"shown_2", shown(text)}}),
      {"um", "P", "F", "JIS", "ANSI"});
  return std::nullopt;
}

std::optional<Unit> Understanding::unit_of(const TableGrid::Row& row, const Column& column,
                                           const NumberCell& value) {
  const auto unit_as = [&](const std::string& text, std::size_t at) -> std::optional<Unit> {
    const auto unit = unit_in(text);
    if (!unit)
      problem(row.line, at,
              said("{shown} is no unit of a reading (gf, N, lbf, ozf, mm, in)",
                   {{"shown", shown(text)}}));
    return unit;
  };
  if (!value.rest.empty()) return unit_as(value.rest, column.at);
  if (const Column* units = one(Meaning::unit))
    if (const std::string& text = cell(row, *units); !text.empty()) return unit_as(text, units->at);
  if (!column.guess.unit.empty())
    if (const auto unit = unit_in(column.guess.unit)) return unit;
  if (!map_.unit.empty()) return unit_in(map_.unit);
  ask("unit", said("In which unit are the readings in {shown}?", {{"shown", shown(column.name)}}),
      {"gf", "N", "lbf", "ozf", "mm", "in"});
  return std::nullopt;
}

std::size_t Understanding::key_of(const std::string& name) {
  const auto known = std::find(keys_.begin(), keys_.end(), name);
  const auto at = std::size_t(known - keys_.begin());
  if (known == keys_.end()) keys_.push_back(name);
  return at;
}

void Understanding::name_keys() {
  for (auto& column : columns_) {
    const Meaning m = column.guess.meaning;
    if (column.across || m == Meaning::skip || m == Meaning::cuts || m == Meaning::reading ||
        m == Meaning::unit)
      continue;
    const bool says = std::any_of(rows_.begin(), rows_.end(), [&](const auto* row) {
      return !is_no_value(cell(*row, column));
    });
    if (says) column.key = key_of(m == Meaning::factor ? column.name : column.guess.tidy_name());
  }
}

std::string Understanding::fact_of(const TableGrid::Row& row, const Column& column,
                                   const std::string& text) {
  if (text.empty() || is_no_value(text)) return {};
  if (is_error_cell(text)) {
    problem(row.line, column.at,
            said("the formula in {shown} came to nothing: {shown_2}",
                 {{"shown", shown(column.name)}, {"shown_2", shown(text)}}));
    return {};
  }
  switch (column.guess.meaning) {
    case Meaning::edge_angle:
    case Meaning::micro_angle: {
      const auto value = number(row, column, text);
      return value ? exact(inclusive_ ? *value / 2 : *value) : std::string();
    }
    case Meaning::finish:
      return finish_um(row, column, text).value_or("");
    case Meaning::cut_mode:
      return mode_word(text);
    case Meaning::excluded:
      return excluded_word(text);
    case Meaning::factor: {
      const auto value = number_cell(text);
      const auto parsed =
          value && value->rest.empty() ? number_by(value->number, column.decimal) : std::nullopt;
      // "007" is a word; so is what has figures and letters.
      return parsed && !(value->number.size() > 1 && value->number[0] == '0' &&
                         value->number[1] != '.' && value->number[1] != ',')
                 ? exact(*parsed)
                 : text;
    }
    default:
      return text;
  }
}

const std::string& Understanding::fact_again(const TableGrid::Row& row, Column& column) {
  const std::string& text = cell(row, column);
  if (column.remembered && text == column.last_text) return column.last_fact;
  const std::string before = column.last_fact;
  column.last_fact = fact_of(row, column, text);
  if (column.sparse && text.empty()) column.last_fact = before;
  // What gave nothing is looked at again: it may be a problem with a place of its own.
  column.remembered = !column.last_fact.empty() && !text.empty();
  column.last_text = text;
  return column.last_fact;
}

void Understanding::add_reading(const TableGrid::Row& row, const Column& column, double cuts,
                                Facts& facts) {
  const std::string& text = cell(row, column);
  if (is_no_value(text)) {
    if (!text.empty()) left_out_[said("cells that say there is no reading")].push_back(row.line);
    return;
  }
  const auto value = number_cell(text);
  if (value && value->beyond) {
    left_out_[said("readings past what the gauge shows (\">\" or \"<\"): they are no numbers, and "
                   "leaving them out makes edges look better than they are")]
        .push_back(row.line);
    return;
  }
  const auto reading = number(row, column, text, value);
  if (!reading) return;
  const auto unit = unit_of(row, column, *value);
  if (!unit) return;
  if (cuts < 0 || cuts != std::floor(cuts)) {
    problem(row.line, column.at,
            said("cuts must be a whole number, 0 or more: {exact}", {{"exact", exact(cuts)}}));
    return;
  }
  facts[kCuts] = exact(cuts);
  facts[kReading] = exact(*reading);
  facts[kUnit] = sign_of(*unit);
  for (std::size_t key = 0; key < keys_.size(); ++key) {
    if (key > 0) tidy_rows_ += ',';
    if (key < facts.size()) tidy_rows_ += csv_cell(facts[key]);
  }
  tidy_rows_ += '\n';
  tidy_lines_.push_back(row.line);
  ++out_.readings;
}

const std::string& Understanding::blade_of(const Facts& facts) const {
  static const std::string kNone;
  const auto at = std::find(keys_.begin(), keys_.end(), "blade") - keys_.begin();
  return std::size_t(at) < facts.size() ? facts[std::size_t(at)] : kNone;
}

/// A name for a run that none is given for.
std::string Understanding::run_name(const TableGrid::Row& row, const Facts& facts, double cuts) {
  if (out_.shape == TableShape::run_per_row) {
    const std::string& blade = blade_of(facts);
    std::string name = blade.empty() ? "row " + std::to_string(row.line) : blade;
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
  name_keys();
  const bool names_runs = one(Meaning::run) != nullptr;
  std::map<std::string, double> last_of_blade;
  Facts facts;
  for (const auto* row : rows_) {
    facts.assign(keys_.size(), {});
    for (auto& column : columns_)
      if (column.key > 0 || (column.guess.meaning == Meaning::run && !column.across))
        facts[column.key] = fact_again(*row, column);
    double cuts = 0;
    if (cuts_column) {
      const std::string& text = cell(*row, *cuts_column);
      bool any = false;
      for (const auto& column : columns_)
        any = any || (column.guess.meaning == Meaning::reading && !cell(*row, column).empty());
      if (text.empty() && !any) {  // says something of the run only
        const Column* run = one(Meaning::run);
        if (!run || !run->sparse)
          left_out_[said("rows without cuts and reading")].push_back(row->line);
        continue;
      }
      const auto value = number(*row, *cuts_column, text);
      if (!value) continue;
      cuts = *value;
    }
    if (names_runs && facts[kRun].empty()) {
      problem(row->line, one(Meaning::run)->at, said("the run is not named"));
      continue;
    }
    if (!names_runs) {
      const std::string blade = blade_of(facts);
      const bool by_blade = !blade.empty() && out_.shape != TableShape::run_per_row;
      // Each blade is one run as long as its cuts go up.
      if (by_blade) {
        const auto last = last_of_blade.find(blade);
        if (last != last_of_blade.end() && cuts < last->second)
          ask("columns",
              said("No column names the runs, and the cuts of blade {shown} go back in line "
                   "{line}. Which column tells its runs apart?",
                   {{"shown", shown(blade)}, {"line", std::to_string(row->line)}}),
              {});
        last_of_blade[blade] = cuts;
        facts[kRun] = blade;
      } else {
        facts[kRun] = run_name(*row, facts, cuts);
      }
    }
    if (run_names_.empty() || facts[kRun] != last_run_) run_names_.insert(facts[kRun]);
    last_run_ = facts[kRun];
    for (const auto& column : columns_)
      if (column.across)
        add_reading(*row, column, *column.across, facts);
      else if (column.guess.meaning == Meaning::reading)
        add_reading(*row, column, cuts, facts);
  }
  if (!names_runs)
    out_.notes.push_back(
        one(Meaning::blade) && out_.shape != TableShape::run_per_row
            ? said("no column names the runs: each blade is one run")
            : said("no column names the runs: they are named by {blade_or_row}",
                   {{"blade_or_row", out_.shape == TableShape::run_per_row
                                         ? said("blade or row")
                                         : said("number, a new one where the cuts go back")}}));
}

void Understanding::write_columns_as_runs() {
  const Column& cuts_column = columns_.front();
  std::vector<Facts> facts(columns_.size());
  for (std::size_t i = 1; i < columns_.size(); ++i) {
    facts[i].resize(keys_.size());
    facts[i][kRun] = columns_[i].name;
  }
  const auto is_count = [&](const TableGrid::Row& row) {
    return number_cell(cell(row, cuts_column)).has_value();
  };
  for (const auto* row : rows_)
    if (!is_count(*row)) add_facts_across(*row, facts);
  for (const auto* row : rows_) {
    if (!is_count(*row)) continue;
    const auto cuts = number(*row, cuts_column, cell(*row, cuts_column));
    if (!cuts) continue;
    for (std::size_t i = 1; i < columns_.size(); ++i) {
      add_reading(*row, columns_[i], *cuts, facts[i]);
      run_names_.insert(columns_[i].name);
    }
  }
}

void Understanding::add_facts_across(const TableGrid::Row& row, std::vector<Facts>& facts) {
  // A line of facts: "steel | Marl | Cairn".
  Column fact = columns_.front();
  fact.name = cell(row, fact);
  fact.guess = guess_head(fact.name);
  if (fact.guess.sure < 0.9 || !says_of_run(fact.guess.meaning)) {
    problem(row.line, fact.at, said("no count of cuts: {shown}", {{"shown", shown(fact.name)}}));
    return;
  }
  if (is_angle(fact.guess.meaning) && fact.guess.convention == SaidConvention::none &&
      map_.angles.empty()) {
    ask("angles",
        said("Are the angles in line {line} per side or inclusive, both sides together?",
             {{"line", std::to_string(row.line)}}),
        {"per side", "inclusive"});
    return;
  }
  const bool before = inclusive_;
  inclusive_ = fact.guess.convention == SaidConvention::inclusive ||
               (fact.guess.convention == SaidConvention::none && map_.angles == "inclusive");
  const std::size_t key = key_of(fact.guess.tidy_name());
  for (std::size_t i = 1; i < columns_.size(); ++i) {
    Column here = fact;
    here.at = columns_[i].at;
    here.decimal = columns_[i].decimal;
    facts[i].resize(keys_.size());
    facts[i][key] = fact_of(row, here, cell(row, here));
  }
  inclusive_ = before;
}

}  // namespace bq::inline store::understanding
