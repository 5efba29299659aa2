#pragma once

#include <QWidget>
#include <optional>

#include "trial/edge_map.h"
#include "ui/frame/workbench.h"

namespace bq::ui {

/// The blade's side profile as a long strip, a map of its whole edge: the left side's angle above,
/// the right side's below, and every burr, hanging point, bright spot and damage at its place.
class EdgeStrip : public QWidget {
  Q_OBJECT
 public:
  enum Layer {
    angles = 1,
    thickness = 2,
    burr = 4,
    hangs = 8,
    bright = 16,
    damage = 32,
    everything = 63
  };
  explicit EdgeStrip(Workbench& workbench, QWidget* parent = nullptr);
  void show_edge(const EdgeNow& edge, double tolerance_deg);
  void set_layers(int layers);
  [[nodiscard]] QSize sizeHint() const override { return {760, 270}; }
  /// Pixel of a place on the edge line, for tests that click it.
  [[nodiscard]] QPoint place_of(double at_mm) const;
  void mark(double at_mm);

 signals:
  void place_chosen(double at_mm, bool left);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;

 private:
  struct Frame;
  [[nodiscard]] Frame frame() const;
  void draw_side(QPainter& painter, const Frame& f, bool left) const;
  /// The angles of one bevel on one side; its name and mean stand `below` the band's top.
  void draw_angles(QPainter& painter, const Frame& f, const EdgeNow::SideAngles& side, bool left,
                   const QString& bevel, double below) const;
  void draw_blade(QPainter& painter, const Frame& f) const;
  void draw_spots(QPainter& painter, const Frame& f) const;

  Workbench& workbench_;
  EdgeNow edge_;
  double tolerance_deg_ = 0.5;
  int layers_ = everything;
  std::optional<double> marked_;
};

}  // namespace bq::ui
