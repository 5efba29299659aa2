#include "report/drawing.h"

#include <fmt/format.h>

#include <array>
#include <string_view>

#include "quantity/xml_text.h"

namespace bq::inline report {
namespace {

std::string colour_of(const std::optional<int>& series, const std::optional<unsigned>& colour) {
  if (colour) return fmt::format("#{:06x}", *colour);
  return series ? fmt::format("#{:06x}", series_colour(*series)) : "currentColor";
}

std::string pattern_of(const DrawingLine& line) {
  if (line.dashed) return " stroke-dasharray=\"1.5 1\"";
  if (!line.series || line.solid || line.closed || series_pattern(*line.series).empty()) return "";
  std::string out;
  for (const double mm : series_pattern(*line.series))
    out += fmt::format("{}{:g}", out.empty() ? "" : " ", mm);
  return " stroke-dasharray=\"" + out + "\"";
}

}  // namespace

unsigned series_colour(int index) {
  static constexpr std::array<unsigned, 6> colours{0x1d5b9c, 0x0d7566, 0x7b3f98,
                                                   0x5d4a1f, 0x3c4650, 0x2f7d9c};
  return colours[std::size_t(index) % colours.size()];
}

const std::vector<double>& series_pattern(int index) {
  static const std::array<std::vector<double>, 4> patterns{
      {{}, {2.4, 1.2}, {0.5, 0.9}, {2.4, 0.9, 0.5, 0.9}}};
  return patterns[std::size_t(index) % patterns.size()];
}

std::string base64(const std::string& bytes) {
  static constexpr char kLetters[] =
      "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
  std::string out;
  for (std::size_t i = 0; i < bytes.size(); i += 3) {
    const auto at = [&](std::size_t k) {
      return k < bytes.size() ? unsigned(static_cast<unsigned char>(bytes[k])) : 0U;
    };
    const unsigned three = at(i) << 16 | at(i + 1) << 8 | at(i + 2);
    out += kLetters[three >> 18];
    out += kLetters[three >> 12 & 63];
    out += i + 1 < bytes.size() ? kLetters[three >> 6 & 63] : '=';
    out += i + 2 < bytes.size() ? kLetters[three & 63] : '=';
  }
  return out;
}

std::string svg_file_of(const Drawing& drawing) {
  const std::string svg = svg_of(drawing);
  constexpr std::string_view kOpen = "<svg ";
  return "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
         "<svg xmlns=\"http://www.w3.org/2000/svg\" " +
         svg.substr(kOpen.size());
}

std::string svg_of(const Drawing& drawing) {
  std::string out = fmt::format(
      "<svg viewBox=\"0 0 {0:g} {1:g}\" width=\"{0:g}mm\" height=\"{1:g}mm\" role=\"img\">\n",
      drawing.width_mm, drawing.height_mm);
  if (const auto& image = drawing.image)
    out += fmt::format(
        "<image x=\"{:g}\" y=\"{:g}\" width=\"{:g}\" height=\"{:g}\" preserveAspectRatio=\"none\" "
        "href=\"data:image/{};base64,{}\"/>\n",
        image->x, image->y, image->width_mm, image->height_mm, image->kind, base64(image->bytes));
  for (const auto& line : drawing.lines) {
    const std::string colour = colour_of(line.series, line.colour);
    out += fmt::format(
        "<{} fill=\"{}\" fill-opacity=\"{:g}\" stroke=\"{}\" stroke-width=\"{:g}\"{} points=\"",
        line.closed ? "polygon" : "polyline", line.filled ? colour : "none", line.fill,
        line.width_mm > 0 ? colour : "none", line.width_mm, pattern_of(line));
    for (const auto& [x, y] : line.points) out += fmt::format("{:.3f},{:.3f} ", x, y);
    out += "\"/>\n";
  }
  for (const auto& text : drawing.texts) {
    const char* anchor = text.anchor == DrawingText::Anchor::start    ? "start"
                         : text.anchor == DrawingText::Anchor::middle ? "middle"
                                                                      : "end";
    const std::string turn =
        text.upward ? fmt::format(" transform=\"rotate(-90 {:.2f} {:.2f})\"", text.x, text.y) : "";
    out += fmt::format(
        "<text x=\"{:.2f}\" y=\"{:.2f}\" font-size=\"{:g}\" text-anchor=\"{}\" "
        "fill=\"{}\"{}>{}</text>\n",
        text.x, text.y, text.size_mm, anchor, colour_of(text.series, text.colour), turn,
        xml_text(text.text));
  }
  return out + "</svg>\n";
}

}  // namespace bq::inline report
