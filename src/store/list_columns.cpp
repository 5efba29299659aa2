#include "store/list_columns.h"

#include <algorithm>
#include <array>

#include "store/table_words.h"

namespace bq::inline store {
namespace {

struct Head {
  std::string_view words;  ///< as plain_words gives it
  ListCell cell;
};
constexpr Head kHeads[] = {{"blade", ListCell::blade},
                           {"knife", ListCell::blade},
                           {"klinge", ListCell::blade},
                           {"messer", ListCell::blade},
                           {"lame", ListCell::blade},
                           {"hoja", ListCell::blade},
                           {"steel", ListCell::steel},
                           {"alloy", ListCell::steel},
                           {"stahl", ListCell::steel},
                           {"acier", ListCell::steel},
                           {"acero", ListCell::steel},
                           {"note", ListCell::note},
                           {"notes", ListCell::note},
                           {"remarks", ListCell::note},
                           {"bemerkung", ListCell::note},
                           {"remarque", ListCell::note},
                           {"notas", ListCell::note},
                           {"stone", ListCell::stone},
                           {"abrasive", ListCell::stone},
                           {"stein", ListCell::stone},
                           {"schleifmittel", ListCell::stone},
                           {"pierre", ListCell::stone},
                           {"abrasif", ListCell::stone},
                           {"piedra", ListCell::stone},
                           {"abrasivo", ListCell::stone},
                           {"grit", ListCell::grit},
                           {"label", ListCell::grit},
                           {"kornung", ListCell::grit},
                           {"koernung", ListCell::grit},
                           {"grain", ListCell::grit},
                           {"grano", ListCell::grit},
                           {"size", ListCell::size},
                           {"particle size", ListCell::size},
                           {"measured size", ListCell::size},
                           {"korngrosse", ListCell::size},
                           {"kind", ListCell::kind},
                           {"type", ListCell::kind},
                           {"art", ListCell::kind},
                           {"tipo", ListCell::kind},
                           {"rate", ListCell::rate},
                           {"abtrag", ListCell::rate},
                           {"price", ListCell::price},
                           {"preis", ListCell::price},
                           {"prix", ListCell::price},
                           {"precio", ListCell::price},
                           {"length", ListCell::length},
                           {"lange", ListCell::length},
                           {"before", ListCell::before},
                           {"vorher", ListCell::before},
                           {"avant", ListCell::before},
                           {"antes", ListCell::before},
                           {"after", ListCell::after},
                           {"nachher", ListCell::after},
                           {"apres", ListCell::after},
                           {"despues", ListCell::after},
                           {"place", ListCell::place},
                           {"station", ListCell::place},
                           {"stelle", ListCell::place},
                           {"endroit", ListCell::place},
                           {"lugar", ListCell::place},
                           {"unit", ListCell::unit},
                           {"einheit", ListCell::unit},
                           {"unite", ListCell::unit},
                           {"unidad", ListCell::unit},
                           {"part", ListCell::part},
                           {"specimen", ListCell::part},
                           {"teil", ListCell::part},
                           {"prufling", ListCell::part},
                           {"piece", ListCell::part},
                           {"pieza", ListCell::part},
                           {"operator", ListCell::by_operator},
                           {"appraiser", ListCell::by_operator},
                           {"prufer", ListCell::by_operator},
                           {"bediener", ListCell::by_operator},
                           {"operateur", ListCell::by_operator},
                           {"operador", ListCell::by_operator},
                           {"repeat", ListCell::repeat},
                           {"repetition", ListCell::repeat},
                           {"wiederholung", ListCell::repeat},
                           {"repeticion", ListCell::repeat},
                           {"reading", ListCell::reading},
                           {"value", ListCell::reading},
                           {"messwert", ListCell::reading},
                           {"lecture", ListCell::reading},
                           {"mesure", ListCell::reading},
                           {"lectura", ListCell::reading},
                           {"run", ListCell::run},
                           {"lauf", ListCell::run},
                           {"serie", ListCell::run},
                           {"cuts", ListCell::cuts},
                           {"schnitte", ListCell::cuts},
                           {"coupes", ListCell::cuts},
                           {"cortes", ListCell::cuts},
                           {"stroke", ListCell::stroke},
                           {"zug", ListCell::stroke},
                           {"passe", ListCell::stroke},
                           {"pasada", ListCell::stroke},
                           {"time", ListCell::time},
                           {"zeit", ListCell::time},
                           {"temps", ListCell::time},
                           {"tiempo", ListCell::time},
                           {"force", ListCell::force},
                           {"kraft", ListCell::force},
                           {"fuerza", ListCell::force}};

constexpr std::array<std::string_view, 24> kCells{
    "blade",  "steel",   "note",   "stone", "grit",   "size", "kind",  "rate",
    "price",  "length",  "before", "after", "place",  "unit", "part",  "operator",
    "repeat", "reading", "run",    "cuts",  "stroke", "time", "force", "skip"};

}  // namespace

std::optional<ListCell> list_cell_of(std::string_view head) {
  const std::string plain = plain_words(head.substr(0, std::min(head.find('('), head.find('['))));
  for (const auto& known : kHeads)
    if (known.words == plain) return known.cell;
  return std::nullopt;
}

std::string_view name_of(ListCell cell) { return kCells[std::size_t(cell)]; }
std::optional<ListCell> parse_list_cell(std::string_view text) {
  const auto at = std::find(kCells.begin(), kCells.end(), text);
  if (at == kCells.end()) return std::nullopt;
  return ListCell(at - kCells.begin());
}

std::vector<ListCell> needed_by(ListKind kind) {
  switch (kind) {
    case ListKind::blades:
      return {ListCell::blade};
    case ListKind::stones:
      return {ListCell::stone};
    case ListKind::pairs:
      return {ListCell::blade, ListCell::before, ListCell::after};
    case ListKind::gauge:
      return {ListCell::part, ListCell::by_operator, ListCell::reading};
    case ListKind::strokes:
      return {ListCell::run, ListCell::time, ListCell::force};
  }
  return {};
}

bool belongs(ListCell cell, ListKind kind) {
  if (cell == ListCell::skip) return true;
  switch (kind) {
    case ListKind::blades:
      return cell <= ListCell::note;
    case ListKind::stones:
      return cell >= ListCell::note && cell <= ListCell::length;
    case ListKind::pairs:
      return cell == ListCell::blade || (cell >= ListCell::before && cell <= ListCell::unit);
    case ListKind::gauge:
      return cell >= ListCell::unit && cell <= ListCell::reading;
    case ListKind::strokes:
      return cell >= ListCell::run || cell == ListCell::by_operator;
  }
  return false;
}

}  // namespace bq::inline store
