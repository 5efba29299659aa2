#include "report/micrograph_drawing.h"

#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline report {
namespace {

constexpr unsigned kLight = 0xffd277, kDark = 0x101214, kWhite = 0xf4f2ec;

void plate(Drawing& out, double x, double y, double width, double height) {
  DrawingLine box{
      {{x, y}, {x + width, y}, {x + width, y + height}, {x, y + height}}, 0, true, true};
  box.fill = 0.78;
  box.colour = kDark;
  out.lines.push_back(std::move(box));
}

struct Box {
  double x, y, width, height;
};

/// Labels that stand already are in `taken`: a new one goes up until it hides none, where that
/// leaves the picture down.
void label(Drawing& out, std::vector<Box>& taken, double x, double y, const std::string& text,
           double size) {
  // About as wide as digits are: the plate only has to hold them.
  double wide = 0.9 * size;
  for (const char c : text) wide += (static_cast<unsigned char>(c) & 0xc0) == 0x80 ? 0 : 0.6 * size;
  x = std::clamp(x, 0.0, std::max(0.0, out.width_mm - wide));
  y = std::clamp(y, 1.3 * size, out.height_mm - 0.5 * size);
  const double tall = 1.5 * size;
  const auto free_at = [&](double base) {
    const double top = base - 1.1 * size;
    return top >= 0 && top + tall <= out.height_mm &&
           std::none_of(taken.begin(), taken.end(), [&](const Box& b) {
             return x < b.x + b.width && b.x < x + wide && top < b.y + b.height && b.y < top + tall;
           });
  };
  for (const double way : {-1.0, 1.0}) {
    double base = y;
    for (int i = 0; i < 12 && !free_at(base); ++i) base += way * (tall + 0.1 * size);
    if (!free_at(base)) continue;
    y = base;
    break;
  }
  taken.push_back({x, y - 1.1 * size, wide, tall});
  plate(out, x, y - 1.1 * size, wide, tall);
  DrawingText words{x + 0.4 * size, y, text, size};
  words.colour = kWhite;
  out.texts.push_back(std::move(words));
}

void line(Drawing& out, std::vector<std::pair<double, double>> points, double width) {
  DrawingLine under{points, 2.6 * width};
  under.colour = kDark;
  out.lines.push_back(std::move(under));
  DrawingLine over{std::move(points), width};
  over.colour = kLight;
  out.lines.push_back(std::move(over));
}

}  // namespace

double scale_bar_um(double picture_width_um) { return round_below(0.28 * picture_width_um); }

Drawing draw_micrograph(const MicrographFigure& figure, double width_mm) {
  Drawing out;
  const PicturePart& part = figure.part;
  if (part.width < 1 || part.height < 1) return out;
  const double k = width_mm / part.width, size = 0.021 * width_mm, thin = 0.0022 * width_mm;
  out.width_mm = width_mm;
  out.height_mm = k * part.height;
  out.image = DrawingImage{figure.bytes, figure.kind, 0, 0, out.width_mm, out.height_mm};
  const auto at = [&](Spot p) {
    return std::pair(k * (p.x - part.x + 0.5), k * (p.y - part.y + 0.5));
  };
  std::vector<Box> taken;
  for (const auto& mark : figure.marks) {
    for (std::size_t i = 0; i + 1 < mark.drawn.size(); i += 2) {
      const auto a = at(mark.drawn[i]), b = at(mark.drawn[i + 1]);
      if (mark.box && i == 0)
        line(out, {a, {b.first, a.second}, b, {a.first, b.second}, a}, thin);
      else
        line(out, {a, b}, thin);
    }
    if (mark.drawn.empty()) continue;
    const auto first = at(mark.drawn[mark.drawn.size() > 1 ? 1 : 0]);
    label(out, taken, first.first + size, first.second - 0.4 * size, mark.label, size);
  }
  if (!figure.scale) {
    label(out, taken, size, out.height_mm - size, said("no scale: to be looked at, not measured"),
          size);
    return out;
  }
  const double um = scale_bar_um(part.width * figure.scale->um_per_px),
               wide = k * um / figure.scale->um_per_px, y = out.height_mm - 1.2 * size;
  plate(out, 0.6 * size, y - 2.6 * size, std::max(wide, 5 * size) + 2 * size, 3.2 * size);
  DrawingLine bar{{{1.6 * size, y - 0.5 * size},
                   {1.6 * size + wide, y - 0.5 * size},
                   {1.6 * size + wide, y},
                   {1.6 * size, y}},
                  0,
                  true,
                  true};
  bar.fill = 1;
  bar.colour = kWhite;
  out.lines.push_back(std::move(bar));
  DrawingText words{1.6 * size, y - 1.0 * size,
                    um >= 1000 ? print_number(um / 1000, 3) + " mm" : print_number(um, 3) + " µm",
                    size};
  words.colour = kWhite;
  out.texts.push_back(std::move(words));
  return out;
}

}  // namespace bq::inline report
