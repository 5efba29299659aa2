#include "store/list_table.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <set>

#include "edge/grit.h"
#include "store/number_column.h"
#include "store/readings_columns.h"
#include "store/table_words.h"

namespace bq::inline store {
namespace {

enum class Cell {
  blade,
  steel,
  note,
  stone,
  grit,
  size,
  kind,
  rate,
  price,
  length,
  before,
  after,
  place,
  unit,
  skip
};

struct Head {
  std::string_view words;  ///< as plain_words gives it
  Cell cell;
};
constexpr Head kHeads[] = {
    {"blade", Cell::blade},        {"knife", Cell::blade},     {"klinge", Cell::blade},
    {"messer", Cell::blade},       {"lame", Cell::blade},      {"hoja", Cell::blade},
    {"steel", Cell::steel},        {"alloy", Cell::steel},     {"stahl", Cell::steel},
    {"acier", Cell::steel},        {"acero", Cell::steel},     {"note", Cell::note},
    {"notes", Cell::note},         {"remarks", Cell::note},    {"bemerkung", Cell::note},
    {"remarque", Cell::note},      {"notas", Cell::note},      {"stone", Cell::stone},
    {"abrasive", Cell::stone},     {"stein", Cell::stone},     {"schleifmittel", Cell::stone},
    {"pierre", Cell::stone},       {"abrasif", Cell::stone},   {"piedra", Cell::stone},
    {"abrasivo", Cell::stone},     {"grit", Cell::grit},       {"label", Cell::grit},
    {"kornung", Cell::grit},       {"koernung", Cell::grit},   {"grain", Cell::grit},
    {"grano", Cell::grit},         {"size", Cell::size},       {"particle size", Cell::size},
    {"measured size", Cell::size}, {"korngrosse", Cell::size}, {"kind", Cell::kind},
    {"type", Cell::kind},          {"art", Cell::kind},        {"tipo", Cell::kind},
    {"rate", Cell::rate},          {"abtrag", Cell::rate},     {"price", Cell::price},
    {"preis", Cell::price},        {"prix", Cell::price},      {"precio", Cell::price},
    {"length", Cell::length},      {"lange", Cell::length},    {"before", Cell::before},
    {"vorher", Cell::before},      {"avant", Cell::before},    {"antes", Cell::before},
    {"after", Cell::after},        {"nachher", Cell::after},   {"apres", Cell::after},
    {"despues", Cell::after},      {"place", Cell::place},     {"station", Cell::place},
    {"stelle", Cell::place},       {"endroit", Cell::place},   {"lugar", Cell::place},
    {"unit", Cell::unit},          {"einheit", Cell::unit},    {"unite", Cell::unit},
    {"unidad", Cell::unit}};

std::optional<Cell> cell_of(std::string_view head) {
  const std::string plain = plain_words(head.substr(0, std::min(head.find('('), head.find('['))));
  for (const auto& known : kHeads)
    if (known.words == plain) return known.cell;
  return std::nullopt;
}

constexpr std::array<std::string_view, 15> kCells{"blade",  "steel", "note",  "stone", "grit",
                                                  "size",   "kind",  "rate",  "price", "length",
                                                  "before", "after", "place", "unit",  "skip"};
std::string_view name_of(Cell cell) { return kCells[std::size_t(cell)]; }
std::optional<Cell> parse_cell(std::string_view text) {
  const auto at = std::find(kCells.begin(), kCells.end(), text);
  if (at == kCells.end()) return std::nullopt;
  return Cell(at - kCells.begin());
}

/// What a list of a kind must have.
std::vector<Cell> needed_by(ListKind kind) {
  if (kind == ListKind::pairs) return {Cell::blade, Cell::before, Cell::after};
  return {kind == ListKind::blades ? Cell::blade : Cell::stone};
}
bool belongs(Cell cell, ListKind kind) {
  switch (kind) {
    case ListKind::blades:
      return cell <= Cell::note || cell == Cell::skip;
    case ListKind::stones:
      return (cell >= Cell::note && cell <= Cell::length) || cell == Cell::skip;
    case ListKind::pairs:
      return cell == Cell::blade || cell >= Cell::before;
  }
  return false;
}

constexpr std::size_t kHeadWithin = 40;

/// The row that names what a list of this kind must have.
std::optional<std::size_t> head_of(const TableGrid& grid, ListKind kind) {
  for (std::size_t r = 0; r < grid.rows.size() && r < kHeadWithin; ++r) {
    std::set<Cell> seen;
    for (const auto& text : grid.rows[r].cells)
      if (const auto cell = cell_of(text)) seen.insert(*cell);
    const auto needed = needed_by(kind);
    if (std::all_of(needed.begin(), needed.end(), [&](Cell c) { return seen.contains(c); }))
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
            "no row names the columns of a list of " + std::string(name_of(out_.kind)));
      return std::move(out_);
    }
    name_columns(*head);
    for (std::size_t r = *head + 1; r < grid_.rows.size(); ++r)
      if (!grid_.rows[r].blank()) take(grid_.rows[r]);
    if (out_.blades.empty() && out_.stones.empty() && !out_.pairs && out_.faults.empty() &&
        out_.questions.empty())
      fault(grid_.rows[*head].line, 0, "there is a head but nothing under it");
    return std::move(out_);
  }

 private:
  struct Column {
    std::size_t at = 0;
    std::string name;
    Cell cell = Cell::skip;
    std::string unit;
  };

  void fault(std::uint64_t line, std::size_t cell, const std::string& what) {
    constexpr std::size_t kMostFaults = 50;
    if (out_.faults.size() < kMostFaults) out_.faults.push_back({line, cell + 1, what});
  }

  void name_columns(std::size_t head) {
    std::set<Cell> taken;
    const auto& row = grid_.rows[head];
    for (std::size_t c = 0; c < row.cells.size(); ++c) {
      const std::string& name = row.cells[c];
      if (name.empty()) continue;
      auto cell = cell_of(name);
      double sure = 1;
      if (const auto said = map_.columns.find(name); said != map_.columns.end())
        cell = parse_cell(said->second);
      if (!cell || !belongs(*cell, out_.kind)) {
        sure = 0;
        std::vector<std::string> choices{"skip"};
        if (out_.kind != ListKind::pairs) choices.insert(choices.begin(), "note");
        out_.questions.push_back({"columns." + name,
                                  shown(name) + " is no column of a list of " +
                                      std::string(name_of(out_.kind)) +
                                      ". Does it go into the note, or is it left out?",
                                  choices});
        cell = Cell::skip;
      } else if (*cell != Cell::skip && *cell != Cell::note && !taken.insert(*cell).second) {
        fault(row.line, c, "the column " + shown(name) + " is there twice");
      }
      const std::string unit(guess_head(name).unit);
      out_.columns.push_back({name, std::string(name_of(*cell)), unit, sure});
      columns_.push_back({c, name, *cell, unit});
    }
  }

  [[nodiscard]] std::string text(const TableGrid::Row& row, Cell cell) const {
    for (const auto& column : columns_)
      if (column.cell == cell && column.at < row.cells.size() && !is_no_value(row.cells[column.at]))
        return row.cells[column.at];
    return {};
  }
  [[nodiscard]] std::string notes(const TableGrid::Row& row) const {
    std::string out;
    for (const auto& column : columns_)
      if (column.cell == Cell::note && column.at < row.cells.size() &&
          !is_no_value(row.cells[column.at])) {
        const bool own = cell_of(column.name) == Cell::note;
        out += (out.empty() ? "" : "; ") + (own ? "" : column.name + ": ") + row.cells[column.at];
      }
    return out;
  }
  [[nodiscard]] const Column* column_of(Cell cell) const {
    for (const auto& column : columns_)
      if (column.cell == cell) return &column;
    return nullptr;
  }

  /// A number above 0; a fault with its place where the cell holds something else.
  std::optional<double> number(const TableGrid::Row& row, Cell cell, std::string* rest = nullptr) {
    const std::string said = text(row, cell);
    if (said.empty()) return std::nullopt;
    const auto value = number_cell(said);
    const char decimal = map_.decimal.empty() ? '.' : map_.decimal[0];
    std::optional<double> parsed;
    if (value && !value->beyond) {
      const DecimalSign sign = decimal_sign_of({value->number});
      if (sign.ambiguous && map_.decimal.empty())
        out_.questions.push_back({"decimal",
                                  shown(value->number) +
                                      " can be a number with three decimals or one of thousands. "
                                      "Which sign is the decimal one?",
                                  {".", ","}});
      parsed = number_by(value->number, sign.sign ? sign.sign : decimal);
    }
    const Column* column = column_of(cell);
    if (!parsed || !(*parsed > 0) || (!rest && value && !value->rest.empty())) {
      fault(row.line, column->at,
            "no number above 0 in " + shown(column->name) + ": " + shown(said));
      return std::nullopt;
    }
    if (rest) *rest = value->rest;
    return parsed;
  }

  void take(const TableGrid::Row& row) {
    const std::string first = text(row, needed_by(out_.kind).front());
    if (is_example_row(row.cells.front())) {
      out_.notes.push_back("left out: the example of the template (line " +
                           std::to_string(row.line) + ")");
      return;
    }
    if (first.empty()) {
      fault(row.line, 0, "no name in this row");
      return;
    }
    if (out_.kind == ListKind::pairs) return take_pair(row, first);
    if (!names_.insert(first).second) {
      fault(row.line, 0, shown(first) + " is in the list twice");
      return;
    }
    if (out_.kind == ListKind::stones) return take_stone(row, first);
    Blade blade;
    blade.name = first;
    blade.steel = text(row, Cell::steel);
    blade.note = notes(row);
    out_.blades.push_back(std::move(blade));
  }

  void take_stone(const TableGrid::Row& row, const std::string& name) {
    Abrasive stone;
    stone.name = name;
    stone.note = notes(row);
    if (const std::string kind = text(row, Cell::kind); !kind.empty()) {
      const auto known = parse_abrasive_kind(plain_words(kind));
      if (known)
        stone.kind = *known;
      else
        fault(row.line, column_of(Cell::kind)->at,
              shown(kind) +
                  " is no kind of abrasive (bench stone, diamond plate, film, belt, wheel, rod, "
                  "strop)");
    }
    if (const std::string label = text(row, Cell::grit); !label.empty()) {
      auto grit = parse_grit(label);
      if (!grit && number_cell(label)) {
        if (map_.grit.empty())
          out_.questions.push_back(
              {"grit",
               "By which standard are the grit numbers (" + shown(label) + "), or are they µm?",
               {"um", "P", "F", "JIS", "ANSI"}});
        else if (map_.grit != "um")
          grit = parse_grit(map_.grit + " " + label);
      }
      if (grit)
        stone.label = grit->designation;
      else if (map_.grit == "um")
        stone.measured_um = number(row, Cell::grit);
      else if (!number_cell(label) || !map_.grit.empty())
        fault(row.line, column_of(Cell::grit)->at, shown(label) + " is no grit designation");
    }
    std::string rest;
    if (const auto size = number(row, Cell::size, &rest)) {
      const std::string unit = plain_words(rest.empty() ? column_of(Cell::size)->unit : rest);
      if (unit.empty() || unit == "um" || unit == "micron" || unit == "microns")
        stone.measured_um = *size;
      else
        fault(row.line, column_of(Cell::size)->at, "a particle size is in µm: " + shown(rest));
    }
    stone.rate_mm3_per_min = number(row, Cell::rate);
    stone.price = number(row, Cell::price);
    if (const auto length = number(row, Cell::length)) stone.length_mm = *length;
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
    pair.place = text(row, Cell::place);
    std::string unit_first, unit_second;
    const auto first = number(row, Cell::before, &unit_first);
    const auto second = number(row, Cell::after, &unit_second);
    if (!first || !second) {
      if (text(row, Cell::before).empty() || text(row, Cell::after).empty())
        fault(row.line, column_of(Cell::before)->at, "a pair has a figure before and one after");
      return;
    }
    std::string unit = text(row, Cell::unit);
    for (const std::string& said :
         {unit_first, unit_second, column_of(Cell::before)->unit, map_.unit})
      if (unit.empty()) unit = said;
    const auto known = parse_unit(unit == "g" ? "gf" : unit);
    if (unit.empty()) {
      out_.questions.push_back(
          {"unit", "In which unit are the figures?", {"gf", "N", "lbf", "ozf", "mm", "in"}});
      return;
    }
    if (!known) {
      fault(row.line, column_of(Cell::before)->at, shown(unit) + " is no unit of a reading");
      return;
    }
    if (out_.pairs->unit.empty()) out_.pairs->unit = std::string(sign_of(*known));
    const auto whole = parse_unit(out_.pairs->unit);
    if (kind_of(*known) != kind_of(*whole)) {
      fault(row.line, column_of(Cell::before)->at,
            shown(unit) + " is of another kind than " + out_.pairs->unit);
      return;
    }
    pair.first = convert(*first, *known, *whole);
    pair.second = convert(*second, *known, *whole);
    out_.pairs->pairs.push_back(std::move(pair));
  }

  const TableGrid& grid_;
  const TableMap& map_;
  ListTable out_;
  std::vector<Column> columns_;
  std::set<std::string> names_;
};

}  // namespace

std::string_view name_of(ListKind kind) {
  return kind == ListKind::blades ? "blades" : kind == ListKind::stones ? "stones" : "pairs";
}

std::optional<ListKind> parse_list_kind(std::string_view text) {
  for (const ListKind kind : {ListKind::blades, ListKind::stones, ListKind::pairs})
    if (text == name_of(kind)) return kind;
  return std::nullopt;
}

std::optional<ListKind> looks_like_list(const TableGrid& grid) {
  for (const ListKind kind : {ListKind::pairs, ListKind::stones, ListKind::blades})
    if (head_of(grid, kind)) return kind;
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
