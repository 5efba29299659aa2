#pragma once

#include <QWidget>

#include "ui/plan/plan_model.h"

namespace bq::ui {

/// The combinations as a field of glyphs: larger where run more often, faint where not chosen,
/// crossed out where excluded. A click (or Space on the framed one) takes a combination out or back
/// in.
class DesignField : public QWidget {
  Q_OBJECT
 public:
  DesignField(Workbench& workbench, PlanModel& model, QWidget* parent = nullptr);
  /// Pixel centre of a combination, for tests that click it; null where it is not drawn.
  [[nodiscard]] QPoint centre_of(const Combination& levels) const;
  void toggle(std::size_t candidate);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool event(QEvent* event) override;

 private:
  struct Cell {
    QRectF box;
    std::size_t candidate = 0;
  };
  struct Head {
    QRectF box;
    QString text;
    bool row = false;
    int style = -1;
  };
  void arrange();
  void arrange_grid(std::size_t row_factors);
  void arrange_flow();
  void paint_cell(QPainter& painter, const Cell& cell) const;
  [[nodiscard]] int cell_at(QPointF position) const;
  [[nodiscard]] QString words_of_cell(const Cell& cell) const;

  Workbench& workbench_;
  PlanModel& model_;
  std::vector<Cell> cells_;
  std::vector<Head> heads_;
  QString more_;  ///< what does not fit, in words
  int focus_ = 0;
};

}  // namespace bq::ui
