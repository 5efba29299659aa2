#include "ui/bench/search_sketch.h"

#include <QPainter>
#include <algorithm>

#include "quantity/number.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"

namespace bq::ui {

SearchSketch::SearchSketch(QWidget* parent) : QWidget(parent) {
  setMinimumHeight(110);
  setAccessibleName(tr("The edge near its apex, to scale"));
}

void SearchSketch::show_search(const DamageSearch& search, const SearchProposal& next) {
  const auto sections = sections_of(search);
  has_last_ = !sections.empty();
  damaged_um_ = 0;
  QStringList said;
  if (has_last_) {
    last_ = sections.back();
    if (const auto damaged = damaged_thickness_um(search.rounds.back())) {
      damaged_um_ = *damaged;
      said << tr("damaged up to %1 µm thick, %2 µm from the apex")
                  .arg(text_of(print_number(damaged_um_, 3)),
                       text_of(print_number(last_.distance_um(damaged_um_), 3)));
    }
  }
  has_next_ = next.edge_angle_deg > 0 && (!has_last_ || damaged_um_ > 0);
  if (has_next_) {
    next_ = section_of(search, next);
    said << tr("next: %1")
                .arg(text_of(
                    describe(next_, next.micro_deg.has_value(), AngleConvention::per_side)));
  } else if (has_last_) {
    said << tr("as it was cut: %1")
                .arg(text_of(describe(last_, search.rounds.back().micro_deg.has_value(),
                                      AngleConvention::per_side)));
  }
  setAccessibleDescription(said.join(QStringLiteral("; ")));
  setVisible(has_last_ || has_next_);
  update();
}

void SearchSketch::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setFont(font_of(12));
  const ApexProfile& first = has_last_ ? last_ : next_;
  // As far up as twice the damage, or as the bevels reach.
  double reach = std::max(200.0, 2 * first.distance_um(std::max(damaged_um_, 30.0)));
  for (const auto& bevel : first.bevels)
    if (bevel.up_to_um > 0) reach = std::max(reach, 1.4 * first.distance_um(bevel.up_to_um));
  const double top = 18, bottom = height() - 6, px = (bottom - top) / reach;
  const double middle = std::min(width() * 0.3, 60 + first.thickness_um(reach) * px / 2);
  const auto outline = [&](const ApexProfile& profile, double recedes) {
    QPolygonF left, right;
    constexpr int kPoints = 120;
    for (int i = 0; i <= kPoints; ++i) {
      const double up = recedes + (reach - recedes) * i / kPoints;
      const double half = profile.thickness_um(up - recedes) / 2 * px, y = bottom - up * px;
      left << QPointF(middle - half, y);
      right.prepend(QPointF(middle + half, y));
    }
    return left + right;
  };
  // All that is damaged comes off, and the face behind is ground in until it is sharp again.
  const double recedes = has_last_ && has_next_ ? last_.distance_um(damaged_um_) : 0;
  if (has_last_) {
    painter.setPen(QPen(t.ink, 1.5));
    painter.setBrush(has_next_ ? QBrush(t.quiet, Qt::BDiagPattern) : QBrush(t.chosen));
    painter.drawPolygon(outline(last_, 0));
  }
  if (has_next_) {
    painter.setPen(QPen(t.ink, 2));
    painter.setBrush(t.chosen);
    painter.drawPolygon(outline(next_, recedes));
  }
  const double words = middle + first.thickness_um(reach) / 2 * px + 16;
  const auto note = [&](double up, const QString& text, const QColor& colour) {
    const double y = bottom - up * px;
    painter.setPen(QPen(colour, 1, Qt::DotLine));
    painter.drawLine(QPointF(middle - first.thickness_um(up) / 2 * px - 8, y),
                     QPointF(words - 4, y));
    painter.setPen(colour);
    painter.drawText(QRectF(words, y - 9, width() - words, 18), Qt::AlignLeft | Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(text, Qt::ElideRight, int(width() - words)));
  };
  if (damaged_um_ > 0)
    note(last_.distance_um(damaged_um_),
         tr("damaged up to where it is %1 µm thick: the new apex")
             .arg(text_of(print_number(damaged_um_, 3))),
         t.danger);
  painter.setPen(t.quiet);
  painter.drawText(QRectF(0, 0, width(), 16), Qt::AlignLeft,
                   has_last_ && has_next_ ? tr("to scale, apex down; hatched: comes off")
                                          : tr("to scale, apex down"));
}

}  // namespace bq::ui
