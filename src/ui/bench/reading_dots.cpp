#include "ui/bench/reading_dots.h"

#include <QPainter>
#include <algorithm>

#include "ui/parts/stamps.h"
#include "ui/theme/theme.h"

namespace bq::ui {

ReadingDots::ReadingDots(QWidget* parent) : QWidget(parent) {
  setFixedHeight(52);
  setAccessibleName(tr("Readings of this checkpoint"));
}

void ReadingDots::show_dots(const std::vector<Dot>& dots, const QString& spread) {
  dots_ = dots;
  spread_ = spread;
  setAccessibleDescription(spread);
  update();
}

void ReadingDots::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setFont(font_of(kBody));
  painter.setPen(t.quiet);
  painter.drawText(QRect(0, 30, width(), 20), Qt::AlignLeft | Qt::AlignVCenter, spread_);
  painter.setPen(QPen(t.hairline, 1));
  painter.drawLine(0, 16, width(), 16);
  if (dots_.empty()) return;
  double low = 1e300, high = -1e300;
  for (const auto& dot : dots_) {
    low = std::min(low, dot.value);
    high = std::max(high, dot.value);
  }
  // The line spans at least ± 10 %, so that close readings look close.
  const double centre = 0.5 * (low + high);
  const double half = std::max(0.5 * (high - low), 0.1 * centre);
  Stamps plain = Stamps::discs(devicePixelRatioF(), 6, QPen(t.ink, 1.2), t.ink);
  for (const auto& dot : dots_) {
    const double x = 14 + (width() - 28) * (0.5 + 0.5 * (dot.value - centre) / half);
    if (dots_.size() > kManyMarks && !dot.suspect && !dot.excluded) {
      plain.put(painter, QPointF(x, 16));
      continue;
    }
    painter.setPen(QPen(t.ink, dot.suspect ? 2.2 : 1.2));
    painter.setBrush(dot.excluded || dot.suspect ? t.ground : t.ink);
    painter.drawEllipse(QPointF(x, 16), dot.suspect ? 8 : 6, dot.suspect ? 8 : 6);
    if (dot.excluded) painter.drawLine(QPointF(x - 6, 22), QPointF(x + 6, 10));
  }
}

}  // namespace bq::ui
