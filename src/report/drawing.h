#pragma once

#include <optional>
#include <string>
#include <vector>

namespace bq::inline report {

/// A picture as data: lengths in mm, y downward. Painted on pages and written as SVG.
struct DrawingLine {
  std::vector<std::pair<double, double>> points;
  double width_mm = 0.3;
  bool closed = false, filled = false, dashed = false;
  std::optional<int> series{};       ///< its colour and line pattern; empty: ink
  double fill = 0.12;                ///< opacity of a filled one
  bool solid = false;                ///< without the series' line pattern
  std::optional<unsigned> colour{};  ///< 0xRRGGBB on a photograph; wins over series and ink
};
struct DrawingText {
  double x = 0, y = 0;  ///< of the baseline
  std::string text;
  double size_mm = 2.8;
  enum class Anchor { start, middle, end } anchor = Anchor::start;
  bool upward = false;  ///< turned a quarter, read from below
  std::optional<int> series{};
  std::optional<unsigned> colour{};  ///< 0xRRGGBB
};
/// A photograph, under all lines.
struct DrawingImage {
  std::string bytes;  ///< a whole PNG or JPEG file
  std::string kind = "png";
  double x = 0, y = 0, width_mm = 0, height_mm = 0;
};
struct Drawing {
  double width_mm = 0, height_mm = 0;
  std::vector<DrawingLine> lines;
  std::vector<DrawingText> texts;
  std::optional<DrawingImage> image{};
};

/// Colour of the i-th steel or series on paper (0xRRGGBB) and its line pattern (mm on, off, …;
/// empty: solid): told apart with any colour vision, and in print without colour.
unsigned series_colour(int index);
const std::vector<double>& series_pattern(int index);

/// A whole <svg> element; ink is the current colour.
std::string svg_of(const Drawing& drawing);
/// The same as a file of its own: with the namespace that other programs look for.
std::string svg_file_of(const Drawing& drawing);
/// RFC 4648.
std::string base64(const std::string& bytes);

}  // namespace bq::inline report
