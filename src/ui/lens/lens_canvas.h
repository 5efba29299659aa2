#pragma once

#include <QTimer>
#include <QWidget>

#include "ui/lens/lens_model.h"

namespace bq::ui {

/// The picture on its dark surround: zoom by wheel or + and −, moved by dragging or with Shift and
/// the arrows; a cross-hair for mouse and arrow keys; what was measured; a loupe; a readout in µm;
/// the second picture behind a wipe handle, blinking, or as the difference. While marks are shown
/// both pictures stand side by side.
class LensCanvas : public QWidget {
  Q_OBJECT
 public:
  explicit LensCanvas(LensModel& model, QWidget* parent = nullptr);
  void fit();
  void zoom_to(double px_per_px);
  [[nodiscard]] double zoom() const { return zoom_; }
  /// Where a point of the picture lies in this widget, and back.
  [[nodiscard]] QPointF screen_of(Spot p, bool in_other = false) const;
  [[nodiscard]] Spot spot_at(QPointF p, bool in_other = false) const;
  [[nodiscard]] QString readout() const;
  [[nodiscard]] bool loupe() const { return loupe_; }
  void set_loupe(bool shown);
  [[nodiscard]] double wipe() const { return wipe_; }
  void set_wipe(double share);
  void shift(QPointF by);

 signals:
  void files_dropped(const QStringList& paths);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  [[nodiscard]] bool side_by_side() const {
    return model_.tool() == LensTool::marks && model_.other_pixels() != nullptr;
  }
  [[nodiscard]] QRectF pane(bool of_other) const;
  void draw_image(QPainter& painter, const LensPixels& pixels, const QTransform& to_screen,
                  const QRectF& clip) const;
  void draw_measures(QPainter& painter) const;
  void draw_segment(QPainter& painter, QPointF a, QPointF b, bool chosen) const;
  void draw_label(QPainter& painter, QPointF at, const QString& text, bool chosen) const;
  void draw_marks(QPainter& painter) const;
  void draw_hints(QPainter& painter) const;
  void draw_foot(QPainter& painter) const;
  void draw_loupe(QPainter& painter) const;
  void draw_cursor(QPainter& painter) const;
  void draw_empty(QPainter& painter) const;
  /// Pixels of the picture under one of the screen.
  [[nodiscard]] double px_per_screen_px() const;
  [[nodiscard]] QTransform transform(bool of_other) const;
  void point_shown(QPointF at);
  void keep_inside();

  LensModel& model_;
  double zoom_ = 0;  ///< screen pixels for a picture's pixel; 0: fitted
  double fitted_ = 1;
  Spot middle_;  ///< of the picture, at the pane's middle
  std::int64_t shown_id_ = 0;
  bool loupe_ = true, blinked_ = false, dragging_ = false, wiping_ = false;
  bool paired_ = false;
  bool held_ = false;        ///< the fitted view was held while a measure was half drawn
  bool over_other_ = false;  ///< the cross-hair stands in the other picture (marks)
  Spot other_cursor_;
  QPointF pressed_, last_;
  mutable std::vector<QRectF> labels_;  ///< of this painting
  double wipe_ = 0.5;
  QTimer blink_;
};

}  // namespace bq::ui
