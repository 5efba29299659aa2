#include "ui/glyph/edge_glyph.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "ui/theme/theme.h"

namespace bq::ui {
namespace {

/// Tooth height in the glyph (share of its height) for a finish.
double tooth_share(double finish_um) {
  if (finish_um < 2) return 0;
  return std::clamp(0.018 * std::log2(finish_um), 0.0, 0.085);
}

double drawn_tangent(double per_side_deg) {
  return std::tan(radians(std::min(2 * per_side_deg, 78.0)));
}

/// Points of one side from the apex up to where the parallel body begins. `sign` is -1 left, +1
/// right.
QPolygonF side_points(QPointF apex, double height, double half_width, double edge_deg,
                      std::optional<double> micro_deg, double finish_um, int sign) {
  QPolygonF points;
  double x = 0, h = 0;
  const double tip = 0.30 * height;
  const double tip_tangent = drawn_tangent(micro_deg.value_or(edge_deg));
  const double tooth = tooth_share(finish_um) * height;
  const double tip_end = std::min(tip, half_width / tip_tangent);
  // Teeth along the tip, then smooth steel.
  const int count = tooth > 0 ? std::max(3, int(tip_end / (1.1 * tooth))) : 1;
  points << apex;
  for (int i = 0; i < count; ++i) {
    // A tooth stands a little proud of the bevel, then drops back to it.
    if (tooth > 0 && i > 0)
      points << QPointF(apex.x() + sign * (x + 0.55 * tooth), apex.y() - h - 0.1 * tooth);
    h = tip_end * (i + 1) / count;
    x = h * tip_tangent;
    points << QPointF(apex.x() + sign * x, apex.y() - h);
  }
  const double rest = std::max(0.0, half_width - x) / drawn_tangent(edge_deg);
  const double top = std::min(height, h + rest);
  x += (top - h) * drawn_tangent(edge_deg);
  points << QPointF(apex.x() + sign * std::min(x, half_width), apex.y() - top);
  points << QPointF(apex.x() + sign * std::min(x, half_width), apex.y() - height);
  return points;
}

}  // namespace

void paint_edge_glyph(QPainter& painter, const QRectF& box, const EdgeGeometry& geometry,
                      const std::optional<Finish>& finish, const QColor& ink) {
  painter.save();
  painter.setRenderHint(QPainter::Antialiasing);
  const QRectF inner = box.adjusted(2, 2, -2, -2);
  const QPointF apex(inner.center().x(), inner.bottom());
  const double half = inner.width() / 2;
  const auto micro = geometry.micro();
  const QPolygonF left = side_points(apex, inner.height(), half, geometry.edge().left_deg,
                                     micro ? std::optional(micro->left_deg) : std::nullopt,
                                     finish ? finish->left_um : 0, -1);
  const QPolygonF right = side_points(apex, inner.height(), half, geometry.edge().right_deg,
                                      micro ? std::optional(micro->right_deg) : std::nullopt,
                                      finish ? finish->right_um : 0, +1);
  QPainterPath path;
  path.moveTo(left.back());
  for (auto point = left.crbegin(); point != left.crend(); ++point) path.lineTo(*point);
  for (const auto& point : right) path.lineTo(point);
  QColor fill = ink;
  fill.setAlphaF(0.22F);
  QPainterPath body = path;
  body.closeSubpath();
  painter.fillPath(body, fill);
  painter.setPen(QPen(ink, 1.3, Qt::SolidLine, Qt::RoundCap, Qt::MiterJoin));
  painter.drawPath(path);
  if (micro) {  // the line where the micro-bevel begins
    const double tip = 0.30 * inner.height();
    const double lw = std::min(half, tip * drawn_tangent(micro->left_deg));
    const double rw = std::min(half, tip * drawn_tangent(micro->right_deg));
    const double lh = lw / drawn_tangent(micro->left_deg),
                 rh = rw / drawn_tangent(micro->right_deg);
    painter.setPen(QPen(ink, 0.8));
    painter.drawLine(QPointF(apex.x() - lw, apex.y() - lh), QPointF(apex.x() + rw, apex.y() - rh));
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
