#pragma once

#include <QBrush>
#include <QImage>
#include <QPainter>
#include <QPen>
#include <array>
#include <functional>

namespace bq::ui {

/// More marks than this on one drawing are worth a stamp.
inline constexpr int kManyMarks = 60;

/// A small mark that is painted once and put down many times: a thousand outlined discs take the
/// painter 30 ms, the same disc put down a thousand times 1 ms. Placed to a quarter of a pixel.
/// For screens; paper gets shapes.
class Stamps {
 public:
  /// `draw` paints the mark about a centre, no further from it than `reach` (px of the drawing), on
  /// an image of so many device pixels a pixel.
  Stamps(double device_pixel_ratio, double reach, std::function<void(QImage&, QPointF)> draw);
  /// Discs with an outline.
  static Stamps discs(double device_pixel_ratio, double radius, const QPen& outline,
                      const QBrush& fill);
  /// `painter` may be moved, not scaled.
  void put(QPainter& painter, QPointF at);

 private:
  static constexpr int kParts = 4;  ///< of a pixel, each way
  double ratio_;
  int reach_;
  std::function<void(QImage&, QPointF)> draw_;
  std::array<QImage, std::size_t(kParts) * kParts> stamps_;
};

}  // namespace bq::ui
