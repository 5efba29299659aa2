#pragma once

#include <QWidget>
#include <vector>

#include "ui/stones/stones_model.h"

namespace bq::ui {

/// The shelf on a log axis of particle size, coarse left; the ladder steps down from stone to
/// stone. Each rung carries its gate as six small marks that fill as burrs are confirmed.
class LadderDrawing : public QWidget {
  Q_OBJECT
 public:
  LadderDrawing(Workbench& workbench, StonesModel& model, QWidget* parent = nullptr);
  [[nodiscard]] QSize minimumSizeHint() const override { return {380, 190}; }

 signals:
  void stone_chosen(const QString& name);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  bool event(QEvent* event) override;

 private:
  struct Hit {
    QRectF box;
    QString name, tip;
  };
  [[nodiscard]] double x_of(double um) const;
  double draw_shelf(QPainter& painter, const Sharpening& sharpening);
  void draw_rungs(QPainter& painter, const Sharpening& sharpening, double top);
  [[nodiscard]] const Hit* hit_at(const QPointF& at) const;

  Workbench& workbench_;
  StonesModel& model_;
  double coarsest_um_ = 300, finest_um_ = 0.3;
  std::vector<Hit> hits_;
};

}  // namespace bq::ui
