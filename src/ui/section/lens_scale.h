#pragma once

#include <QWidget>
#include <vector>

class QVariantAnimation;

namespace bq::ui {

/// The vertical lens scale: log height of blade in the picture, with named rests one can step to.
class LensScale : public QWidget {
  Q_OBJECT
 public:
  struct Rest {
    QString name;
    double lens_mm = 1;
  };
  explicit LensScale(QWidget* parent = nullptr);
  void set_lens(double mm);
  void set_rests(std::vector<Rest> rests);
  [[nodiscard]] QSize sizeHint() const override { return {104, 400}; }
  /// To the next rest, -1 toward the apex, 1 toward the blade.
  void step(int direction);

 signals:
  void lens_moved(double mm);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;

 private:
  [[nodiscard]] double y_of(double mm) const;
  [[nodiscard]] double mm_at(double y) const;
  void glide_to(double mm);

  std::vector<Rest> rests_;
  double lens_mm_ = 4;
  QVariantAnimation* glide_;
};

}  // namespace bq::ui
