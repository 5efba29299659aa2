#include "store/readings_table.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <map>
#include <optional>
#include <set>
#include <unordered_map>

#include "quantity/number.h"
#include "quantity/said.h"
#include "store/csv_reader.h"
#include "store/readings_columns.h"
#include "store/run_draft.h"

namespace bq::inline store {
namespace {

constexpr std::size_t kListedProblems = 50;
constexpr double kMostCuts = 1e12;

/// What is wrong with a row, and in which cell.
struct CellFault {
  std::size_t cell = 0;
  std::string what;
};

/// What names of this column are called where they are asked about; "" they are not.
std::string kind_of_name(Column column) {
  return column == Column::blade    ? "blade"
         : column == Column::steel  ? "steel"
         : column == Column::medium ? "medium"
                                    : "";
}

}  // namespace

struct ReadingsTableReader::State {
  TableOptions options;
  NameAnswers answers;
  TableResult result;
  std::vector<RunDraft> runs;
  std::unordered_map<std::string, std::size_t> run_index;
  std::map<std::string, std::pair<std::string, std::string>> blade_steel;  ///< blade -> steel, run
  std::vector<std::string> factor_names;
  std::optional<UnitKind> kind;
  std::string kind_place;
  std::uint64_t tables = 0;
  std::size_t last_run = 0;
  /// The last text of a column with its id: rows mostly repeat it.
  using LastLabel = std::pair<std::string, LabelId>;
  LastLabel last_station, last_operator;
  LabelId label_of(std::string_view text, LastLabel& last) {
    if (text.empty()) return 0;
    if (last.first != text) last = {std::string(text), result.trial.labels.id_of(text)};
    return last.second;
  }

  // Of the table being read.
  std::string file;
  std::vector<Column> columns;
  std::vector<std::string> names;
  std::array<int, 23> place{};  ///< cell index of a known column, or -1
  CommaRule comma = CommaRule::never;

  void problem(std::uint64_t line, std::uint64_t column, const std::string& what) {
    ++result.problem_count;
    if (result.problems.size() < kListedProblems)
      result.problems.push_back(file + ":" + std::to_string(line) + ":" + std::to_string(column) +
                                ": " + what);
  }
  void refuse(std::uint64_t line, std::uint64_t column, const std::string& what) {
    problem(line, column, what);
    result.refused = true;
  }

  bool read_header(CsvReader& csv);
  std::optional<CellFault> read_row(const CsvReader& csv);
  std::optional<CellFault> check_facts(const RunDraft& draft, std::size_t cell, Said& stated);
  std::optional<CellFault> take_facts(const CsvReader& csv, RunDraft& draft);
  std::optional<CellFault> check_geometry(const std::map<std::string, Said>& stated) const;
  [[nodiscard]] std::string_view cell(const CsvReader& csv, Column column) const {
    const int index = place[std::size_t(column)];
    return index < 0 ? std::string_view() : trimmed(csv.cells()[std::size_t(index)].text);
  }
  [[nodiscard]] std::size_t index_of(Column column) const {
    return std::size_t(place[std::size_t(column)]);
  }
};

bool ReadingsTableReader::State::read_header(CsvReader& csv) {
  const auto outcome = csv.next();
  if (outcome == CsvReader::Outcome::end) {
    refuse(1, 1, said("the file is empty; a header row with run, cuts, reading, unit is needed"));
    return false;
  }
  if (outcome != CsvReader::Outcome::record) {
    refuse(csv.problem_line(), csv.problem_column(), csv.problem());
    return false;
  }
  columns.clear();
  names.clear();
  place.fill(-1);
  bool good = true;
  std::set<std::string> seen;
  for (const auto& head : csv.cells()) {
    const std::string name(trimmed(head.text));
    const auto column = csv.column_of(head.offset);
    const auto known = std::find_if(kKnown.begin(), kKnown.end(),
                                    [&](const auto& entry) { return entry.first == name; });
    const auto nearly = std::find_if(kKnown.begin(), kKnown.end(),
                                     [&](const auto& entry) { return entry.first == lower(name); });
    if (name.empty()) {
      refuse(csv.line(), column, said("a column has no name"));
      good = false;
    } else if (!seen.insert(name).second) {
      refuse(csv.line(), column, said("the column \"{name}\" is there twice", {{"name", name}}));
      good = false;
    } else if (known == kKnown.end() && nearly != kKnown.end()) {
      refuse(csv.line(), column,
             said("write the column {shown} as \"{nearly}\"",
                  {{"shown", shown(name)}, {"nearly", std::string(nearly->first)}}));
      good = false;
    }
    columns.push_back(known == kKnown.end() ? Column::factor : known->second);
    if (known != kKnown.end())
      place[std::size_t(known->second)] = int(names.size());
    else if (std::find(factor_names.begin(), factor_names.end(), name) == factor_names.end())
      factor_names.push_back(name);
    names.push_back(name);
  }
  for (const auto& [name, column] : kKnown)
    if (column <= Column::unit && place[std::size_t(column)] < 0 && good) {
      std::string header;
      for (const auto& other : names) header += (header.empty() ? "" : ", ") + other;
      refuse(csv.line(), 1,
             said("the column \"{name}\" is missing; the header has {shown}",
                  {{"name", std::string(name)}, {"shown", shown(header)}}));
      good = false;
    }
  comma = csv.separator() == ',' ? CommaRule::never : CommaRule::decimal;
  return good;
}

/// Reads one run column; `said.text` and `said.line` are set. Empty result: good.
std::optional<CellFault> ReadingsTableReader::State::check_facts(const RunDraft& draft,
                                                                 std::size_t cell_index,
                                                                 Said& stated) {
  const Column column = columns[cell_index];
  const std::string& name = names[cell_index];
  if (is_angle(column) || is_finish(column)) {
    const auto number = parse_number(stated.text, comma);
    if (!number)
      return CellFault{cell_index,
                       name + ": " + number.refusal().reason + ": " + shown(stated.text)};
    stated.number = *number;
    if (is_angle(column) && !angle_in_range(stated.number))
      return CellFault{cell_index,
                       said("{name} must lie between 0° and 80° per side, both excluded: {shown}",
                            {{"name", name}, {"shown", shown(stated.text)}})};
    if (is_finish(column) && !(stated.number > 0))
      return CellFault{cell_index, said("{name} must be above 0 µm: {shown}",
                                        {{"name", name}, {"shown", shown(stated.text)}})};
  } else if (column == Column::cut_mode && !parse_cut_mode(stated.text)) {
    return CellFault{cell_index, said("cut_mode must be slice, push or chop: {shown}",
                                      {{"shown", shown(stated.text)}})};
  }
  const auto before = draft.said.find(name);
  if (before != draft.said.end()) {
    const bool same = is_angle(column) || is_finish(column) ? before->second.number == stated.number
                                                            : before->second.text == stated.text;
    const auto a = parse_number(before->second.text, comma), b = parse_number(stated.text, comma);
    const bool same_number = column == Column::factor && a && b && *a == *b;
    if (same || same_number) return std::nullopt;
    const std::string where = said("Run {shown} has {name} {shown_2} in line {line}",
                                   {{"shown", shown(draft.name)},
                                    {"name", name},
                                    {"shown_2", shown(before->second.text)},
                                    {"line", std::to_string(before->second.line)}});
    if (!answers.doubted(kind_of_name(column), before->second.text, stated.text, where,
                         stated.line))
      return CellFault{cell_index,
                       said("run {shown} has {name} {shown_2} in line {line}, here {shown_3}",
                            {{"shown", shown(draft.name)},
                             {"name", name},
                             {"shown_2", shown(before->second.text)},
                             {"line", std::to_string(before->second.line)},
                             {"shown_3", shown(stated.text)}})};
  }
  return std::nullopt;
}

std::optional<CellFault> ReadingsTableReader::State::check_geometry(
    const std::map<std::string, Said>& stated) const {
  const auto fault = [&](const std::string& base, const std::string& what) {
    for (std::size_t i = 0; i < names.size(); ++i)
      if (names[i].starts_with(base)) return CellFault{i, what};
    return CellFault{0, what};
  };
  for (const char* base : {"edge_angle", "micro_angle", "finish_um"})
    if (const auto what = half_said(stated, base); !what.empty()) return fault(base, what);
  const auto edge = sides<BevelAngles>(stated, "edge_angle");
  const auto micro = sides<BevelAngles>(stated, "micro_angle");
  if (edge)
    if (const auto made = EdgeGeometry::make(*edge, micro); !made)
      return fault("micro_angle", made.refusal().reason);
  return std::nullopt;
}

std::optional<CellFault> ReadingsTableReader::State::take_facts(const CsvReader& csv,
                                                                RunDraft& draft) {
  const auto& cells = csv.cells();
  // Most rows repeat the row before: compare texts first.
  bool repeats = draft.last_table == tables;
  for (std::size_t i = 0; repeats && i < columns.size(); ++i)
    if (belongs_to_run(columns[i]) && draft.last_cells[i] != cells[i].text) repeats = false;
  if (repeats) return std::nullopt;

  std::map<std::string, Said> stated = draft.said;
  for (std::size_t i = 0; i < columns.size(); ++i) {
    if (!belongs_to_run(columns[i])) continue;
    const auto text = trimmed(cells[i].text);
    if (text.empty()) continue;  // a blank says nothing
    Said now{answers.meant(kind_of_name(columns[i]), std::string(text)), 0, csv.line()};
    if (auto fault = check_facts(draft, i, now)) return fault;
    stated.try_emplace(names[i], std::move(now));
  }
  if (auto fault = check_geometry(stated)) return fault;
  const auto blade = stated.find("blade"), steel = stated.find("steel");
  if (blade != stated.end() && steel != stated.end()) {
    const auto [owner, added] =
        blade_steel.try_emplace(blade->second.text, steel->second.text, draft.name);
    if (!added && owner->second.first != steel->second.text &&
        !answers.doubted("steel", owner->second.first, steel->second.text,
                         said("Blade {shown} is {shown_2} in run {shown_3}",
                              {{"shown", shown(blade->second.text)},
                               {"shown_2", shown(owner->second.first)},
                               {"shown_3", shown(owner->second.second)}}),
                         csv.line()))
      return CellFault{index_of(Column::steel),
                       said("blade {shown} is {owner} in run {shown_2}, here {shown_3}",
                            {{"shown", shown(blade->second.text)},
                             {"owner", owner->second.first},
                             {"shown_2", shown(owner->second.second)},
                             {"shown_3", shown(steel->second.text)}})};
  }
  draft.said = std::move(stated);
  draft.last_table = tables;
  draft.last_cells.resize(cells.size());
  for (std::size_t i = 0; i < columns.size(); ++i)
    if (belongs_to_run(columns[i])) draft.last_cells[i] = cells[i].text;
  return std::nullopt;
}

std::optional<CellFault> ReadingsTableReader::State::read_row(const CsvReader& csv) {
  const auto& cells = csv.cells();
  if (cells.size() != columns.size())
    return CellFault{cells.size() > columns.size() ? columns.size() : cells.size() - 1,
                     said("this row has {cells}{cell}, the header has {columns}",
                          {{"cells", std::to_string(cells.size())},
                           {"cell", cells.size() == 1 ? " cell" : " cells"},
                           {"columns", std::to_string(columns.size())}})};
  const auto number_in = [&](Column column, double& value) -> std::optional<CellFault> {
    const auto text = cell(csv, column);
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error == std::errc() && end == text.data() + text.size() && std::isfinite(value))
      return std::nullopt;
    const std::string& name = names[index_of(column)];
    if (text.empty()) return CellFault{index_of(column), said("{name} is empty", {{"name", name}})};
    const auto slow = parse_number(text, comma);
    if (!slow)
      return CellFault{index_of(column), name + ": " + slow.refusal().reason + ": " + shown(text)};
    value = *slow;
    return std::nullopt;
  };

  const auto run_name = cell(csv, Column::run);
  if (run_name.empty()) return CellFault{index_of(Column::run), "run is empty"};
  Reading reading;
  double cuts = 0;
  if (auto fault = number_in(Column::cuts, cuts)) return fault;
  // Cuts are whole: a sign before three figures groups thousands to some and is decimal to others.
  if (const auto text = cell(csv, Column::cuts); text.size() > 4)
    if (const char sign = text[text.size() - 4]; sign == '.' || sign == ',')
      return CellFault{index_of(Column::cuts),
                       said("cuts can be read in two ways: {shown}; write them without the sign",
                            {{"shown", shown(text)}})};
  if (cuts < 0 || cuts != std::floor(cuts) || cuts > kMostCuts)
    return CellFault{index_of(Column::cuts), said("cuts must be a whole number, 0 or more: {shown}",
                                                  {{"shown", shown(cell(csv, Column::cuts))}})};
  reading.cuts = std::int64_t(cuts);
  if (auto fault = number_in(Column::reading, reading.value)) return fault;
  if (!(reading.value > 0))
    return CellFault{index_of(Column::reading),
                     said("a reading must be above zero: {shown}",
                          {{"shown", shown(cell(csv, Column::reading))}})};
  const auto unit = parse_unit(cell(csv, Column::unit));
  if (!unit || *unit == Unit::um || *unit == Unit::thou)
    return CellFault{index_of(Column::unit), unit
                                                 ? said("readings are in gf, N, lbf, ozf, mm or in")
                                                 : unit.refusal().reason};
  if (kind && kind_of(*unit) != *kind)
    return CellFault{
        index_of(Column::unit),
        std::string(
            *kind == UnitKind::force
                ? said("forces and lengths are mixed: this is a length, a force stands at ")
                : said("forces and lengths are mixed: this is a force, a length stands at ")) +
            kind_place};
  reading.unit = *unit;
  const auto excluded = cell(csv, Column::excluded);
  if (!excluded.empty() && excluded != "0" && excluded != "1")
    return CellFault{index_of(Column::excluded),
                     said("excluded must be 0 or 1: {shown}", {{"shown", shown(excluded)}})};
  reading.excluded = excluded == "1";

  // Rows mostly follow their run: look it up only when the name changes.
  std::size_t index = last_run;
  bool added = false;
  if (index >= runs.size() || runs[index].name != run_name) {
    const auto [found, fresh] = run_index.try_emplace(std::string(run_name), runs.size());
    added = fresh;
    index = found->second;
    if (added) runs.push_back({std::string(run_name), {}, {}, 0, {}});
  }
  if (auto fault = take_facts(csv, runs[index])) {
    if (added) {
      runs.pop_back();
      run_index.erase(std::string(run_name));
    }
    return fault;
  }
  last_run = index;
  if (!kind) {
    kind = kind_of(*unit);
    kind_place = file + ":" + std::to_string(csv.line());
  }
  reading.station = label_of(cell(csv, Column::station), last_station);
  reading.by_operator = label_of(cell(csv, Column::by_operator), last_operator);
  const auto reason = cell(csv, Column::reason);
  if (reading.excluded || !reason.empty())
    reading.reason = result.trial.labels.id_of(reason.empty() ? "no reason given" : reason);
  runs[index].readings.push_back(reading);
  return std::nullopt;
}

ReadingsTableReader::ReadingsTableReader(TableOptions options) : state_(std::make_unique<State>()) {
  state_->options = options;
  state_->answers = NameAnswers(std::move(options.names));
}
ReadingsTableReader::~ReadingsTableReader() = default;

void ReadingsTableReader::read(std::istream& in, const std::string& name) {
  State& s = *state_;
  s.file = name;
  ++s.tables;
  CsvReader csv(in);
  if (!s.read_header(csv)) return;
  std::int64_t rows = 0;
  while (true) {
    const auto outcome = csv.next();
    if (outcome == CsvReader::Outcome::end) break;
    if (outcome == CsvReader::Outcome::broken) {
      s.refuse(csv.problem_line(), csv.problem_column(), csv.problem());
      return;
    }
    if (outcome == CsvReader::Outcome::record && csv.cells().size() == 1 &&
        trimmed(csv.cells()[0].text).empty() && s.columns.size() > 1)
      continue;  // a blank line is no row
    ++rows;
    std::optional<std::string> what;
    std::uint64_t line = csv.line(), column = 1;
    if (outcome == CsvReader::Outcome::bad) {
      what = csv.problem();
      line = csv.problem_line();
      column = csv.problem_column();
    } else if (const auto fault = s.read_row(csv)) {
      what = fault->what;
      if (fault->cell < csv.cells().size()) column = csv.column_of(csv.cells()[fault->cell].offset);
    }
    if (!what) continue;
    s.problem(line, column, *what);
    if (s.options.skip_bad)
      ++s.result.skipped;
    else
      s.result.refused = true;
  }
  if (rows == 0) s.refuse(2, 1, said("there is a header but no reading"));
}

TableResult ReadingsTableReader::finish() {
  State& s = *state_;
  TableResult out = std::move(s.result);
  out.doubts = std::move(s.answers.doubts);
  out.renamed = std::move(s.answers.renamed);
  if (out.refused) {
    out.trial = Trial{};
    return out;
  }
  // A user factor is continuous when every run's value is a number.
  std::map<std::string, bool> continuous;
  for (const auto& name : s.factor_names) {
    bool numbers = false, words = false;
    for (const auto& draft : s.runs)
      if (const auto found = draft.said.find(name); found != draft.said.end())
        (level_number(found->second.text, CommaRule::decimal) ? numbers : words) = true;
    continuous[name] = numbers && !words;
  }
  std::set<std::string> blades;
  for (auto& draft : s.runs) {
    Run run;
    RunFacts& facts = run.facts;
    facts.name = draft.name;
    const auto word = [&](const char* key) {
      const auto found = draft.said.find(key);
      return found == draft.said.end() ? std::string() : found->second.text;
    };
    facts.blade = word("blade");
    facts.steel = word("steel");
    facts.medium = word("medium");
    facts.block = word("block");
    facts.cut_mode = parse_cut_mode(word("cut_mode"));
    facts.geometry = geometry_said(draft.said);
    facts.finish = sides<Finish>(draft.said, "finish_um");
    for (const auto& [name, numeric] : continuous) {
      const auto found = draft.said.find(name);
      if (found == draft.said.end()) continue;
      if (numeric)
        facts.factors[name] = *level_number(found->second.text, CommaRule::decimal);
      else
        facts.factors[name] = found->second.text;
    }
    run.readings = std::move(draft.readings);
    for (const auto& reading : run.readings) run.cuts_done = std::max(run.cuts_done, reading.cuts);
    if (!facts.blade.empty() && blades.insert(facts.blade).second) {
      Blade blade;
      blade.name = facts.blade;
      blade.steel = facts.steel;
      out.trial.blades.push_back(blade);
    }
    out.trial.runs.push_back(std::move(run));
  }
  share_steels(out.trial);
  return out;
}

}  // namespace bq::inline store
