#pragma once

#include <string>
#include <vector>

namespace bq {

/// A picture as data: lengths in mm, y downward. Painted on pages and written as SVG.
struct DrawingLine {
  std::vector<std::pair<double, double>> points;
  double width_mm = 0.3;
  bool closed = false, filled = false, dashed = false;
};
struct DrawingText {
  double x = 0, y = 0;   ///< of the baseline
  std::string text;
  double size_mm = 2.8;
  enum class Anchor { start, middle, end } anchor = Anchor::start;
};
struct Drawing {
  double width_mm = 0, height_mm = 0;
  std::vector<DrawingLine> lines;
  std::vector<DrawingText> texts;
};

/// A whole <svg> element; ink is the current colour.
std::string svg_of(const Drawing& drawing);
/// & < > " as entities.
std::string escaped(const std::string& text);

}  // namespace bq
