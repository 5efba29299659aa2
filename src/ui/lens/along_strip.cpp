#include <QPainter>
#include <algorithm>

#include "quantity/number.h"
#include "ui/lens/lens_panels.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"

namespace bq::ui {

AlongStrip::AlongStrip(QWidget* parent) : QWidget(parent) {
  setMinimumHeight(84);
  setAccessibleName(tr("Depth along the apex"));
}

void AlongStrip::show_stretch(const std::vector<double>& depth_px, double um_per_px,
                              double length_um, double deepest_um) {
  depth_um_.clear();
  for (const double depth : depth_px) depth_um_.push_back(um_per_px * depth);
  length_um_ = length_um;
  deepest_um_ = deepest_um;
  setAccessibleDescription(
      deepest_um_ > 0
          ? tr("%1 µm of apex, the deepest chip %2 µm.")
                .arg(text_of(print_number(length_um_, 3)), text_of(print_number(deepest_um_, 3)))
          : tr("%1 µm of apex without a chip.").arg(text_of(print_number(length_um_, 3))));
  update();
}

void AlongStrip::paintEvent(QPaintEvent*) {
  if (depth_um_.size() < 2) return;
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const Theme& colours = theme();
  const auto [least, most] = std::minmax_element(depth_um_.begin(), depth_um_.end());
  const double low = std::min(0.0, *least), high = std::max(*most, low + 1);
  const QFontMetricsF metrics(font());
  const double top = 4, bottom = height() - metrics.height() - 4, left = 2, right = width() - 2;
  const auto y = [&](double um) { return top + (um - low) / (high - low) * (bottom - top); };
  painter.setPen(QPen(colours.hairline, 1));
  painter.drawLine(QPointF(left, y(0)), QPointF(right, y(0)));
  QPolygonF line;
  for (std::size_t i = 0; i < depth_um_.size(); ++i)
    line << QPointF(left + (right - left) * double(i) / double(depth_um_.size() - 1),
                    y(depth_um_[i]));
  painter.setPen(QPen(colours.ink, 1.4));
  painter.drawPolyline(line);
  painter.setPen(colours.quiet);
  painter.drawText(QRectF(left, bottom + 2, right - left, metrics.height()), Qt::AlignLeft,
                   tr("%1 µm of apex").arg(text_of(print_number(length_um_, 3))));
  if (deepest_um_ > 0)
    painter.drawText(QRectF(left, bottom + 2, right - left, metrics.height()), Qt::AlignRight,
                     tr("deepest chip %1 µm").arg(text_of(print_number(deepest_um_, 3))));
}

}  // namespace bq::ui
