// Lays the card out once, on a Cairo surface of any kind; Pango wraps and shapes the text.
#include "report/card_page.h"

#include <cairo-pdf.h>
#include <pango/pangocairo.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <memory>

namespace bq {
namespace {

constexpr double kPageWidth_mm = 148, kPageHeight_mm = 210, kMargin_mm = 9;
constexpr double kInk[3] = {0.137, 0.157, 0.176}, kQuiet[3] = {0.30, 0.32, 0.34}, kRule[3] = {0.75, 0.73, 0.68}, kDanger[3] = {0.64, 0.20, 0.12};
constexpr double kTitle_mm = 6.2, kHeading_mm = 3.4, kBody_mm = 2.8;

using Layout = std::unique_ptr<PangoLayout, decltype(&g_object_unref)>;

/// Writes downward in mm and turns the page when it is full.
class Sheet {
 public:
  /// `new_page` is called after each finished page but the last.
  Sheet(cairo_t* cairo, std::function<void()> new_page) : cairo_(cairo), new_page_(std::move(new_page)) {}

  void text(const std::string& words, double size_mm, const double* colour, double indent_mm = 0, double width_mm = 0, bool bold = false, bool advance = true) {
    const double width = width_mm > 0 ? width_mm : kPageWidth_mm - 2 * kMargin_mm - indent_mm;
    const Layout layout = layout_of(words, size_mm, width, bold);
    int height = 0;
    pango_layout_get_size(layout.get(), nullptr, &height);
    const double tall = double(height) / PANGO_SCALE;
    room(advance ? tall : tall + 6);  // what stands beside the next text stays with it
    cairo_set_source_rgb(cairo_, colour[0], colour[1], colour[2]);
    cairo_move_to(cairo_, kMargin_mm + indent_mm, y_);
    pango_cairo_show_layout(cairo_, layout.get());
    last_height_ = tall;
    if (advance) y_ += tall + 0.6;
  }
  /// Label left, value right of it; the row is as tall as the taller one.
  void row(const std::string& label, const std::string& value) {
    constexpr double kLabel = 44;
    const double wide = kPageWidth_mm - 2 * kMargin_mm - kLabel;
    const Layout layout = layout_of(value, kBody_mm, wide, false);
    int height = 0;
    pango_layout_get_size(layout.get(), nullptr, &height);
    room(double(height) / PANGO_SCALE);
    text(label, kBody_mm, kQuiet, 0, kLabel - 2, false, false);
    const double label_height = last_height_;
    text(value, kBody_mm, kInk, kLabel, wide, false, false);
    y_ += std::max(label_height, last_height_) + 0.6;
  }
  void rule() {
    gap(1.2);
    room(8);
    cairo_set_source_rgb(cairo_, kRule[0], kRule[1], kRule[2]);
    cairo_set_line_width(cairo_, 0.2);
    cairo_move_to(cairo_, kMargin_mm, y_);
    cairo_line_to(cairo_, kPageWidth_mm - kMargin_mm, y_);
    cairo_stroke(cairo_);
    gap(1);
  }
  void gap(double mm) { y_ += mm; }
  void figure(const Drawing& drawing) {
    room(drawing.height_mm);
    for (const auto& line : drawing.lines) {
      bool first = true;
      for (const auto& [x, y] : line.points) {
        (first ? cairo_move_to : cairo_line_to)(cairo_, kMargin_mm + x, y_ + y);
        first = false;
      }
      if (line.closed) cairo_close_path(cairo_);
      if (line.filled) {
        cairo_set_source_rgba(cairo_, kInk[0], kInk[1], kInk[2], 0.12);
        cairo_fill_preserve(cairo_);
      }
      const double dash[2] = {1.5, 1};
      cairo_set_dash(cairo_, dash, line.dashed ? 2 : 0, 0);
      cairo_set_source_rgb(cairo_, kInk[0], kInk[1], kInk[2]);
      cairo_set_line_width(cairo_, line.width_mm);
      cairo_stroke(cairo_);
    }
    cairo_set_dash(cairo_, nullptr, 0, 0);
    for (const auto& label : drawing.texts) {
      const Layout layout = layout_of(label.text, label.size_mm, -1, false);
      int width = 0;
      pango_layout_get_size(layout.get(), &width, nullptr);
      const double wide = double(width) / PANGO_SCALE;
      const double shift = label.anchor == DrawingText::Anchor::start ? 0 : label.anchor == DrawingText::Anchor::middle ? wide / 2 : wide;
      cairo_set_source_rgb(cairo_, kInk[0], kInk[1], kInk[2]);
      cairo_move_to(cairo_, kMargin_mm + label.x - shift, y_ + label.y - double(pango_layout_get_baseline(layout.get())) / PANGO_SCALE);
      pango_cairo_show_layout(cairo_, layout.get());
    }
    y_ += drawing.height_mm;
  }

 private:
  Layout layout_of(const std::string& words, double size_mm, double width_mm, bool bold) {
    Layout layout(pango_cairo_create_layout(cairo_), g_object_unref);
    // Letters at their own widths, whatever the resolution: the page breaks alike on screen and paper.
    std::unique_ptr<cairo_font_options_t, decltype(&cairo_font_options_destroy)> options(cairo_font_options_create(), cairo_font_options_destroy);
    cairo_font_options_set_hint_metrics(options.get(), CAIRO_HINT_METRICS_OFF);
    cairo_font_options_set_hint_style(options.get(), CAIRO_HINT_STYLE_NONE);
    pango_cairo_context_set_font_options(pango_layout_get_context(layout.get()), options.get());
    pango_context_set_round_glyph_positions(pango_layout_get_context(layout.get()), FALSE);
    pango_layout_context_changed(layout.get());
    std::unique_ptr<PangoFontDescription, decltype(&pango_font_description_free)> font(pango_font_description_from_string("B612, sans"), pango_font_description_free);
    pango_font_description_set_absolute_size(font.get(), size_mm * PANGO_SCALE);
    pango_font_description_set_weight(font.get(), bold ? PANGO_WEIGHT_BOLD : PANGO_WEIGHT_NORMAL);
    pango_layout_set_font_description(layout.get(), font.get());
    pango_layout_set_wrap(layout.get(), PANGO_WRAP_WORD_CHAR);
    if (width_mm > 0) pango_layout_set_width(layout.get(), int(width_mm * PANGO_SCALE));
    pango_layout_set_text(layout.get(), words.data(), int(words.size()));
    return layout;
  }
  void room(double tall) {
    if (y_ + tall <= kPageHeight_mm - kMargin_mm || y_ <= kMargin_mm) return;
    new_page_();
    y_ = kMargin_mm;
  }

  cairo_t* cairo_;
  std::function<void()> new_page_;
  double y_ = kMargin_mm, last_height_ = 0;
};

void write(const EdgeCard& card, Sheet& sheet) {
  sheet.text(card.title, kTitle_mm, kInk, 0, 0, true);
  sheet.text("Edge card, " + card.subtitle + (card.date.empty() ? "" : "; sharpened " + card.date), kBody_mm, kQuiet);
  if (!card.section.lines.empty()) sheet.figure(card.section);
  for (const auto& block : card.blocks) {
    sheet.rule();
    sheet.text(block.heading, kHeading_mm, kInk, 0, 0, true);
    for (const auto& line : block.lines) sheet.row(line.label, line.value);
    int number = 0;
    for (const auto& step : block.steps) {
      sheet.text(std::to_string(++number) + ".", kBody_mm, kQuiet, 0, 6, false, false);
      sheet.text(step, kBody_mm, kInk, 6);
    }
    for (const auto& sentence : block.sentences) sheet.text(sentence, kBody_mm, kQuiet);
  }
  sheet.rule();
  for (const auto& caution : card.cautions) sheet.text(caution, kBody_mm, kDanger);
}

using Surface = std::unique_ptr<cairo_surface_t, decltype(&cairo_surface_destroy)>;
using Context = std::unique_ptr<cairo_t, decltype(&cairo_destroy)>;

}  // namespace

std::vector<PageImage> card_pages(const EdgeCard& card, double dots_per_inch) {
  const double scale = std::clamp(dots_per_inch, 36.0, 600.0) / 25.4;
  const int width = int(std::lround(kPageWidth_mm * scale)), height = int(std::lround(kPageHeight_mm * scale));
  const Surface surface(cairo_image_surface_create(CAIRO_FORMAT_RGB24, width, height), cairo_surface_destroy);
  const Context cairo(cairo_create(surface.get()), cairo_destroy);
  cairo_scale(cairo.get(), scale, scale);
  std::vector<PageImage> pages;
  const auto blank = [&] {
    cairo_set_source_rgb(cairo.get(), 1, 1, 1);
    cairo_paint(cairo.get());
  };
  const auto keep = [&] {
    cairo_surface_flush(surface.get());
    PageImage page{width, height, std::vector<std::uint32_t>(std::size_t(width) * std::size_t(height))};
    const unsigned char* data = cairo_image_surface_get_data(surface.get());
    const int stride = cairo_image_surface_get_stride(surface.get());
    for (int row = 0; row < height; ++row) {
      const auto* from = reinterpret_cast<const std::uint32_t*>(data + std::ptrdiff_t(row) * stride);
      std::transform(from, from + width, page.pixels.begin() + std::ptrdiff_t(row) * width, [](std::uint32_t pixel) { return pixel | 0xff000000U; });
    }
    pages.push_back(std::move(page));
  };
  blank();
  Sheet sheet(cairo.get(), [&] {
    keep();
    blank();
  });
  write(card, sheet);
  keep();
  return pages;
}

std::string card_pdf(const EdgeCard& card) {
  constexpr double kPointsPerMm = 72 / 25.4;
  std::string out;
  const auto append = [](void* closure, const unsigned char* data, unsigned length) {
    static_cast<std::string*>(closure)->append(reinterpret_cast<const char*>(data), length);
    return CAIRO_STATUS_SUCCESS;
  };
  {
    const Surface surface(cairo_pdf_surface_create_for_stream(append, &out, kPageWidth_mm * kPointsPerMm, kPageHeight_mm * kPointsPerMm), cairo_surface_destroy);
    cairo_pdf_surface_set_metadata(surface.get(), CAIRO_PDF_METADATA_TITLE, ("Edge card: " + card.title + ", " + card.subtitle).c_str());
    // The day of the sharpening, not of the printing: the same record gives the same bytes.
    cairo_pdf_surface_set_metadata(surface.get(), CAIRO_PDF_METADATA_CREATE_DATE, ((card.date.empty() ? "2000-01-01" : card.date) + "T00:00:00Z").c_str());
    const Context cairo(cairo_create(surface.get()), cairo_destroy);
    cairo_scale(cairo.get(), kPointsPerMm, kPointsPerMm);
    Sheet sheet(cairo.get(), [&] { cairo_show_page(cairo.get()); });
    write(card, sheet);
    cairo_show_page(cairo.get());
    cairo_surface_finish(surface.get());
  }
  return out;
}

}  // namespace bq
