#include "report/drawing.h"

#include <fmt/format.h>

#include <array>

namespace bq {
namespace {

std::string colour_of(const std::optional<int>& series) { return series ? fmt::format("#{:06x}", series_colour(*series)) : "currentColor"; }

std::string pattern_of(const DrawingLine& line) {
  if (line.dashed) return " stroke-dasharray=\"1.5 1\"";
  if (!line.series || line.solid || line.closed || series_pattern(*line.series).empty()) return "";
  std::string out;
  for (const double mm : series_pattern(*line.series)) out += fmt::format("{}{:g}", out.empty() ? "" : " ", mm);
  return " stroke-dasharray=\"" + out + "\"";
}

}  // namespace

unsigned series_colour(int index) {
  static constexpr std::array<unsigned, 6> colours{0x1d5b9c, 0x0d7566, 0x7b3f98, 0x5d4a1f, 0x3c4650, 0x2f7d9c};
  return colours[std::size_t(index) % colours.size()];
}

const std::vector<double>& series_pattern(int index) {
  static const std::array<std::vector<double>, 4> patterns{{{}, {2.4, 1.2}, {0.5, 0.9}, {2.4, 0.9, 0.5, 0.9}}};
  return patterns[std::size_t(index) % patterns.size()];
}

std::string escaped(const std::string& text) {
  std::string out;
  for (const char c : text) switch (c) {
      case '&': out += "&amp;"; break;
      case '<': out += "&lt;"; break;
      case '>': out += "&gt;"; break;
      case '"': out += "&quot;"; break;
      default: out += c;
    }
  return out;
}

std::string svg_of(const Drawing& drawing) {
  std::string out = fmt::format("<svg viewBox=\"0 0 {0:g} {1:g}\" width=\"{0:g}mm\" height=\"{1:g}mm\" role=\"img\">\n", drawing.width_mm, drawing.height_mm);
  for (const auto& line : drawing.lines) {
    const std::string colour = colour_of(line.series);
    out += fmt::format("<{} fill=\"{}\" fill-opacity=\"{:g}\" stroke=\"{}\" stroke-width=\"{:g}\"{} points=\"", line.closed ? "polygon" : "polyline",
                       line.filled ? colour : "none", line.fill, line.width_mm > 0 ? colour : "none", line.width_mm, pattern_of(line));
    for (const auto& [x, y] : line.points) out += fmt::format("{:.3f},{:.3f} ", x, y);
    out += "\"/>\n";
  }
  for (const auto& text : drawing.texts) {
    const char* anchor = text.anchor == DrawingText::Anchor::start ? "start" : text.anchor == DrawingText::Anchor::middle ? "middle" : "end";
    const std::string turn = text.upward ? fmt::format(" transform=\"rotate(-90 {:.2f} {:.2f})\"", text.x, text.y) : "";
    out += fmt::format("<text x=\"{:.2f}\" y=\"{:.2f}\" font-size=\"{:g}\" text-anchor=\"{}\" fill=\"{}\"{}>{}</text>\n", text.x, text.y, text.size_mm, anchor,
                       colour_of(text.series), turn, escaped(text.text));
  }
  return out + "</svg>\n";
}

}  // namespace bq
