#pragma once

#include <algorithm>
#include <array>
#include <string>
#include <string_view>
#include <utility>

namespace bq::inline store {

/// The columns a readings table may have; anything else is a user factor.
enum class Column {
  run,
  cuts,
  reading,
  unit,
  blade,
  steel,
  edge,
  edge_left,
  edge_right,
  micro,
  micro_left,
  micro_right,
  finish,
  finish_left,
  finish_right,
  medium,
  cut_mode,
  station,
  by_operator,
  block,
  excluded,
  reason,
  factor
};

inline constexpr std::array<std::pair<std::string_view, Column>, 22> kKnown{
    {{"run", Column::run},
     {"cuts", Column::cuts},
     {"reading", Column::reading},
     {"unit", Column::unit},
     {"blade", Column::blade},
     {"steel", Column::steel},
     {"edge_angle", Column::edge},
     {"edge_angle_left", Column::edge_left},
     {"edge_angle_right", Column::edge_right},
     {"micro_angle", Column::micro},
     {"micro_angle_left", Column::micro_left},
     {"micro_angle_right", Column::micro_right},
     {"finish_um", Column::finish},
     {"finish_um_left", Column::finish_left},
     {"finish_um_right", Column::finish_right},
     {"medium", Column::medium},
     {"cut_mode", Column::cut_mode},
     {"station", Column::station},
     {"operator", Column::by_operator},
     {"block", Column::block},
     {"excluded", Column::excluded},
     {"reason", Column::reason}}};

/// Columns that say something of the run and must agree in all its rows.
inline bool belongs_to_run(Column c) {
  switch (c) {
    case Column::run:
    case Column::cuts:
    case Column::reading:
    case Column::unit:
    case Column::station:
    case Column::by_operator:
    case Column::excluded:
    case Column::reason:
      return false;
    default:
      return true;
  }
}

inline bool is_angle(Column c) { return c >= Column::edge && c <= Column::micro_right; }
inline bool is_finish(Column c) { return c >= Column::finish && c <= Column::finish_right; }

inline std::string_view trimmed(std::string_view text) {
  while (!text.empty() && (text.front() == ' ' || text.front() == '\t')) text.remove_prefix(1);
  while (!text.empty() && (text.back() == ' ' || text.back() == '\t')) text.remove_suffix(1);
  return text;
}

inline std::string lower(std::string_view text) {
  std::string out(text);
  std::transform(out.begin(), out.end(), out.begin(),
                 [](char c) { return c >= 'A' && c <= 'Z' ? char(c - 'A' + 'a') : c; });
  return out;
}

/// A cell's text as shown in a message: short, one line.
inline std::string shown(std::string_view text) {
  std::string out(text.substr(0, 30));
  while (!out.empty() && (static_cast<unsigned char>(out.back()) & 0xc0) == 0x80 &&
         out.size() < text.size())
    out.pop_back();
  std::replace(out.begin(), out.end(), '\n', ' ');
  return "\"" + out + (text.size() > 30 ? "…\"" : "\"");
}

}  // namespace bq::inline store
