#include "ui/glyph/edge_glyph.h"

#include <QPainter>
#include <QPainterPath>

#include "edge/edge_mark.h"
#include "ui/theme/theme.h"

namespace bq::ui {
void paint_edge_glyph(QPainter& painter, const QRectF& box, const EdgeGeometry& geometry,
                      const std::optional<Finish>& finish, const QColor& ink) {
  painter.save();
  painter.setRenderHint(QPainter::Antialiasing);
  const QRectF inner = box.adjusted(2, 2, -2, -2);
  const EdgeMark mark = edge_mark(geometry, finish, inner.width(), inner.height());
  const auto at = [&](const EdgeMark::Point& point) {
    return QPointF(inner.center().x() + point.first, inner.bottom() - point.second);
  };
  QPainterPath path(at(mark.outline.front()));
  for (const auto& point : mark.outline) path.lineTo(at(point));
  QColor fill = ink;
  fill.setAlphaF(0.22F);
  QPainterPath body = path;
  body.closeSubpath();
  painter.fillPath(body, fill);
  painter.setPen(QPen(ink, 1.3, Qt::SolidLine, Qt::RoundCap, Qt::MiterJoin));
  painter.drawPath(path);
  if (mark.micro) {
    painter.setPen(QPen(ink, 0.8));
    painter.drawLine(at(mark.micro->first), at(mark.micro->second));
  }
  painter.restore();
}

EdgeGlyph::EdgeGlyph(QWidget* parent) : QWidget(parent) {
  setFixedSize(56, 64);
  setAccessibleName(tr("Cross-section of the edge, angles doubled"));
  setToolTip(tr("Cross-section of the edge. Angles are drawn doubled."));
}

void EdgeGlyph::show_edge(const std::optional<EdgeGeometry>& geometry,
                          const std::optional<Finish>& finish) {
  geometry_ = geometry;
  finish_ = finish;
  update();
}

void EdgeGlyph::paintEvent(QPaintEvent*) {
  if (!geometry_) return;
  QPainter painter(this);
  paint_edge_glyph(painter, rect(), *geometry_, finish_, theme().ink);
}

}  // namespace bq::ui
