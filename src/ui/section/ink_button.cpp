#include "ui/section/ink_button.h"

#include <QPainter>

#include "ui/section/marker_page.h"
#include "ui/theme/theme.h"

namespace bq::ui {

QString answer_text(InkSeen seen) {
  switch (seen) {
    case InkSeen::apex_only:
      return MarkerPage::tr("apex only");
    case InkSeen::whole_bevel:
      return MarkerPage::tr("whole bevel");
    case InkSeen::shoulder_only:
      return MarkerPage::tr("shoulder only");
    case InkSeen::middle_only:
      return MarkerPage::tr("middle only");
    case InkSeen::patchy:
      return MarkerPage::tr("patchy");
    case InkSeen::nothing:
      return MarkerPage::tr("nothing");
  }
  return {};
}

InkButton::InkButton(InkSeen seen, int key) : seen_(seen), key_(key) {
  setText(answer_text(seen));
  setAccessibleName(MarkerPage::tr("Ink gone: %1 (key %2)").arg(answer_text(seen)).arg(key));
  setMinimumSize(112, 80);
  setCursor(Qt::PointingHandCursor);
  setFocusPolicy(Qt::TabFocus);
}

void InkButton::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter painter(this);
  paint_choice(painter, *this);
  // The bevel: shoulder above, apex below; both edges of it named by their place.
  const QRectF bevel(width() / 2.0 - 34, 8, 68, 42);
  painter.setPen(Qt::NoPen);
  const auto bare = [&](double from, double to) {
    painter.fillRect(QRectF(bevel.left(), bevel.top() + from * bevel.height(), bevel.width(),
                            (to - from) * bevel.height()),
                     t.chosen);
  };
  painter.fillRect(bevel, t.panel);
  painter.fillRect(bevel, QBrush(t.ink, Qt::DiagCrossPattern));  // hatched: the ink is still there
  switch (seen_) {
    case InkSeen::apex_only:
      bare(0.66, 1);
      break;
    case InkSeen::whole_bevel:
      bare(0.05, 1);
      break;
    case InkSeen::shoulder_only:
      bare(0, 0.34);
      break;
    case InkSeen::middle_only:
      bare(0.33, 0.67);
      break;
    case InkSeen::patchy:
      for (int i = 0; i < 5; ++i)
        painter.fillRect(QRectF(bevel.left() + 6 + 13 * i, bevel.top() + (i * 17) % 30, 9, 10),
                         t.chosen);
      break;
    case InkSeen::nothing:
      break;
  }
  painter.setPen(QPen(t.ink, 2));
  painter.drawLine(bevel.bottomLeft() + QPointF(-8, 0),
                   bevel.bottomRight() + QPointF(8, 0));  // the apex
  painter.setPen(QPen(t.quiet, 1));
  painter.drawLine(bevel.topLeft() + QPointF(-8, 0), bevel.topRight() + QPointF(8, 0));
  painter.setPen(t.ink);
  painter.setFont(font_of(12));
  painter.drawText(QRect(2, 54, width() - 4, 20), Qt::AlignCenter,
                   QStringLiteral("%1  %2").arg(key_).arg(text()));
}

}  // namespace bq::ui
