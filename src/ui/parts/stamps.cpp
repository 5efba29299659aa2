#include "ui/parts/stamps.h"

#include <cmath>
#include <utility>

namespace bq::ui {

Stamps::Stamps(double device_pixel_ratio, double reach, std::function<void(QImage&, QPointF)> draw)
    : ratio_(device_pixel_ratio),
      reach_(int(std::ceil((reach + 1) * device_pixel_ratio))),
      draw_(std::move(draw)) {}

Stamps Stamps::discs(double device_pixel_ratio, double radius, const QPen& outline,
                     const QBrush& fill) {
  return {device_pixel_ratio, radius + outline.widthF(), [=](QImage& onto, QPointF centre) {
            QPainter painter(&onto);
            painter.setRenderHint(QPainter::Antialiasing);
            painter.setPen(outline);
            painter.setBrush(fill);
            painter.drawEllipse(centre, radius, radius);
          }};
}

void Stamps::put(QPainter& painter, QPointF at) {
  // What the painter moves things by counts: half a pixel is seen.
  const QPointF moved(painter.transform().dx(), painter.transform().dy());
  const QPointF corner = (at + moved) * ratio_ - QPointF(reach_, reach_);
  const double x = std::floor(corner.x()), y = std::floor(corner.y());
  const int column = int((corner.x() - x) * kParts), row = int((corner.y() - y) * kParts);
  QImage& stamp = stamps_[std::size_t(row * kParts + column)];
  if (stamp.isNull()) {
    stamp = QImage(2 * reach_ + 1, 2 * reach_ + 1, QImage::Format_ARGB32_Premultiplied);
    stamp.setDevicePixelRatio(ratio_);
    stamp.fill(Qt::transparent);
    const QPointF centre(reach_ + (column + 0.5) / kParts, reach_ + (row + 0.5) / kParts);
    draw_(stamp, centre / ratio_);
  }
  painter.drawImage(QPointF(x, y) / ratio_ - moved, stamp);
}

}  // namespace bq::ui
