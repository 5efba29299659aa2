#include "ui/rack/edge_strip.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "ui/parts/words.h"
#include "ui/theme/theme.h"

namespace bq::ui {

struct EdgeStrip::Frame {
  QRectF left_band, blade, right_band;
  double from_mm = 0, to_mm = 100, x0 = 0, x1 = 1;
  double least_deg = 14, largest_deg = 16;
  double y_low_mm = 0, y_high_mm = 0, px_per_mm = 1;
  [[nodiscard]] double x(double mm) const {
    return x0 + (mm - from_mm) / (to_mm - from_mm) * (x1 - x0);
  }
  [[nodiscard]] double mm(double px) const {
    return from_mm + (px - x0) / (x1 - x0) * (to_mm - from_mm);
  }
  [[nodiscard]] double angle_y(const QRectF& band, double deg, bool left) const {
    const double share = (deg - least_deg) / (largest_deg - least_deg);
    // Steeper is farther from the blade on both sides.
    return left ? band.bottom() - share * band.height() : band.top() + share * band.height();
  }
  /// The edge points down; what rises in the outline rises in the picture.
  [[nodiscard]] double edge_y(double mm) const {
    return blade.bottom() - 12 - (mm - y_low_mm) * px_per_mm;
  }
};

namespace {
/// y of the outline at an x, straight between its points.
double outline_y(const std::vector<OutlinePoint>& outline, double x) {
  for (std::size_t i = 1; i < outline.size(); ++i)
    if (x <= outline[i].x_mm) {
      const auto &a = outline[i - 1], &b = outline[i];
      return a.y_mm + (x - a.x_mm) / (b.x_mm - a.x_mm) * (b.y_mm - a.y_mm);
    }
  return outline.empty() ? 0 : outline.back().y_mm;
}
}  // namespace

EdgeStrip::EdgeStrip(Workbench& workbench, QWidget* parent)
    : QWidget(parent), workbench_(workbench) {
  setMinimumHeight(236);
  setMouseTracking(true);
  setCursor(Qt::CrossCursor);
  setAccessibleName(tr("Map of the whole edge, heel at the left"));
}

void EdgeStrip::show_edge(const EdgeNow& edge, double tolerance_deg) {
  edge_ = edge;
  tolerance_deg_ = tolerance_deg;
  update();
}

void EdgeStrip::set_layers(int layers) {
  layers_ = layers;
  update();
}

void EdgeStrip::mark(double at_mm) {
  marked_ = at_mm;
  update();
}

EdgeStrip::Frame EdgeStrip::frame() const {
  Frame f;
  f.x0 = 84;
  f.x1 = width() - 18;
  const double h = height() - 18;
  f.left_band = QRectF(f.x0, 16, f.x1 - f.x0, h * 0.30 - 16);
  f.blade = QRectF(f.x0, h * 0.32, f.x1 - f.x0, h * 0.36);
  f.right_band = QRectF(f.x0, h * 0.72, f.x1 - f.x0, h * 0.28 - 14);
  f.from_mm = 1e9;
  f.to_mm = -1e9;
  f.y_low_mm = 1e9;
  f.y_high_mm = -1e9;
  for (const auto& p : edge_.outline) {
    f.from_mm = std::min(f.from_mm, p.x_mm);
    f.to_mm = std::max(f.to_mm, p.x_mm);
    f.y_low_mm = std::min(f.y_low_mm, p.y_mm);
    f.y_high_mm = std::max(f.y_high_mm, p.y_mm);
  }
  if (edge_.outline.empty() || !(f.to_mm > f.from_mm)) {
    f.from_mm = 0;
    f.to_mm = 100;
    f.y_low_mm = f.y_high_mm = 0;
  }
  f.px_per_mm = std::min((f.x1 - f.x0) / (f.to_mm - f.from_mm),
                         (f.blade.height() - 40) / std::max(f.y_high_mm - f.y_low_mm, 1e-3));
  double low = 1e9, high = -1e9;
  for (const auto* side : edge_.angles())
    for (const auto& station : side->stations) {
      low = std::min(low, station.mean_deg - std::max(station.plus_minus_deg, tolerance_deg_));
      high = std::max(high, station.mean_deg + std::max(station.plus_minus_deg, tolerance_deg_));
    }
  if (high > low) {
    f.least_deg = low - 0.2;
    f.largest_deg = high + 0.2;
  }
  return f;
}

QPoint EdgeStrip::place_of(double at_mm) const {
  const Frame f = frame();
  return {int(f.x(at_mm)), int(f.blade.center().y())};
}

void EdgeStrip::draw_side(QPainter& painter, const Frame& f, bool left) const {
  const Theme& t = theme();
  const QRectF& band = left ? f.left_band : f.right_band;
  painter.setPen(t.ink);
  painter.setFont(font_of(12, true));
  painter.drawText(QRectF(0, band.top(), 76, 18), Qt::AlignRight | Qt::AlignTop,
                   left ? tr("left") : tr("right"));
  const auto& edge = left ? edge_.left : edge_.right;
  const auto& micro = left ? edge_.micro_left : edge_.micro_right;
  if (edge.stations.empty() && micro.stations.empty()) {
    painter.setFont(font_of(11));
    painter.setPen(t.quiet);
    painter.drawText(band, Qt::AlignCenter, tr("no angle measured on this side"));
    return;
  }
  const bool both = !edge.stations.empty() && !micro.stations.empty();
  if (!edge.stations.empty())
    draw_angles(painter, f, edge, left, both ? tr("edge") : QString(), 17);
  if (!micro.stations.empty()) draw_angles(painter, f, micro, left, tr("micro"), both ? 33 : 17);
}

void EdgeStrip::draw_angles(QPainter& painter, const Frame& f, const EdgeNow::SideAngles& side,
                            bool left, const QString& bevel, double below) const {
  const Theme& t = theme();
  const QRectF& band = left ? f.left_band : f.right_band;
  const double factor = workbench_.display().angles == AngleConvention::inclusive ? 2 : 1;
  const double mean = *side.mean_deg();
  painter.setFont(font_of(11));
  painter.setPen(t.quiet);
  painter.drawText(QRectF(0, band.top() + below, 76, 16), Qt::AlignRight,
                   (bevel.isEmpty() ? QString() : bevel + " ") +
                       QString::number(mean * factor, 'f', 1) + QChar(0xb0));
  // Tolerance about the side's mean.
  const double upper = f.angle_y(band, mean + tolerance_deg_, left),
               lower = f.angle_y(band, mean - tolerance_deg_, left);
  painter.fillRect(
      QRectF(band.left(), std::min(upper, lower), band.width(), std::abs(upper - lower)), t.chosen);
  QPolygonF line, high, low;
  for (const auto& station : side.stations) {
    const double x = f.x(station.at_mm);
    line << QPointF(x, f.angle_y(band, station.mean_deg, left));
    painter.setPen(QPen(t.quiet, 1));
    if (station.plus_minus_deg > 0)
      painter.drawLine(
          QPointF(x, f.angle_y(band, station.mean_deg - station.plus_minus_deg, left)),
          QPointF(x, f.angle_y(band, station.mean_deg + station.plus_minus_deg, left)));
  }
  painter.setPen(QPen(t.ink, 1.8, left ? Qt::SolidLine : Qt::DashLine));
  painter.drawPolyline(line);
  double last = -1e9;
  for (int i = 0; i < line.size(); ++i) {
    const auto& station = side.stations[std::size_t(i)];
    const bool out = std::abs(station.mean_deg - mean) > tolerance_deg_;
    painter.setPen(QPen(t.ink, 1.2));
    painter.setBrush(out ? t.ochre : t.panel);
    if (left)
      painter.drawEllipse(line[i], 3.5, 3.5);
    else
      painter.drawRect(QRectF(line[i].x() - 3.2, line[i].y() - 3.2, 6.4, 6.4));
    if (line[i].x() - last < 38) continue;
    last = line[i].x();
    painter.setPen(t.ink);
    painter.setFont(font_of(11, out));
    const double whisker =
        std::abs(f.angle_y(band, station.mean_deg, left) -
                 f.angle_y(band, station.mean_deg + station.plus_minus_deg, left));
    const double y = left ? line[i].y() - whisker - 17 : line[i].y() + whisker + 3;
    painter.drawText(QRectF(line[i].x() - 30, std::clamp(y, 0.0, height() - 30.0), 60, 14),
                     Qt::AlignHCenter,
                     QString::number(station.mean_deg * factor, 'f', 1) + QChar(0xb0));
  }
}

void EdgeStrip::draw_blade(QPainter& painter, const Frame& f) const {
  const Theme& t = theme();
  QPolygonF edge;
  for (const auto& p : edge_.outline) edge << QPointF(f.x(p.x_mm), f.edge_y(p.y_mm));
  if (edge.size() < 2) return;
  QPainterPath body;
  body.addPolygon(edge);
  const double spine = f.blade.top();
  body.lineTo(edge.back().x(), std::min(edge.back().y() - 8, spine + 14));
  body.quadTo(QPointF(edge.back().x() - 30, spine), QPointF(edge.back().x() - 70, spine));
  body.lineTo(edge.front().x(), spine);
  body.closeSubpath();
  painter.setPen(Qt::NoPen);
  painter.setBrush(t.panel);
  painter.drawPath(body);
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(t.quiet, 1));
  painter.drawPath(body);
  painter.setPen(QPen(t.ink, 2.2));
  painter.drawPolyline(edge);
  painter.setFont(font_of(11));
  painter.setPen(t.quiet);
  painter.drawText(QRectF(f.x0 - 62, f.blade.bottom() - 22, 54, 16), Qt::AlignRight, tr("heel"));
  painter.drawText(QRectF(f.x1 - 40, f.blade.bottom() + 2, 58, 14), Qt::AlignRight, tr("tip"));
  // Stations as ticks across the edge.
  painter.setPen(QPen(t.ink, 1));
  for (const auto* side : edge_.angles())
    for (const auto& station : side->stations) {
      const double x = f.x(station.at_mm), y = f.edge_y(outline_y(edge_.outline, station.at_mm));
      painter.drawLine(QPointF(x, y - 5), QPointF(x, y + 5));
    }
  if (layers_ & thickness)
    for (const auto& record : edge_.thicknesses) {
      const double x = f.x(record.at_mm);
      painter.setPen(t.quiet);
      painter.drawText(
          QRectF(x - 60, f.blade.top() + 3, 120, 14), Qt::AlignHCenter,
          tr("%1 mm at %2").arg(record.thickness_mm, 0, 'f', 2).arg(record.distance_mm, 0, 'g', 3));
    }
}

void EdgeStrip::draw_spots(QPainter& painter, const Frame& f) const {
  const Theme& t = theme();
  for (const auto& spot : edge_.spots) {
    const int layer = spot.kind == SpotKind::burr     ? burr
                      : spot.kind == SpotKind::hangs  ? hangs
                      : spot.kind == SpotKind::bright ? bright
                                                      : damage;
    if (!(layers_ & layer)) continue;
    const double x = f.x(spot.at_mm), y = f.edge_y(outline_y(edge_.outline, spot.at_mm)) - 10;
    painter.setPen(QPen(t.ink, 1.5));
    painter.setBrush(t.ochre);
    // Shape tells the kind: burr a hook, hanging a bar, bright a ring, damage a notch.
    switch (spot.kind) {
      case SpotKind::burr: {
        QPainterPath hook(QPointF(x, y + 14));
        hook.lineTo(x, y);
        hook.quadTo(QPointF(x + 9, y - 4), QPointF(x + 8, y + 6));
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(t.ochre, 3.5));
        painter.drawPath(hook);
        painter.setPen(QPen(t.ink, 1.2));
        painter.drawPath(hook);
        break;
      }
      case SpotKind::hangs:
        painter.drawRect(QRectF(x - 2.5, y - 4, 5, 20));
        break;
      case SpotKind::bright:
        painter.drawEllipse(QPointF(x, y + 6), 7, 7);
        break;
      case SpotKind::damage:
        painter.drawPolygon(
            QPolygonF{QPointF(x - 8, y + 14), QPointF(x, y - 2), QPointF(x + 8, y + 14)});
        break;
    }
    painter.setFont(font_of(11));
    painter.setPen(t.ink);
    painter.drawText(QRectF(x - 60, y - 20, 120, 14), Qt::AlignHCenter, shown(spot.kind));
  }
}

void EdgeStrip::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const Frame f = frame();
  if (marked_) {
    painter.setPen(QPen(t.ochre, 2));
    painter.drawLine(QPointF(f.x(*marked_), 4), QPointF(f.x(*marked_), height() - 18));
  }
  draw_blade(painter, f);
  if (layers_ & angles) {
    draw_side(painter, f, true);
    draw_side(painter, f, false);
  }
  draw_spots(painter, f);
  painter.setFont(font_of(11));
  painter.setPen(t.quiet);
  const double step = f.to_mm - f.from_mm > 160 ? 50 : 20;
  for (double mm = std::ceil(f.from_mm / step) * step; mm <= f.to_mm + 1e-9; mm += step)
    painter.drawText(QRectF(f.x(mm) - 30, height() - 15, 60, 14), Qt::AlignHCenter,
                     mm == 0 ? tr("0 mm") : QString::number(mm));
}

void EdgeStrip::mousePressEvent(QMouseEvent* event) {
  const Frame f = frame();
  const double at = std::clamp(f.mm(event->position().x()), f.from_mm, f.to_mm);
  // A click near a station means that station.
  double chosen = std::round(at);
  for (const auto* side : {&edge_.left, &edge_.right})
    for (const auto& station : side->stations)
      if (std::abs(f.x(station.at_mm) - event->position().x()) < 8) chosen = station.at_mm;
  mark(chosen);
  emit place_chosen(chosen, event->position().y() < f.blade.center().y());
}

void EdgeStrip::mouseMoveEvent(QMouseEvent* event) {
  const Frame f = frame();
  QString text = tr("%1 mm from the heel")
                     .arg(std::clamp(f.mm(event->position().x()), f.from_mm, f.to_mm), 0, 'f', 0);
  for (const auto& spot : edge_.spots)
    if (std::abs(f.x(spot.at_mm) - event->position().x()) < 10)
      text += "\n" + QString::fromStdString(describe(EdgeRecordData(spot)));
  QToolTip::showText(event->globalPosition().toPoint(), text, this);
}

}  // namespace bq::ui
