#pragma once

#include <cairo.h>

#include <functional>
#include <string>
#include <vector>

#include "report/drawing.h"
#include "report/page_image.h"

namespace bq::inline report {

/// Inks and letter sizes (mm) that all pages share.
namespace page_style {
inline constexpr double kInk[3] = {0.137, 0.157, 0.176}, kQuiet[3] = {0.30, 0.32, 0.34},
                        kRule[3] = {0.75, 0.73, 0.68}, kDanger[3] = {0.64, 0.20, 0.12};
inline constexpr double kTitle_mm = 6.2, kHeading_mm = 3.4, kBody_mm = 2.8, kTable_mm = 2.3;
}  // namespace page_style

struct PageSize {
  double width_mm = 148, height_mm = 210, margin_mm = 9;
};
inline constexpr PageSize kA5{148, 210, 9}, kA4{210, 297, 12};

/// Writes downward in mm on a Cairo surface of any kind and turns the page when it is full; Pango
/// wraps and shapes the text, letters at their own widths, so that pages break alike on screen and
/// paper.
class PageWriter {
 public:
  /// `new_page` is called after each finished page but the last.
  PageWriter(cairo_t* cairo, PageSize size, std::function<void()> new_page)
      : cairo_(cairo), size_(size), new_page_(std::move(new_page)), y_(size.margin_mm) {}

  void text(const std::string& words, double size_mm, const double* colour, double indent_mm = 0,
            double width_mm = 0, bool bold = false, bool advance = true);
  /// Label left, value right of it; the row is as tall as the taller one.
  void row(const std::string& label, const std::string& value);
  /// A table, its heads again on each new page; columns as wide as their texts ask for, numbers to
  /// the right.
  void table(const std::vector<std::string>& heads,
             const std::vector<std::vector<std::string>>& rows);
  void rule();
  void gap(double mm) { y_ += mm; }
  void figure(const Drawing& drawing);
  /// The next text starts on a new page.
  void turn();
  /// What is left of the page, mm.
  [[nodiscard]] double left() const { return size_.height_mm - size_.margin_mm - y_; }
  /// Turns the page unless so much is left on it.
  void room(double tall);
  [[nodiscard]] double width() const { return size_.width_mm - 2 * size_.margin_mm; }

 private:
  double tall_of(const std::string& words, double size_mm, double width_mm) const;
  double wide_of(const std::string& words, double size_mm) const;
  void cells(const std::vector<std::string>& texts, const std::vector<double>& widths,
             const std::vector<bool>& right, const double* colour);

  cairo_t* cairo_;
  PageSize size_;
  std::function<void()> new_page_;
  double y_, last_height_ = 0;
};

/// What is written, on pages of pixels or as a PDF document (the same bytes for the same content).
using PageContent = std::function<void(PageWriter&)>;
std::vector<PageImage> pages_of(const PageContent& content, PageSize size, double dots_per_inch);
/// `date`: ISO 8601 day that stands in the document's properties, "" none.
std::string pdf_of(const PageContent& content, PageSize size, const std::string& title,
                   const std::string& date);

}  // namespace bq::inline report
