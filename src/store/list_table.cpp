#include "store/list_table.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "edge/grit.h"
#include "quantity/said.h"
#include "store/list_columns.h"
#include "store/listed_strokes.h"
#include "store/number_column.h"
#include "store/readings_columns.h"
#include "store/table_words.h"

namespace bq::inline store {
namespace {

constexpr std::size_t kHeadWithin = 40;

/// The row that names what a list of this kind must have.
std::optional<std::size_t> head_of(const TableGrid& grid, ListKind kind) {
  for (std::size_t r = 0; r < grid.rows.size() && r < kHeadWithin; ++r) {
    std::set<ListCell> seen;
    for (const auto& text : grid.rows[r].cells)
      if (const auto cell = list_cell_of(text)) seen.insert(*cell);
    const auto needed = needed_by(kind);
    if (std::all_of(needed.begin(), needed.end(), [&](ListCell c) { return seen.contains(c); }))
      return r;
  }
  return std::nullopt;
}

class ListReader {
 public:
  ListReader(const TableGrid& grid, ListKind kind, const TableMap& map) : grid_(grid), map_(map) {
    out_.kind = kind;
  }

  ListTable read() {
    const auto head = head_of(grid_, out_.kind);
    if (!head) {
      fault(grid_.rows.empty() ? 1 : grid_.rows.front().line, 0,
            said("no row names the columns of a list of {kind}",
                 {{"kind", std::string(name_of(out_.kind))}}));
      return std::move(out_);
    }
    name_columns(*head);
    decide_decimal_sign(*head);
    for (std::size_t r = *head + 1; r < grid_.rows.size(); ++r)
      if (!grid_.rows[r].blank()) take(grid_.rows[r]);
    take_strokes();
    if (out_.blades.empty() && out_.stones.empty() && !out_.pairs && out_.gauge.empty() &&
        out_.strokes.empty() && out_.faults.empty() && out_.questions.empty())
      fault(grid_.rows[*head].line, 0, said("there is a head but nothing under it"));
    return std::move(out_);
  }

 private:
  struct Column {
    std::size_t at = 0;
    std::string name;
    ListCell cell = ListCell::skip;
    std::string unit;
  };

  void fault(std::uint64_t line, std::size_t cell, const std::string& what) {
    constexpr std::size_t kMostFaults = 50;
    if (out_.faults.size() < kMostFaults) out_.faults.push_back({line, cell + 1, what});
  }

  void name_columns(std::size_t head) {
    std::set<ListCell> taken;
    const auto& row = grid_.rows[head];
    for (std::size_t c = 0; c < row.cells.size(); ++c) {
      const std::string& name = row.cells[c];
      if (name.empty()) continue;
      auto cell = list_cell_of(name);
      double sure = 1;
      if (const auto stated = map_.columns.find(name); stated != map_.columns.end())
        cell = parse_list_cell(stated->second);
      if (!cell || !belongs(*cell, out_.kind)) {
        sure = 0;
        std::vector<std::string> choices{"skip"};
        if (out_.kind == ListKind::blades || out_.kind == ListKind::stones)
          choices.insert(choices.begin(), "note");
        out_.questions.push_back(
            {"columns." + name,
             said("{shown} is no column of a list of {kind}. Does it go into the note, or is it "
                  "left out?",
                  {{"shown", shown(name)}, {"kind", std::string(name_of(out_.kind))}}),
             choices});
        cell = ListCell::skip;
      } else if (*cell != ListCell::skip && *cell != ListCell::note &&
                 !taken.insert(*cell).second) {
        fault(row.line, c, said("the column {shown} is there twice", {{"shown", shown(name)}}));
      }
      const std::string unit(guess_head(name).unit);
      out_.columns.push_back({name, std::string(name_of(*cell)), unit, sure});
      columns_.push_back({c, name, *cell, unit});
    }
  }

  /// One sign for the whole list, by all its figures; asked for where both are possible.
  void decide_decimal_sign(std::size_t head) {
    std::vector<std::string> numbers;
    for (std::size_t r = head + 1; r < grid_.rows.size(); ++r)
      for (const auto& column : columns_)
        if (holds_numbers(column.cell) && column.at < grid_.rows[r].cells.size())
          if (auto number = number_cell(grid_.rows[r].cells[column.at]))
            numbers.push_back(std::move(number->number));
    const DecimalSign sign = decimal_sign_of(numbers);
    if (!map_.decimal.empty())
      decimal_ = map_.decimal[0];
    else if (sign.contradicts)
      fault(grid_.rows[head].line, 0,
            said("some figures have a point, others a comma before their decimals"));
    else if (sign.sign)
      decimal_ = sign.sign;
    else if (sign.ambiguous)
      out_.questions.push_back({"decimal",
                                said("{shown} can be a number with three decimals or one of "
                                     "thousands. Which sign is the decimal one?",
                                     {{"shown", shown(sign.example)}}),
                                {".", ","}});
  }

  static bool holds_numbers(ListCell cell) {
    switch (cell) {
      case ListCell::size:
      case ListCell::rate:
      case ListCell::price:
      case ListCell::length:
      case ListCell::before:
      case ListCell::after:
      case ListCell::reading:
      case ListCell::cuts:
      case ListCell::time:
      case ListCell::force:
        return true;
      default:
        return false;
    }
  }

  [[nodiscard]] std::string text(const TableGrid::Row& row, ListCell cell) const {
    for (const auto& column : columns_)
      if (column.cell == cell && column.at < row.cells.size() && !is_no_value(row.cells[column.at]))
        return row.cells[column.at];
    return {};
  }
  [[nodiscard]] std::string notes(const TableGrid::Row& row) const {
    std::string out;
    for (const auto& column : columns_)
      if (column.cell == ListCell::note && column.at < row.cells.size() &&
          !is_no_value(row.cells[column.at])) {
        const bool own = list_cell_of(column.name) == ListCell::note;
        out += (out.empty() ? "" : "; ") + (own ? "" : column.name + ": ") + row.cells[column.at];
      }
    return out;
  }
  [[nodiscard]] const Column* column_of(ListCell cell) const {
    for (const auto& column : columns_)
      if (column.cell == cell) return &column;
    return nullptr;
  }

  /// A number above 0 (or any, where `any_sign`); a fault with its place where the cell holds
  /// something else.
  std::optional<double> number(const TableGrid::Row& row, ListCell cell,
                               std::string* rest = nullptr, bool any_sign = false) {
    const std::string stated = text(row, cell);
    if (stated.empty()) return std::nullopt;
    const auto value = number_cell(stated);
    std::optional<double> parsed;
    if (value && !value->beyond) parsed = number_by(value->number, decimal_);
    const Column* column = column_of(cell);
    if (!parsed || !(any_sign || *parsed > 0) || (!rest && value && !value->rest.empty())) {
      fault(row.line, column->at,
            (any_sign ? said("no number in ") : said("no number above 0 in ")) +
                shown(column->name) + ": " + shown(stated));
      return std::nullopt;
    }
    if (rest) *rest = value->rest;
    return parsed;
  }

  void take(const TableGrid::Row& row) {
    const std::string first = text(row, needed_by(out_.kind).front());
    if (is_example_row(row.cells.front())) {
      out_.notes.push_back(said("left out: the example of the template (line {line})",
                                {{"line", std::to_string(row.line)}}));
      return;
    }
    if (first.empty()) {
      fault(row.line, 0, said("no name in this row"));
      return;
    }
    if (out_.kind == ListKind::pairs) return take_pair(row, first);
    if (out_.kind == ListKind::gauge) return take_gauge(row, first);
    if (out_.kind == ListKind::strokes) return take_sample(row, first);
    if (!names_.insert(first).second) {
      fault(row.line, 0, said("{shown} is in the list twice", {{"shown", shown(first)}}));
      return;
    }
    if (out_.kind == ListKind::stones) return take_stone(row, first);
    Blade blade;
    blade.name = first;
    blade.steel = text(row, ListCell::steel);
    blade.note = notes(row);
    out_.blades.push_back(std::move(blade));
  }

  void take_stone(const TableGrid::Row& row, const std::string& name) {
    Abrasive stone;
    stone.name = name;
    stone.note = notes(row);
    if (const std::string kind = text(row, ListCell::kind); !kind.empty()) {
      const auto known = parse_abrasive_kind(plain_words(kind));
      if (known)
        stone.kind = *known;
      else
        fault(row.line, column_of(ListCell::kind)->at,
              said("{shown} is no kind of abrasive (bench stone, diamond plate, film, belt, wheel, "
                   "rod, strop)",
                   {{"shown", shown(kind)}}));
    }
    if (const std::string label = text(row, ListCell::grit); !label.empty()) {
      auto grit = parse_grit(label);
      if (!grit && number_cell(label)) {
        if (map_.grit.empty())
          out_.questions.push_back(
              {"grit",
               said("By which standard are the grit numbers ({shown}), or are they µm?",
                    {{"shown", shown(label)}}),
               {"um", "P", "F", "JIS", "ANSI"}});
        else if (map_.grit != "um")
          grit = parse_grit(map_.grit + " " + label);
      }
      if (grit)
        stone.label = grit->designation;
      else if (map_.grit == "um")
        stone.measured_um = number(row, ListCell::grit);
      else if (!number_cell(label) || !map_.grit.empty())
        fault(row.line, column_of(ListCell::grit)->at,
              said("{shown} is no grit designation", {{"shown", shown(label)}}));
    }
    std::string rest;
    if (const auto size = number(row, ListCell::size, &rest)) {
      const std::string unit = plain_words(rest.empty() ? column_of(ListCell::size)->unit : rest);
      if (unit.empty() || unit == "um" || unit == "micron" || unit == "microns")
        stone.measured_um = *size;
      else
        fault(row.line, column_of(ListCell::size)->at,
              said("a particle size is in µm: {shown}", {{"shown", shown(rest)}}));
    }
    stone.rate_mm3_per_min = number(row, ListCell::rate);
    stone.price = number(row, ListCell::price);
    if (const auto length = number(row, ListCell::length)) stone.length_mm = *length;
    if (const auto wrong = fault_of(stone)) fault(row.line, 0, wrong->reason);
    out_.stones.push_back(std::move(stone));
  }

  void take_pair(const TableGrid::Row& row, const std::string& blade) {
    if (!out_.pairs) {
      out_.pairs.emplace();
      out_.pairs->name = "from a table";
      out_.pairs->first.name = "before";
      out_.pairs->second.name = "after";
      out_.pairs->unit.clear();
    }
    ComparisonPair pair;
    pair.blade = blade;
    pair.place = text(row, ListCell::place);
    std::string unit_first, unit_second;
    const auto first = number(row, ListCell::before, &unit_first);
    const auto second = number(row, ListCell::after, &unit_second);
    if (!first || !second) {
      if (text(row, ListCell::before).empty() || text(row, ListCell::after).empty())
        fault(row.line, column_of(ListCell::before)->at,
              said("a pair has a figure before and one after"));
      return;
    }
    const auto known = unit_of(row, ListCell::before,
                               {unit_first, unit_second, column_of(ListCell::before)->unit});
    if (!known) return;
    if (out_.pairs->unit.empty()) out_.pairs->unit = std::string(sign_of(*known));
    const Unit whole = *parse_unit(out_.pairs->unit);
    if (!same_kind(row, ListCell::before, *known, whole)) return;
    pair.first = convert(*first, *known, whole);
    pair.second = convert(*second, *known, whole);
    out_.pairs->pairs.push_back(std::move(pair));
  }

  /// The unit of a row's figure: of its own column, of the cell, of the head, of the map; asked for
  /// where nothing says one.
  std::optional<Unit> unit_of(const TableGrid::Row& row, ListCell figure,
                              const std::vector<std::string>& stated) {
    std::string unit = text(row, ListCell::unit);
    for (const std::string& other : stated)
      if (unit.empty()) unit = other;
    if (unit.empty()) unit = map_.unit;
    if (unit.empty()) {
      out_.questions.push_back(
          {"unit", "In which unit are the figures?", {"gf", "N", "lbf", "ozf", "mm", "in"}});
      return std::nullopt;
    }
    const auto known = parse_unit(unit == "g" ? "gf" : unit);
    if (known) {
      // A cell in mm under a head in gf is a slip of the pen.
      for (const std::string& other : stated)
        if (const auto own = parse_unit(other); own && !same_kind(row, figure, *own, *known))
          return std::nullopt;
      return *known;
    }
    fault(row.line, column_of(figure)->at,
          said("{shown} is no unit of a reading", {{"shown", shown(unit)}}));
    return std::nullopt;
  }
  bool same_kind(const TableGrid::Row& row, ListCell figure, Unit unit, Unit whole) {
    if (kind_of(unit) == kind_of(whole)) return true;
    fault(row.line, column_of(figure)->at,
          said("{unit} is of another kind than {whole}",
               {{"unit", std::string(sign_of(unit))}, {"whole", std::string(sign_of(whole))}}));
    return false;
  }

  void take_gauge(const TableGrid::Row& row, const std::string& part) {
    const std::string by_operator = text(row, ListCell::by_operator);
    std::string rest;
    const auto value = number(row, ListCell::reading, &rest);
    if (by_operator.empty() || !value) {
      if (by_operator.empty() || text(row, ListCell::reading).empty())
        fault(row.line, column_of(ListCell::reading)->at,
              said("a reading of a gauge study has a part, an operator and a figure"));
      return;
    }
    if (column_of(ListCell::repeat) &&
        !names_.insert(part + '\n' + by_operator + '\n' + text(row, ListCell::repeat)).second)
      return fault(row.line, column_of(ListCell::repeat)->at,
                   said("this part, operator and repeat occurred before"));
    const auto unit = unit_of(row, ListCell::reading, {rest, column_of(ListCell::reading)->unit});
    if (!unit) return;
    if (out_.gauge.empty()) out_.gauge_unit = *unit;
    if (same_kind(row, ListCell::reading, *unit, out_.gauge_unit))
      out_.gauge.push_back({part, by_operator, convert(*value, *unit, out_.gauge_unit)});
  }

  void take_sample(const TableGrid::Row& row, const std::string& run) {
    const auto time = number(row, ListCell::time, nullptr, true);
    const auto force = number(row, ListCell::force, nullptr, true);
    if (!time || !force) {
      if (text(row, ListCell::time).empty() || text(row, ListCell::force).empty())
        fault(row.line, column_of(ListCell::force)->at, said("a sample has a time and a force"));
      return;
    }
    const std::string stated = text(row, ListCell::cuts);
    double cuts = 0;
    if (!stated.empty() && stated != "0") {
      const auto read = number(row, ListCell::cuts);
      if (!read) return;
      if (*read != std::floor(*read) || *read > 1e12)
        return fault(row.line, column_of(ListCell::cuts)->at,
                     said("cuts are a whole number: {shown}", {{"shown", shown(stated)}}));
      cuts = *read;
    }
    const double seconds =
        plain_words(column_of(ListCell::time)->unit) == "ms" ? *time / 1000 : *time;
    const std::string unit_said = column_of(ListCell::force)->unit;
    const auto unit = parse_unit(unit_said.empty() ? "N" : unit_said == "g" ? "gf" : unit_said);
    if (!unit || kind_of(*unit) != UnitKind::force)
      return fault(row.line, column_of(ListCell::force)->at,
                   said("{shown} is no unit of a force", {{"shown", shown(unit_said)}}));
    samples_.take({run, text(row, ListCell::by_operator), text(row, ListCell::stroke),
                   std::int64_t(cuts), seconds, convert(*force, *unit, Unit::N), row.line});
  }

  void take_strokes() {
    out_.strokes = samples_.strokes();
    for (const auto& wrong : samples_.faults())
      fault(wrong.line, wrong.of_times ? column_of(ListCell::time)->at : 0, wrong.what);
  }

  const TableGrid& grid_;
  const TableMap& map_;
  ListTable out_;
  std::vector<Column> columns_;
  char decimal_ = '.';
  std::set<std::string> names_;
  StrokeSamples samples_;
};

}  // namespace

std::string_view name_of(ListKind kind) {
  switch (kind) {
    case ListKind::blades:
      return "blades";
    case ListKind::stones:
      return "stones";
    case ListKind::pairs:
      return "pairs";
    case ListKind::gauge:
      return "gauge";
    case ListKind::strokes:
      return "strokes";
  }
  return "";
}

std::optional<ListKind> parse_list_kind(std::string_view text) {
  for (const ListKind kind : kListKinds)
    if (text == name_of(kind)) return kind;
  return std::nullopt;
}

std::optional<ListKind> looks_like_list(const TableGrid& grid) {
  for (const ListKind kind : {ListKind::pairs, ListKind::gauge, ListKind::stones, ListKind::blades})
    if (head_of(grid, kind)) return kind;
  // A table of readings may name a time and a force too; samples are timed in seconds.
  if (const auto head = head_of(grid, ListKind::strokes))
    for (const auto& name : grid.rows[*head].cells)
      if (list_cell_of(name) == ListCell::time) {
        const std::string unit = plain_words(guess_head(name).unit);
        if (unit == "s" || unit == "ms") return ListKind::strokes;
      }
  return std::nullopt;
}

ListTable understand_list(const TableGrid& grid, ListKind kind, const TableMap& map) {
  ListTable out = ListReader(grid, kind, map).read();
  // Each question once.
  std::set<std::string> asked;
  std::erase_if(out.questions, [&](const TableQuestion& q) { return !asked.insert(q.key).second; });
  return out;
}

}  // namespace bq::inline store
