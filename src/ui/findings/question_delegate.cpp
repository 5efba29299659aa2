#include "ui/findings/question_delegate.h"

#include <QPainter>

#include "ui/theme/theme.h"

namespace bq::ui {

QSize QuestionDelegate::sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const {
  return {200, 36};
}

void QuestionDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option,
                             const QModelIndex& index) const {
  const Theme& t = theme();
  painter->save();
  painter->setRenderHint(QPainter::Antialiasing);
  const QRect box = option.rect;
  const bool chosen = option.state & QStyle::State_Selected;
  if (chosen) painter->fillRect(box, t.chosen);
  const int state = index.data(kStateRole).toInt();
  const QPointF middle(box.left() + 16, box.center().y() + 0.5);
  QPolygonF diamond;
  for (const QPointF& corner :
       {QPointF(0, -5.5), QPointF(5.5, 0), QPointF(0, 5.5), QPointF(-5.5, 0)})
    diamond << middle + corner;
  painter->setPen(QPen(t.ink, 1.3));
  if (state == under_way) {
    painter->setBrush(t.quiet);
    painter->setPen(Qt::NoPen);
    for (const int x : {-4, 0, 4}) painter->drawEllipse(middle + QPointF(x, 0), 1.2, 1.2);
  } else {
    painter->setBrush(state == answered ? QBrush(t.ink) : Qt::NoBrush);
    painter->drawPolygon(diamond);
  }
  painter->setFont(font_of(kBody, chosen));
  painter->setPen(state == cannot_tell ? t.quiet : t.ink);
  const QRect words = box.adjusted(32, 0, -6, 0);
  painter->drawText(words, Qt::AlignLeft | Qt::AlignVCenter,
                    painter->fontMetrics().elidedText(index.data(Qt::DisplayRole).toString(),
                                                      Qt::ElideRight, words.width()));
  painter->restore();
}

}  // namespace bq::ui
