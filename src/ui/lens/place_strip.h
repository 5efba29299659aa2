#pragma once

#include <QWidget>

#include "ui/lens/lens_model.h"

namespace bq::ui {

/// All pictures of one place over the cuts, small, in their order; the one looked at is framed. A
/// click opens one, with Ctrl it is compared with. Left and right arrows step through all pictures.
class PlaceStrip : public QWidget {
  Q_OBJECT
 public:
  explicit PlaceStrip(LensModel& model, QWidget* parent = nullptr);
  [[nodiscard]] int count() const { return int(shown_.size()); }
  [[nodiscard]] QRectF frame_of(int index) const;

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;

 private:
  void reload();
  LensModel& model_;
  std::vector<std::int64_t> shown_;
  QString heading_;
  double scroll_ = 0;
};

}  // namespace bq::ui
