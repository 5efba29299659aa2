#include "report/drawing.h"

#include <fmt/format.h>

namespace bq {

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
    out += fmt::format("<{} fill=\"{}\" fill-opacity=\"0.12\" stroke=\"currentColor\" stroke-width=\"{:g}\"{} points=\"", line.closed ? "polygon" : "polyline",
                       line.filled ? "currentColor" : "none", line.width_mm, line.dashed ? " stroke-dasharray=\"1.5 1\"" : "");
    for (const auto& [x, y] : line.points) out += fmt::format("{:.3f},{:.3f} ", x, y);
    out += "\"/>\n";
  }
  for (const auto& text : drawing.texts) {
    const char* anchor = text.anchor == DrawingText::Anchor::start ? "start" : text.anchor == DrawingText::Anchor::middle ? "middle" : "end";
    out += fmt::format("<text x=\"{:.2f}\" y=\"{:.2f}\" font-size=\"{:g}\" text-anchor=\"{}\" fill=\"currentColor\">{}</text>\n", text.x, text.y, text.size_mm, anchor,
                       escaped(text.text));
  }
  return out + "</svg>\n";
}

}  // namespace bq
