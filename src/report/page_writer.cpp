#include "report/page_writer.h"

#include <cairo-pdf.h>
#include <pango/pangocairo.h>

#include <algorithm>
#include <cctype>
#include <cmath>
#include <memory>

#include "report/typeface.h"

namespace bq::inline report {
namespace {

using namespace page_style;
using Layout = std::unique_ptr<PangoLayout, decltype(&g_object_unref)>;
using Surface = std::unique_ptr<cairo_surface_t, decltype(&cairo_surface_destroy)>;
using Context = std::unique_ptr<cairo_t, decltype(&cairo_destroy)>;

Layout layout_of(cairo_t* cairo, const std::string& words, double size_mm, double width_mm,
                 bool bold) {
  Layout layout(pango_cairo_create_layout(cairo), g_object_unref);
  // Letters at their own widths, whatever the resolution: the page breaks alike on screen and
  // paper.
  std::unique_ptr<cairo_font_options_t, decltype(&cairo_font_options_destroy)> options(
      cairo_font_options_create(), cairo_font_options_destroy);
  cairo_font_options_set_hint_metrics(options.get(), CAIRO_HINT_METRICS_OFF);
  cairo_font_options_set_hint_style(options.get(), CAIRO_HINT_STYLE_NONE);
  pango_cairo_context_set_font_options(pango_layout_get_context(layout.get()), options.get());
  pango_context_set_round_glyph_positions(pango_layout_get_context(layout.get()), FALSE);
  pango_layout_context_changed(layout.get());
  std::unique_ptr<PangoFontDescription, decltype(&pango_font_description_free)> font(
      pango_font_description_from_string(paper_typeface()), pango_font_description_free);
  pango_font_description_set_absolute_size(font.get(), size_mm * PANGO_SCALE);
  pango_font_description_set_weight(font.get(), bold ? PANGO_WEIGHT_BOLD : PANGO_WEIGHT_NORMAL);
  pango_layout_set_font_description(layout.get(), font.get());
  pango_layout_set_wrap(layout.get(), PANGO_WRAP_WORD_CHAR);
  if (width_mm > 0) pango_layout_set_width(layout.get(), int(width_mm * PANGO_SCALE));
  pango_layout_set_text(layout.get(), words.data(), int(words.size()));
  return layout;
}

double height_of(PangoLayout* layout) {
  int height = 0;
  pango_layout_get_size(layout, nullptr, &height);
  return double(height) / PANGO_SCALE;
}

}  // namespace

void PageWriter::text(const std::string& words, double size_mm, const double* colour,
                      double indent_mm, double width_mm, bool bold, bool advance) {
  const Layout layout =
      layout_of(cairo_, words, size_mm, width_mm > 0 ? width_mm : width() - indent_mm, bold);
  const double tall = height_of(layout.get());
  room(advance ? tall : tall + 6);  // what stands beside the next text stays with it
  cairo_set_source_rgb(cairo_, colour[0], colour[1], colour[2]);
  cairo_move_to(cairo_, size_.margin_mm + indent_mm, y_);
  pango_cairo_show_layout(cairo_, layout.get());
  last_height_ = tall;
  if (advance) y_ += tall + 0.6;
}

double PageWriter::tall_of(const std::string& words, double size_mm, double width_mm) const {
  return height_of(layout_of(cairo_, words, size_mm, width_mm, false).get());
}

void PageWriter::row(const std::string& label, const std::string& value) {
  constexpr double kLabel = 44;
  const double wide = width() - kLabel;
  room(tall_of(value, kBody_mm, wide));
  text(label, kBody_mm, kQuiet, 0, kLabel - 2, false, false);
  const double label_height = last_height_;
  text(value, kBody_mm, kInk, kLabel, wide, false, false);
  y_ += std::max(label_height, last_height_) + 0.6;
}

void PageWriter::rule() {
  gap(1.2);
  room(8);
  cairo_set_source_rgb(cairo_, kRule[0], kRule[1], kRule[2]);
  cairo_set_line_width(cairo_, 0.2);
  cairo_move_to(cairo_, size_.margin_mm, y_);
  cairo_line_to(cairo_, size_.width_mm - size_.margin_mm, y_);
  cairo_stroke(cairo_);
  gap(1);
}

double PageWriter::wide_of(const std::string& words, double size_mm) const {
  int width = 0;
  pango_layout_get_size(layout_of(cairo_, words, size_mm, -1, false).get(), &width, nullptr);
  return double(width) / PANGO_SCALE;
}

void PageWriter::cells(const std::vector<std::string>& texts, const std::vector<double>& widths,
                       const std::vector<bool>& right, const double* colour) {
  double tall = 0, x = size_.margin_mm;
  std::vector<Layout> layouts;
  for (std::size_t i = 0; i < widths.size(); ++i) {
    layouts.push_back(
        layout_of(cairo_, i < texts.size() ? texts[i] : "", kTable_mm, widths[i] - 2, false));
    if (right[i]) pango_layout_set_alignment(layouts.back().get(), PANGO_ALIGN_RIGHT);
    tall = std::max(tall, height_of(layouts.back().get()));
  }
  cairo_set_source_rgb(cairo_, colour[0], colour[1], colour[2]);
  for (std::size_t i = 0; i < widths.size(); ++i) {
    cairo_move_to(cairo_, x, y_);
    pango_cairo_show_layout(cairo_, layouts[i].get());
    x += widths[i];
  }
  y_ += tall + 0.7;
}

void PageWriter::table(const std::vector<std::string>& heads,
                       const std::vector<std::vector<std::string>>& rows) {
  if (rows.empty()) return;
  std::vector<double> widths;
  std::vector<bool> right;
  double sum = 0;
  for (std::size_t c = 0; c < heads.size(); ++c) {
    double wide = 0;
    for (std::size_t from = 0; from <= heads[c].size();) {  // heads wrap
      const std::size_t end = std::min(heads[c].find(' ', from), heads[c].size());
      wide = std::max(wide, wide_of(heads[c].substr(from, end - from), kTable_mm));
      from = end + 1;
    }
    bool numbers = true;
    for (const auto& row : rows) {
      const std::string& cell = c < row.size() ? row[c] : heads[c];
      wide = std::max(wide, wide_of(cell, kTable_mm));
      numbers = numbers && (cell.empty() || std::isdigit(static_cast<unsigned char>(cell[0])) ||
                            cell.starts_with("−") || cell.starts_with("+") || cell[0] == '<' ||
                            cell[0] == '>');
    }
    widths.push_back(std::min(wide + 3, 90.0));
    right.push_back(numbers);
    sum += widths.back();
  }
  // Columns of words give way where the page is too narrow.
  if (sum > width()) {
    double fixed = 0, words = 0;
    for (std::size_t c = 0; c < widths.size(); ++c)
      (right[c] || widths[c] < 22 ? fixed : words) += widths[c];
    const double share = words > 0 && fixed < width() - 20 ? (width() - fixed) / words : 0;
    for (std::size_t c = 0; c < widths.size(); ++c)
      widths[c] *= share > 0 ? (right[c] || widths[c] < 22 ? 1 : share) : width() / sum;
  }
  const auto head = [&] {
    cells(heads, widths, right, kQuiet);
    cairo_set_source_rgb(cairo_, kRule[0], kRule[1], kRule[2]);
    cairo_set_line_width(cairo_, 0.15);
    cairo_move_to(cairo_, size_.margin_mm, y_ - 0.3);
    cairo_line_to(cairo_, size_.width_mm - size_.margin_mm, y_ - 0.3);
    cairo_stroke(cairo_);
    y_ += 0.4;
  };
  room(16);
  head();
  for (const auto& row : rows) {
    double tall = 0;
    for (std::size_t c = 0; c < widths.size() && c < row.size(); ++c)
      tall = std::max(tall, tall_of(row[c], kTable_mm, widths[c] - 2));
    if (y_ + tall > size_.height_mm - size_.margin_mm) {
      turn();
      head();
    }
    cells(row, widths, right, kInk);
  }
  gap(1);
}

void PageWriter::figure(const Drawing& drawing) {
  room(drawing.height_mm);
  if (drawing.image && drawing.image->kind == "png") {
    struct Rest {
      const std::string& bytes;
      std::size_t at = 0;
    } rest{drawing.image->bytes};
    cairo_surface_t* picture = cairo_image_surface_create_from_png_stream(
        [](void* closure, unsigned char* data, unsigned int count) {
          auto& r = *static_cast<Rest*>(closure);
          if (r.bytes.size() - r.at < count) return CAIRO_STATUS_READ_ERROR;
          r.bytes.copy(reinterpret_cast<char*>(data), count, r.at);
          r.at += count;
          return CAIRO_STATUS_SUCCESS;
        },
        &rest);
    const int wide = cairo_image_surface_get_width(picture),
              tall = cairo_image_surface_get_height(picture);
    if (cairo_surface_status(picture) == CAIRO_STATUS_SUCCESS && wide > 0 && tall > 0) {
      cairo_save(cairo_);
      cairo_translate(cairo_, size_.margin_mm + drawing.image->x, y_ + drawing.image->y);
      cairo_scale(cairo_, drawing.image->width_mm / wide, drawing.image->height_mm / tall);
      cairo_set_source_surface(cairo_, picture, 0, 0);
      cairo_paint(cairo_);
      cairo_restore(cairo_);
    }
    cairo_surface_destroy(picture);
  }
  const auto ink = [&](const std::optional<int>& series, double alpha,
                       const std::optional<unsigned>& colour) {
    if (!series && !colour) {
      cairo_set_source_rgba(cairo_, kInk[0], kInk[1], kInk[2], alpha);
      return;
    }
    const unsigned rgb = colour ? *colour : series_colour(*series);
    cairo_set_source_rgba(cairo_, (rgb >> 16) / 255.0, (rgb >> 8 & 0xff) / 255.0,
                          (rgb & 0xff) / 255.0, alpha);
  };
  for (const auto& line : drawing.lines) {
    bool first = true;
    for (const auto& [x, y] : line.points) {
      (first ? cairo_move_to : cairo_line_to)(cairo_, size_.margin_mm + x, y_ + y);
      first = false;
    }
    if (line.closed) cairo_close_path(cairo_);
    if (line.filled) {
      ink(line.series, line.fill, line.colour);
      cairo_fill_preserve(cairo_);
    }
    static const std::vector<double> dashes{1.5, 1};
    const bool patterned = line.series && !line.closed && !line.solid;
    const std::vector<double>& pattern =
        line.dashed || !patterned ? dashes : series_pattern(*line.series);
    cairo_set_dash(cairo_, pattern.data(), line.dashed || patterned ? int(pattern.size()) : 0, 0);
    ink(line.series, 1, line.colour);
    cairo_set_line_width(cairo_, line.width_mm);
    if (line.width_mm > 0)
      cairo_stroke(cairo_);
    else
      cairo_new_path(cairo_);
  }
  cairo_set_dash(cairo_, nullptr, 0, 0);
  for (const auto& label : drawing.texts) {
    const Layout layout = layout_of(cairo_, label.text, label.size_mm, -1, false);
    int width = 0;
    pango_layout_get_size(layout.get(), &width, nullptr);
    const double wide = double(width) / PANGO_SCALE;
    const double shift = label.anchor == DrawingText::Anchor::start    ? 0
                         : label.anchor == DrawingText::Anchor::middle ? wide / 2
                                                                       : wide;
    const double base = double(pango_layout_get_baseline(layout.get())) / PANGO_SCALE;
    ink(label.series, 1, label.colour);
    cairo_save(cairo_);
    cairo_translate(cairo_, size_.margin_mm + label.x, y_ + label.y);
    if (label.upward) cairo_rotate(cairo_, -1.5707963267948966);
    cairo_move_to(cairo_, -shift, -base);
    pango_cairo_show_layout(cairo_, layout.get());
    cairo_restore(cairo_);
  }
  y_ += drawing.height_mm;
}

void PageWriter::turn() {
  if (y_ <= size_.margin_mm) return;
  new_page_();
  y_ = size_.margin_mm;
}

void PageWriter::room(double tall) {
  if (y_ + tall <= size_.height_mm - size_.margin_mm || y_ <= size_.margin_mm) return;
  turn();
}

std::vector<PageImage> pages_of(const PageContent& content, PageSize size, double dots_per_inch) {
  const double scale = std::clamp(dots_per_inch, 36.0, 600.0) / 25.4;
  const int width = int(std::lround(size.width_mm * scale)),
            height = int(std::lround(size.height_mm * scale));
  const Surface surface(cairo_image_surface_create(CAIRO_FORMAT_RGB24, width, height),
                        cairo_surface_destroy);
  const Context cairo(cairo_create(surface.get()), cairo_destroy);
  cairo_scale(cairo.get(), scale, scale);
  std::vector<PageImage> pages;
  const auto blank = [&] {
    cairo_set_source_rgb(cairo.get(), 1, 1, 1);
    cairo_paint(cairo.get());
  };
  const auto keep = [&] {
    cairo_surface_flush(surface.get());
    PageImage page{width, height,
                   std::vector<std::uint32_t>(std::size_t(width) * std::size_t(height))};
    const unsigned char* data = cairo_image_surface_get_data(surface.get());
    const int stride = cairo_image_surface_get_stride(surface.get());
    for (int row = 0; row < height; ++row) {
      const auto* from =
          reinterpret_cast<const std::uint32_t*>(data + std::ptrdiff_t(row) * stride);
      std::transform(from, from + width, page.pixels.begin() + std::ptrdiff_t(row) * width,
                     [](std::uint32_t pixel) { return pixel | 0xff000000U; });
    }
    pages.push_back(std::move(page));
  };
  blank();
  PageWriter writer(cairo.get(), size, [&] {
    keep();
    blank();
  });
  content(writer);
  keep();
  return pages;
}

std::string pdf_of(const PageContent& content, PageSize size, const std::string& title,
                   const std::string& date) {
  constexpr double kPointsPerMm = 72 / 25.4;
  std::string out;
  const auto append = [](void* closure, const unsigned char* data, unsigned length) {
    static_cast<std::string*>(closure)->append(reinterpret_cast<const char*>(data), length);
    return CAIRO_STATUS_SUCCESS;
  };
  {
    const Surface surface(
        cairo_pdf_surface_create_for_stream(append, &out, size.width_mm * kPointsPerMm,
                                            size.height_mm * kPointsPerMm),
        cairo_surface_destroy);
    cairo_pdf_surface_set_metadata(surface.get(), CAIRO_PDF_METADATA_TITLE, title.c_str());
    // The content's day, not that of the printing: the same content gives the same bytes.
    cairo_pdf_surface_set_metadata(surface.get(), CAIRO_PDF_METADATA_CREATE_DATE,
                                   ((date.empty() ? "2000-01-01" : date) + "T00:00:00Z").c_str());
    const Context cairo(cairo_create(surface.get()), cairo_destroy);
    cairo_scale(cairo.get(), kPointsPerMm, kPointsPerMm);
    PageWriter writer(cairo.get(), size, [&] { cairo_show_page(cairo.get()); });
    content(writer);
    cairo_show_page(cairo.get());
    cairo_surface_finish(surface.get());
  }
  return out;
}

}  // namespace bq::inline report
