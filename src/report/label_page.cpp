#include "report/label_page.h"

#include <qrencode.h>

#include <algorithm>
#include <cmath>
#include <memory>

#include "edge/edge_mark.h"
#include "report/drawing.h"
#include "report/page_writer.h"

namespace bq::inline report {
namespace {

constexpr int kAcross = 3, kDown = 9;
constexpr double kLabelWide_mm = 62, kLabelTall_mm = 30, kSymbol_mm = 22, kLabelGap_mm = 4;

void rectangle(Drawing& sheet, double x, double y, double wide, double tall) {
  DrawingLine box;
  box.points = {{x, y}, {x + wide, y}, {x + wide, y + tall}, {x, y + tall}};
  box.closed = box.filled = true;
  box.fill = 1;
  box.width_mm = 0;
  sheet.lines.push_back(std::move(box));
}

void draw_code(Drawing& sheet, const std::string& text, double x, double y) {
  const auto symbol = qr_symbol(text);
  if (symbol.empty()) return;
  // Four modules of white all round belong to the symbol.
  const double module = kSymbol_mm / double(symbol.size() + 8);
  for (std::size_t row = 0; row < symbol.size(); ++row)
    for (std::size_t from = 0; from < symbol.size();) {
      if (!symbol[row][from]) {
        ++from;
        continue;
      }
      std::size_t to = from;
      while (to < symbol.size() && symbol[row][to]) ++to;
      rectangle(sheet, x + module * double(from + 4), y + module * double(row + 4),
                module * double(to - from), module);
      from = to;
    }
}

/// The mark of an edge as in the window, its apex at (x, y).
void draw_edge(Drawing& sheet, const Label& label, double x, double y) {
  constexpr double kWide_mm = 9, kHigh_mm = 11;
  const EdgeMark mark = edge_mark(*label.geometry, label.finish, kWide_mm, kHigh_mm);
  const auto at = [&](const EdgeMark::Point& point) {
    return std::pair(x + point.first, y - point.second);
  };
  DrawingLine line;
  line.width_mm = 0.3;
  line.closed = line.filled = true;
  for (const auto& point : mark.outline) line.points.push_back(at(point));
  sheet.lines.push_back(std::move(line));
  if (mark.micro)
    sheet.lines.push_back(
        {{at(mark.micro->first), at(mark.micro->second)}, 0.2, false, false, false});
}

void draw_label(Drawing& sheet, const Label& label, double x) {
  sheet.lines.push_back(
      {{{x, 0}, {x + kLabelWide_mm, 0}, {x + kLabelWide_mm, kLabelTall_mm}, {x, kLabelTall_mm}},
       0.1,
       true,
       false,
       true});
  draw_code(sheet, label.code, x + 1, kLabelGap_mm);
  const double words = x + kSymbol_mm + 2;
  // A long name in smaller letters, never cut off by the label's edge.
  const double room = kLabelWide_mm - kSymbol_mm - 4;
  const double size =
      std::clamp(room / (0.56 * double(std::max<std::size_t>(label.name.size(), 1))), 1.8, 4.2);
  sheet.texts.push_back({words, 8, label.name, size});
  double at = 12.5;
  for (const auto& line : label.beneath) {
    const double small =
        std::clamp(room / (0.56 * double(std::max<std::size_t>(line.size(), 1))), 1.5, 2.5);
    sheet.texts.push_back({words, at, line, small});
    at += 3.6;
  }
  if (label.geometry) draw_edge(sheet, label, x + kLabelWide_mm - 9, kLabelTall_mm - 2);
  sheet.texts.push_back({words, kLabelTall_mm - 2, label.code, 1.6});
}

void write_sheets(const std::vector<Label>& labels, PageWriter& page) {
  int row = 0;
  for (std::size_t first = 0; first < labels.size(); first += kAcross, ++row) {
    if (row > 0 && row % kDown == 0) page.turn();
    Drawing sheet;
    sheet.width_mm = kAcross * kLabelWide_mm;
    sheet.height_mm = kLabelTall_mm;
    for (std::size_t i = first; i < std::min(labels.size(), first + kAcross); ++i)
      draw_label(sheet, labels[i], double(i - first) * kLabelWide_mm);
    page.figure(sheet);
  }
}

}  // namespace

std::vector<std::vector<bool>> qr_symbol(const std::string& text) {
  const std::unique_ptr<QRcode, void (*)(QRcode*)> made(
      QRcode_encodeString8bit(text.c_str(), 0, QR_ECLEVEL_M), QRcode_free);
  if (!made) return {};
  const auto width = std::size_t(made->width);
  std::vector<std::vector<bool>> out(width, std::vector<bool>(width));
  for (std::size_t row = 0; row < width; ++row)
    for (std::size_t column = 0; column < width; ++column)
      out[row][column] = (made->data[row * width + column] & 1) != 0;
  return out;
}

std::string labels_pdf(const std::vector<Label>& labels, const std::string& title) {
  return pdf_of([&](PageWriter& page) { write_sheets(labels, page); }, kA4, title, "");
}

std::vector<PageImage> label_pages(const std::vector<Label>& labels, double dots_per_inch) {
  return pages_of([&](PageWriter& page) { write_sheets(labels, page); }, kA4, dots_per_inch);
}

}  // namespace bq::inline report
