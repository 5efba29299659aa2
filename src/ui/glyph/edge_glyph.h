#pragma once

#include <QColor>
#include <QRectF>
#include <QWidget>
#include <optional>

#include "edge/edge_geometry.h"

class QPainter;

namespace bq::ui {

/// The mark of an edge (edge_mark.h), filled lightly, in a box.
void paint_edge_glyph(QPainter& painter, const QRectF& box, const EdgeGeometry& geometry,
                      const std::optional<Finish>& finish, const QColor& ink);

/// The same as a widget.
class EdgeGlyph : public QWidget {
  Q_OBJECT
 public:
  explicit EdgeGlyph(QWidget* parent = nullptr);
  void show_edge(const std::optional<EdgeGeometry>& geometry, const std::optional<Finish>& finish);
  [[nodiscard]] QSize sizeHint() const override { return {56, 64}; }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  std::optional<EdgeGeometry> geometry_;
  std::optional<Finish> finish_;
};

}  // namespace bq::ui
