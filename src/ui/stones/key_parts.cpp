#include "ui/stones/key_parts.h"

#include <QPainter>
#include <algorithm>

#include "ui/stones/condition_drawing.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {

constexpr int kBarRow = 36, kBarsShown = 4;

QString chance_text(double p) {
  return p > 0.995 ? QStringLiteral("> 99 %") : QStringLiteral("%1 %").arg(p * 100, 0, 'f', 0);
}

}  // namespace

AnswerButton::AnswerButton(const EvidenceAnswer& answer, int number)
    : draw_(QString::fromStdString(answer.draw)), number_(number) {
  setText(QString::fromStdString(answer.text));
  setAccessibleName(tr("%1 (key %2)").arg(text(), QString::number(number)));
  setToolTip(text());
  setMinimumSize(120, draw_.isEmpty() ? 46 : 112);
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  setCursor(Qt::PointingHandCursor);
  setFocusPolicy(Qt::TabFocus);
}

void AnswerButton::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter painter(this);
  paint_choice(painter, *this);
  const int words = draw_.isEmpty() ? height() : 54;
  if (!draw_.isEmpty())
    paint_condition(painter, QRectF(6, 5, width() - 12, height() - words - 6), draw_);
  painter.setPen(t.ink);
  painter.setFont(font_of(12, true));
  painter.drawText(QRect(7, height() - words, 14, words), Qt::AlignVCenter,
                   QString::number(number_));
  painter.setFont(font_of(12));
  painter.drawText(QRect(22, height() - words, width() - 28, words),
                   Qt::AlignVCenter | Qt::TextWordWrap, text());
}

StandingBars::StandingBars() { setAccessibleName(tr("How probable each outcome is")); }

void StandingBars::show_result(const EvidenceKey* key, const EvidenceResult& result) {
  key_ = key;
  const auto shown = std::min<std::size_t>(kBarsShown, result.ranked.size());
  ranked_.assign(result.ranked.begin(), result.ranked.begin() + std::ptrdiff_t(shown));
  setFixedHeight(int(ranked_.size()) * kBarRow + 2);
  update();
}

void StandingBars::paintEvent(QPaintEvent*) {
  if (!key_) return;
  const Theme& t = theme();
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  for (std::size_t i = 0; i < ranked_.size(); ++i) {
    const EvidenceOutcome& outcome = key_->outcomes[ranked_[i].outcome];
    const double y = double(i) * kBarRow;
    paint_condition(painter, QRectF(2, y + 2, 54, kBarRow - 6),
                    QString::fromStdString(outcome.draw));
    painter.setPen(t.ink);
    painter.setFont(font_of(12, i == 0));
    const QString name =
        QFontMetrics(painter.font())
            .elidedText(QString::fromStdString(outcome.name), Qt::ElideRight, width() - 120);
    painter.drawText(QRectF(64, y + 2, width() - 114, 18), Qt::AlignVCenter, name);
    painter.drawText(QRectF(width() - 50, y + 2, 46, 18), Qt::AlignRight | Qt::AlignVCenter,
                     chance_text(ranked_[i].probability));
    const QRectF bar(64, y + 22, width() - 72, 6);
    painter.setPen(QPen(t.hairline, 1));
    painter.setBrush(t.panel);
    painter.drawRect(bar);
    painter.fillRect(
        QRectF(bar.left(), bar.top(), bar.width() * ranked_[i].probability, bar.height()),
        i == 0 ? t.ink : t.quiet);
    const double sure = bar.left() + bar.width() * key_->sure;
    painter.setPen(QPen(t.ink, 1));
    painter.drawLine(QPointF(sure, bar.top() - 2), QPointF(sure, bar.bottom() + 2));
  }
}

}  // namespace bq::ui
