#include <QPainter>

#include "quantity/angle.h"
#include "ui/bench/search_page.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"

namespace bq::ui {

Staircase::Staircase(QWidget* parent) : QWidget(parent) {
  setMinimumSize(280, 200);
  setAccessibleName(tr("Rounds of the search"));
}

void Staircase::show_search(const DamageSearch& search, const SearchProposal& next,
                            AngleConvention convention) {
  search_ = search;
  next_ = next;
  convention_ = convention;
  update();
}

QString Staircase::words() const {
  QStringList out;
  for (const auto& round : search_.rounds)
    out << QStringLiteral("%1 %2 cuts %3")
               .arg(QString::fromStdString(print_angle_number(round.edge_angle_deg, convention_)) +
                        QChar(0xb0),
                    QString::number(round.cuts), shown(round.look.found));
  return out.join(QStringLiteral("; "));
}

void Staircase::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setFont(font_of(12));
  const bool more =
      !search_.ended && next_.kind != SearchProposal::Kind::finished && next_.edge_angle_deg > 0;
  const int count = int(search_.rounds.size()) + (more ? 1 : 0);
  if (count == 0) return;
  double low = 1e9, high = 0;
  const auto angles = [&](double a) {
    low = std::min(low, a);
    high = std::max(high, a);
  };
  for (const auto& round : search_.rounds) angles(round.edge_angle_deg);
  if (more) angles(next_.edge_angle_deg);
  low = std::max(0.0, low - 1.5);
  high += 1.5;
  const QRectF box = QRectF(rect()).adjusted(58, 26, -12, -40);
  const double step = std::min(120.0, box.width() / count);
  const auto y = [&](double angle) {
    return box.bottom() - (angle - low) / (high - low) * box.height();
  };
  painter.setPen(t.ink);
  painter.drawText(QRectF(0, 0, width(), 20), Qt::AlignLeft | Qt::AlignVCenter,
                   convention_ == AngleConvention::per_side ? tr("bevel at the apex, per side")
                                                            : tr("bevel at the apex, inclusive"));
  double labelled = -100;
  QPointF last;
  for (int i = 0; i < count; ++i) {
    const bool planned = i == int(search_.rounds.size());
    const double angle =
        planned ? next_.edge_angle_deg : search_.rounds[std::size_t(i)].edge_angle_deg;
    const double left = box.left() + step * i, level = y(angle);
    painter.setPen(QPen(planned ? t.quiet : t.ink, planned ? 1.5 : 2.5,
                        planned ? Qt::DashLine : Qt::SolidLine));
    if (i) painter.drawLine(last, QPointF(left, level));
    painter.drawLine(QPointF(left, level), QPointF(left + step, level));
    last = {left + step, level};
    if (std::abs(level - labelled) > 14) {
      painter.setPen(t.quiet);
      painter.drawText(
          QRectF(0, level - 9, 52, 18), Qt::AlignRight | Qt::AlignVCenter,
          QString::fromStdString(print_angle_number(angle, convention_)) + QChar(0xb0));
      labelled = level;
    }
    const QPointF mark(left + step / 2, level);
    painter.setPen(planned ? t.quiet : t.ink);
    const QString cuts = planned ? tr("next: %1").arg(next_.cuts)
                                 : QString::number(search_.rounds[std::size_t(i)].cuts);
    painter.drawText(QRectF(left, height() - 36, step, 16), Qt::AlignCenter, cuts);
    if (planned) {
      painter.setBrush(Qt::NoBrush);
      painter.setPen(QPen(t.ochre, 2));
      painter.drawEllipse(mark, 7, 7);
      continue;
    }
    const auto& round = search_.rounds[std::size_t(i)];
    const bool clean = round.look.found == DamageFound::clean;
    painter.drawText(QRectF(left, height() - 20, step, 16), Qt::AlignCenter,
                     step > 62 ? shown(round.look.found)
                     : clean   ? tr("ok")
                               : QStringLiteral("✗"));
    // Clean is an open ring, damage a filled cross: not told by colour.
    painter.setBrush(t.panel);
    painter.setPen(QPen(clean ? t.ink : t.danger, 2));
    painter.drawEllipse(mark, round.confirmation ? 9 : 6, round.confirmation ? 9 : 6);
    if (round.confirmation && clean) painter.drawEllipse(mark, 4, 4);
    if (!clean) {
      painter.drawLine(mark + QPointF(-5, -5), mark + QPointF(5, 5));
      painter.drawLine(mark + QPointF(-5, 5), mark + QPointF(5, -5));
    }
  }
  painter.setPen(t.quiet);
  painter.drawText(QRectF(0, height() - 36, 54, 16), Qt::AlignRight | Qt::AlignVCenter, tr("cuts"));
}

}  // namespace bq::ui
