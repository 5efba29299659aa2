#include <algorithm>
#include <nlohmann/json.hpp>

#include "quantity/nesting.h"
#include "quantity/said.h"
#include "store/any_table.h"
#include "store/list_table.h"
#include "store/table_understanding.h"

namespace bq::inline store {

Checked<TableMap> parse_table_map(std::string_view json) {
  if (too_deep(json)) return Refusal{std::string(kTooDeep)};
  const auto read = nlohmann::json::parse(json, nullptr, false);
  if (!read.is_object())
    return Refusal{"a map is a JSON object: {\"columns\":{…},\"unit\":\"gf\"}"};
  TableMap out;
  for (const auto& [key, value] : read.items()) {
    if (key == "columns" && value.is_object()) {
      for (const auto& [head, meaning] : value.items()) {
        std::string text = meaning.is_string() ? meaning.get<std::string>() : meaning.dump();
        if (!parse_sided_meaning(text) && text != "note")
          return Refusal{said("columns.{head}: \"{text}\" is no meaning of a column",
                              {{"head", head}, {"text", text}})};
        out.columns[head] = text;
      }
      continue;
    }
    if (key == "names" && value.is_object()) {
      for (const auto& [kind, meant] : value.items()) {
        if ((kind != "blade" && kind != "steel" && kind != "medium") || !meant.is_object())
          return Refusal{
              said("names.{kind}: names are of blade, steel or medium", {{"kind", kind}})};
        for (const auto& [written, name] : meant.items()) {
          if (!name.is_string())
            return Refusal{
                said("names.{kind}.{written}: no name", {{"kind", kind}, {"written", written}})};
          out.names[kind][written] = name.get<std::string>();
        }
      }
      continue;
    }
    std::string* place = key == "unit"        ? &out.unit
                         : key == "angles"    ? &out.angles
                         : key == "decimal"   ? &out.decimal
                         : key == "grit"      ? &out.grit
                         : key == "sheet"     ? &out.sheet
                         : key == "encoding"  ? &out.encoding
                         : key == "separator" ? &out.separator
                         : key == "kind"      ? &out.kind
                                              : nullptr;
    if (!place || !value.is_string())
      return Refusal{
          said("\"{key}\" is no part of a map (columns, unit, angles, decimal, grit, sheet, "
               "encoding, separator, kind, names)",
               {{"key", key}})};
    *place = value.get<std::string>();
  }
  const auto one_of = [](const std::string& text, std::initializer_list<std::string_view> choices) {
    return text.empty() || std::find(choices.begin(), choices.end(), text) != choices.end();
  };
  if (!out.unit.empty() && !understanding::unit_in(out.unit))
    return Refusal{said("unit: \"{unit}\" is not gf, N, lbf, ozf, mm or in", {{"unit", out.unit}})};
  if (out.angles == "per_side") out.angles = "per side";
  if (!one_of(out.angles, {"per side", "inclusive"}))
    return Refusal{said("angles: say \"per side\" or \"inclusive\"")};
  if (!one_of(out.encoding, {"UTF-8", "UTF-16", "Windows-1252"}))
    return Refusal{said("encoding: say UTF-8, UTF-16 or Windows-1252")};
  if (!one_of(out.separator, {",", ";", "|", "tab"}))
    return Refusal{R"(separator: say ",", ";", "|" or "tab")"};
  if (!one_of(out.kind, {"readings"}) && !parse_list_kind(out.kind))
    return Refusal{said("kind: say readings, blades, stones, pairs, gauge or strokes")};
  if (!one_of(out.decimal, {".", ","})) return Refusal{R"(decimal: say "." or ",")"};
  if (!one_of(out.grit, {"um", "P", "F", "JIS", "ANSI"}))
    return Refusal{said("grit: say um, P, F, JIS or ANSI")};
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
  add("sheet", map.sheet);
  add("encoding", map.encoding);
  add("separator", map.separator);
  add("kind", map.kind);
  for (const auto& [kind, meant] : map.names)
    for (const auto& [written, name] : meant) out["names"][kind][written] = name;
  return out.dump(2, ' ', false, nlohmann::json::error_handler_t::replace);
}

char separator_sign(const std::string& separator) {
  return separator.empty() ? '\0' : separator == "tab" ? '\t' : separator[0];
}

}  // namespace bq::inline store
