#pragma once

#include <QWidget>
#include <optional>

#include "ui/section/section_model.h"
#include "ui/section/section_painter.h"

namespace bq::ui {

/// The section to scale under a lens: wheel zooms, a facet can be dragged to another angle.
class SectionDrawing : public QWidget {
  Q_OBJECT
 public:
  SectionDrawing(Workbench& workbench, SectionModel& model, QWidget* parent = nullptr);
  [[nodiscard]] double lens_mm() const { return lens_mm_; }
  void set_lens(double mm);
  void set_side_by_side(bool on);
  [[nodiscard]] bool dragging() const { return dragged_ >= 0; }
  bool save(const QString& path);
  void copy();
  /// A point on a facet's face in the picture, for tests that drag it; null off the picture.
  [[nodiscard]] QPointF handle_of(int grind, EdgeSide side) const;
  static constexpr double kLeastLens_mm = 1e-3, kLargestLens_mm = 60;

 signals:
  void lens_changed(double mm);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void contextMenuEvent(QContextMenuEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void draw(QPainter& painter, const QRectF& box) const;
  [[nodiscard]] SectionScene scene() const;
  [[nodiscard]] QRectF main_box() const;
  void drag_to(QPointF place);

  Workbench& workbench_;
  SectionModel& model_;
  double lens_mm_ = 4;
  bool side_by_side_ = false;
  int hot_ = -1;      ///< facet under the hand, index into the study's facets
  int dragged_ = -1;  ///< grind being dragged
  EdgeSide dragged_side_ = EdgeSide::left;
  double pivot_h_mm_ = 0, pivot_y_mm_ = 0;  ///< the facet's lower end when the drag began
  std::optional<SectionFrame> drag_frame_;  ///< the picture the hand went by when it began
};

}  // namespace bq::ui
