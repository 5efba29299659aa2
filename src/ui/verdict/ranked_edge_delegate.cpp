#include "ui/verdict/ranked_edge_delegate.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "ui/glyph/edge_glyph.h"
#include "workflow/sentences.h"

namespace bq::ui {
namespace {

/// The title with the steel's name shortened where it must be: angle and finish always show.
QString title_within(const RankedEdgeModel& model, int row, const QFont& font, int width) {
  const QString whole = model.title(row), steel = QString::fromStdString(model.edge(row).steel),
                rest = whole.mid(steel.size());
  const QFontMetrics metrics(font);
  return metrics.elidedText(steel, Qt::ElideRight,
                            std::max(40, width - metrics.horizontalAdvance(rest) - 4)) +
         rest;
}

}  // namespace

RankedEdgeModel::RankedEdgeModel(Workbench& workbench, QObject* parent)
    : QAbstractListModel(parent), workbench_(workbench) {}

void RankedEdgeModel::show_edges(std::vector<RankedEdge> edges) {
  beginResetModel();
  edges_ = std::move(edges);
  low_ = 1e300;
  high_ = 1;
  for (const auto& edge : edges_) {
    low_ = std::min(low_, std::min(edge.life_low, edge.life_mean_low));
    high_ = std::max(high_, edge.life_mean_high);
  }
  if (low_ > high_) {
    low_ = 1;
    high_ = 10;
  }
  endResetModel();
}

int RankedEdgeModel::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : int(edges_.size());
}

QString RankedEdgeModel::title(int row) const {
  return QString::fromStdString(name_of(edge(row), workbench_.display().angles));
}

QString RankedEdgeModel::figures(int row) const {
  const RankedEdge& e = edge(row);
  QStringList parts;
  if (e.extrapolated) parts << tr("EXTRAPOLATED");
  if (e.chance_best >= 0.01)
    parts << (e.chance_best > 0.995
                  ? tr("best: over 99 %")
                  : tr("best: %1 %").arg(QString::number(std::lround(100 * e.chance_best))));
  if (e.force_blunt_N)
    parts << tr("%1 N blunt").arg(QString::fromStdString(print_number(*e.force_blunt_N, 3)));
  if (e.roughest == RoughestUse::damaged)
    parts << tr("damaged in the roughest use");
  else if (e.damage_rate_upper)
    parts << tr("at worst 1 damage in %1")
                 .arg(QString::fromStdString(print_cuts(std::floor(1 / *e.damage_rate_upper))));
  else
    parts << tr("damage not known");
  if (e.resharpening)
    parts << tr("touch-up %1 min")
                 .arg(QString::fromStdString(print_number(e.resharpening->minutes, 2)));
  return parts.join(QStringLiteral(" · "));
}

QVariant RankedEdgeModel::data(const QModelIndex& index, int role) const {
  if (!index.isValid()) return {};
  const RankedEdge& e = edge(index.row());
  if (role == Qt::DisplayRole || role == Qt::AccessibleTextRole)
    return tr("%1: next edge at least %2 cuts")
        .arg(title(index.row()), QString::fromStdString(print_cuts(e.life_low)));
  if (role == Qt::ToolTipRole) {
    QStringList lines{title(index.row())};
    for (const auto& reason : e.reasons) lines << QString::fromStdString(reason);
    return lines.join('\n');
  }
  return {};
}

double RankedEdgeModel::place(double life) const {
  return std::clamp(std::log(life / low_) / std::max(1e-9, std::log(high_ / low_)), 0.0, 1.0);
}

QSize RankedEdgeDelegate::sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const {
  return {400, index.row() == 0 ? 96 : 48};
}

void RankedEdgeDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option,
                               const QModelIndex& index) const {
  const Theme& t = theme();
  const auto* model = static_cast<const RankedEdgeModel*>(index.model());
  const RankedEdge& edge = model->edge(index.row());
  const bool first = index.row() == 0;
  painter->save();
  painter->setRenderHint(QPainter::Antialiasing);
  const QRect box = option.rect;
  if (option.state & QStyle::State_Selected) painter->fillRect(box, t.chosen);
  painter->setPen(QPen(t.hairline, 1));
  painter->drawLine(box.bottomLeft(), box.bottomRight());

  // Edges that cannot be told apart from the first stand in one bracket with it.
  const bool any_tied = index.row() + 1 < model->rowCount() && model->edge(1).tied;
  if (edge.tied || (first && any_tied)) {
    painter->setPen(QPen(t.ink, 2));
    const bool last = index.row() + 1 >= model->rowCount() || !model->edge(index.row() + 1).tied;
    const int x = box.left() + 3, top = first ? box.top() + 6 : box.top(),
              bottom = last ? box.bottom() - 5 : box.bottom();
    painter->drawLine(x, top, x, bottom);
    if (first) painter->drawLine(x, top, x + 4, top);
    if (last) painter->drawLine(x, bottom, x + 4, bottom);
  }

  const int glyph = first ? 64 : 34;
  const auto apex = BevelAngles::symmetric(edge.angle_deg);
  if (const auto geometry = edge.edge_deg
                                ? EdgeGeometry::make(BevelAngles::symmetric(*edge.edge_deg), apex)
                                : EdgeGeometry::make(apex, std::nullopt))
    paint_edge_glyph(
        *painter, QRectF(box.left() + 44, box.top() + 6, glyph, first ? 80 : 40), *geometry,
        edge.finish_um ? std::optional(Finish::both(*edge.finish_um)) : std::nullopt, t.ink);
  painter->setFont(font_of(first ? kFigure : kBody, first));
  painter->setPen(t.quiet);
  painter->drawText(QRect(box.left() + 12, box.top() + 6, 30, 28), Qt::AlignLeft | Qt::AlignVCenter,
                    QString::number(index.row() + 1));

  const int left = box.left() + 44 + (first ? 76 : 46), right = box.right() - 10;
  const auto line = [&](int y, int height, const QFont& font, const QColor& colour,
                        const QString& text, int width) {
    painter->setFont(font);
    painter->setPen(colour);
    painter->drawText(QRect(left, box.top() + y, width, height), Qt::AlignLeft | Qt::AlignVCenter,
                      painter->fontMetrics().elidedText(text, Qt::ElideRight, width));
  };
  const QString reason = QString::fromStdString(edge.reasons.front());
  if (first) {
    line(4, 24, font_of(kHeading, true), t.ink,
         title_within(*model, 0, font_of(kHeading, true), right - left), right - left);
    line(54, 18, font_of(12), t.ink,
         RankedEdgeModel::tr("next edge: at least %1 cuts  ·  %2")
             .arg(QString::fromStdString(print_cuts(edge.life_low)), model->figures(index.row())),
         right - left);
    line(73, 18, font_of(12), t.quiet, reason, right - left);
  } else {
    const QString title = title_within(*model, index.row(), font_of(kBody), right - left);
    line(1, 18, font_of(kBody), t.ink, title, right - left);
    line(31, 16, font_of(12), t.quiet, model->figures(index.row()), right - left);
  }
  const int bar_left = left, bar_right = right - 76;
  // The life of the mean edge as a bar, the next edge's lower limit as a stroke.
  const double y = box.top() + (first ? 41 : 26);
  const auto x = [&](double life) {
    return bar_left + (bar_right - bar_left) * model->place(life);
  };
  painter->setPen(QPen(t.hairline, 1));
  painter->drawLine(QPointF(bar_left, y), QPointF(bar_right, y));
  const QColor colour = t.series(model->workbench().steel_style(edge.steel));
  painter->setPen(QPen(colour, 1.5, edge.tested ? Qt::SolidLine : Qt::DashLine));
  painter->drawLine(QPointF(x(edge.life_low), y), QPointF(x(edge.life), y));
  QColor fill = colour;
  fill.setAlphaF(edge.tested ? 0.85F : 0.35F);
  painter->setBrush(fill);
  painter->setPen(QPen(colour, 1.2));
  const double half = first ? 8 : 4;
  painter->drawRect(QRectF(x(edge.life_mean_low), y - half,
                           std::max(2.0, x(edge.life_mean_high) - x(edge.life_mean_low)),
                           2 * half));
  painter->setPen(QPen(t.ink, 2));
  painter->drawLine(QPointF(x(edge.life_low), y - half - 3),
                    QPointF(x(edge.life_low), y + half + 3));
  painter->setFont(font_of(first ? kHeading : kBody, true));
  painter->setPen(t.ink);
  painter->drawText(QRectF(bar_right + 6, y - 12, 70, 24), Qt::AlignRight | Qt::AlignVCenter,
                    QString::fromStdString(print_cuts(edge.life)));
  painter->restore();
}

}  // namespace bq::ui
