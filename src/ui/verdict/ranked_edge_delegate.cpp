#include "ui/verdict/ranked_edge_delegate.h"

#include <QAbstractItemView>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "ui/glyph/edge_glyph.h"
#include "ui/parts/words.h"
#include "workflow/sentences.h"

namespace bq::ui {
namespace {

constexpr int kRow_px = 42, kTwoLines_px = 52;
/// From here a row is one line.
constexpr int kWide_px = 980;

/// The title with the steel's name shortened where it must be: angle and finish always show.
QString title_within(const RankedEdgeModel& model, int row, const QFont& font, int width) {
  const QString whole = model.title(row), steel = QString::fromStdString(model.edge(row).steel),
                rest = whole.mid(steel.size());
  const QFontMetrics metrics(font);
  return metrics.elidedText(steel, Qt::ElideRight,
                            std::max(40, width - metrics.horizontalAdvance(rest) - 4)) +
         rest;
}

/// Edges that cannot be told apart from the first stand in one bracket with it.
void draw_bracket(QPainter& painter, const QRect& box, const RankedEdgeModel& model, int row) {
  const bool first = row == 0;
  const bool more = row + 1 < model.rowCount() && model.edge(row + 1).tied;
  if (!model.edge(row).tied && !(first && more)) return;
  painter.setPen(QPen(theme().ink, 2));
  const int x = box.left() + 3, top = first ? box.top() + 6 : box.top(),
            bottom = more ? box.bottom() : box.bottom() - 5;
  painter.drawLine(x, top, x, bottom);
  if (first) painter.drawLine(x, top, x + 4, top);
  if (!more) painter.drawLine(x, bottom, x + 4, bottom);
}

}  // namespace

std::optional<EdgeGeometry> geometry_of(const RankedEdge& edge) {
  const auto apex = BevelAngles::symmetric(edge.angle_deg);
  const auto made = edge.edge_deg ? EdgeGeometry::make(BevelAngles::symmetric(*edge.edge_deg), apex)
                                  : EdgeGeometry::make(apex, std::nullopt);
  return made ? std::optional(*made) : std::nullopt;
}

std::optional<Finish> finish_of(const RankedEdge& edge) {
  return edge.finish_um ? std::optional(Finish::both(*edge.finish_um)) : std::nullopt;
}

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
    parts << tr("damage ≤ 1 in %1 (%2 in %3 looks)")
                 .arg(text_of(print_cuts(std::floor(1 / *e.damage_rate_upper))),
                      e.damage_seen == 0 ? tr("none") : QString::number(e.damage_seen),
                      QString::number(e.damage_looks));
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

QSize RankedEdgeDelegate::sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const {
  const auto* view = qobject_cast<const QAbstractItemView*>(parent());
  return {400, !view || view->viewport()->width() >= kWide_px ? kRow_px : kTwoLines_px};
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
  draw_bracket(*painter, box, *model, index.row());
  if (const auto geometry = geometry_of(edge))
    paint_edge_glyph(*painter, QRectF(box.left() + 44, box.top() + 3, 34, box.height() - 7),
                     *geometry, finish_of(edge), t.ink);
  painter->setFont(font_of(kBody, first));
  painter->setPen(t.quiet);
  painter->drawText(QRect(box.left() + 12, box.top(), 30, box.height()),
                    Qt::AlignLeft | Qt::AlignVCenter, QString::number(index.row() + 1));

  const int left = box.left() + 90, right = box.right() - 10;
  const auto line = [&](const QRect& where, const QFont& font, const QColor& colour,
                        const QString& text) {
    painter->setFont(font);
    painter->setPen(colour);
    painter->drawText(where, Qt::AlignLeft | Qt::AlignVCenter,
                      painter->fontMetrics().elidedText(text, Qt::ElideRight, where.width()));
  };
  // One line where there is room for it: name, bar, life, figures.
  const bool wide = box.width() >= kWide_px;
  const QFont bold = font_of(kBody, first);
  const int name_room = wide ? 240 : right - left;
  const int figures_room = wide ? std::max(280, (right - left) * 49 / 100) : right - left;
  const QString title = title_within(*model, index.row(), bold, name_room);
  line(QRect(left, box.top() + (wide ? 0 : 1), name_room, wide ? kRow_px : 18), bold, t.ink, title);
  line(wide ? QRect(right - figures_room, box.top(), figures_room, kRow_px)
            : QRect(left, box.top() + 34, figures_room, 16),
       font_of(12), first ? t.ink : t.quiet, model->figures(index.row()));
  const int bar_left = wide ? left + name_room + 12 : left;
  const int bar_right = (wide ? right - figures_room - 16 : right) - 72;
  // The life of the mean edge as a bar, the next edge's lower limit as a stroke.
  const double y = box.top() + (wide ? kRow_px / 2.0 : 26);
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
  const double half = wide ? 6 : 4;
  painter->drawRect(QRectF(x(edge.life_mean_low), y - half,
                           std::max(2.0, x(edge.life_mean_high) - x(edge.life_mean_low)),
                           2 * half));
  painter->setPen(QPen(t.ink, 2));
  painter->drawLine(QPointF(x(edge.life_low), y - half - 3),
                    QPointF(x(edge.life_low), y + half + 3));
  painter->setFont(font_of(kBody, true));
  painter->setPen(t.ink);
  painter->drawText(QRectF(bar_right + 4, y - 12, 68, 24), Qt::AlignRight | Qt::AlignVCenter,
                    QString::fromStdString(print_cuts(edge.life)));
  painter->restore();
}

}  // namespace bq::ui
