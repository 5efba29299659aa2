#include "ui/verdict/chance_band.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "ui/parts/words.h"
#include "workflow/sentences.h"

namespace bq::ui {
namespace {

/// Below this an edge is one of "others".
constexpr double kWorthAName = 0.02;
constexpr int kBar_px = 16, kBracket_px = 6, kLine_px = 17;

}  // namespace

ChanceBand::ChanceBand(const Workbench& workbench, QWidget* parent)
    : QWidget(parent), workbench_(workbench) {
  setFixedHeight(kBar_px + kBracket_px + kLine_px + 2);
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  setAccessibleName(tr("How likely each edge is the best"));
}

void ChanceBand::show_edges(const std::vector<RankedEdge>& edges) {
  parts_.clear();
  others_ = 1;
  for (std::size_t i = 0; i < edges.size(); ++i) {
    const RankedEdge& edge = edges[i];
    if (edge.chance_best < kWorthAName && i > 0) continue;
    parts_.push_back({text_of(name_of(edge, workbench_.display().angles)), edge.steel,
                      edge.chance_best, edge.tied || i == 0});
    others_ -= edge.chance_best;
  }
  others_ = std::max(0.0, others_);
  setVisible(edges.size() > 1);
  setAccessibleName(tr("Chance to last longest: %1").arg(words()));
  setToolTip(tr("Chance to last longest, lives varying within what is known of them.\n%1")
                 .arg(words().replace(QStringLiteral(" · "), QStringLiteral("\n"))));
  update();
}

QString ChanceBand::words() const {
  QStringList out;
  for (const auto& part : parts_) out << part.name + QLatin1Char(' ') + percent(part.chance);
  if (others_ >= 0.005) out << tr("others together %1").arg(percent(others_));
  return out.join(QStringLiteral(" · "));
}

void ChanceBand::paintEvent(QPaintEvent*) {
  if (parts_.empty()) return;
  const Theme& t = theme();
  QPainter painter(this);
  painter.setFont(font_of(12));
  double x = 0;
  double name_from = 0, tied_to = 0;
  int tied = 0;
  const auto part = [&](double share, const QColor& fill, const QString& name, bool one_of_first) {
    const double wide = width() * share;
    painter.fillRect(QRectF(x, 0, std::max(1.0, wide - 2), kBar_px), fill);
    // Under its part, as far as the one before leaves room.
    const double left = std::max(x, name_from), room = x + wide - left;
    const double need = painter.fontMetrics().horizontalAdvance(name);
    // The first is named in any case; another one where its whole name has room.
    const double has = name_from == 0 ? width() : std::max(room, std::min(need, width() - left));
    if (name_from == 0 || (left <= x + wide && need <= has)) {
      painter.setPen(t.ink);
      painter.drawText(QRectF(left, kBar_px + kBracket_px, has, kLine_px),
                       Qt::AlignLeft | Qt::AlignVCenter,
                       painter.fontMetrics().elidedText(name, Qt::ElideRight, int(has)));
      name_from = left + std::min(need, has) + 14;
    }
    x += wide;
    if (one_of_first) {
      tied_to = x;
      ++tied;
    }
  };
  for (const auto& one : parts_) {
    QColor fill = t.series(workbench_.steel_style(one.steel));
    fill.setAlphaF(one.tied ? 0.85F : 0.4F);
    part(one.chance, fill, one.name + QStringLiteral("  ") + percent(one.chance), one.tied);
  }
  QColor rest = t.quiet;
  rest.setAlphaF(0.3F);
  if (others_ >= 0.005) part(others_, rest, tr("others  %1").arg(percent(others_)), false);
  if (tied > 1) {
    painter.setPen(QPen(t.ink, 1.5));
    const double y = kBar_px + 4;
    painter.drawLine(QPointF(1, y), QPointF(tied_to - 3, y));
    painter.drawLine(QPointF(1, y), QPointF(1, y - 3));
    painter.drawLine(QPointF(tied_to - 3, y), QPointF(tied_to - 3, y - 3));
  }
}

}  // namespace bq::ui
