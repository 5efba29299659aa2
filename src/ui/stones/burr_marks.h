#pragma once

#include <QWidget>
#include <optional>

#include "ui/stones/stones_model.h"

class QPainter;

namespace bq::ui {

/// A ring where nobody looked, a disc as large as the burr, a dotted ring for one whose size was
/// not said, a cross where none was found.
void paint_burr(QPainter& painter, const QPointF& centre, BurrSize size, double radius);

/// The places of a gate as large targets in the order of the work, and below them what may be said
/// of the one that is asked for, each with its key, beside a drawing of how to look.
class BurrMarks : public QWidget {
  Q_OBJECT
 public:
  explicit BurrMarks(StonesModel& model, QWidget* parent = nullptr);
  /// The place asked for: the next one, or one that was touched; empty when all were looked at.
  [[nodiscard]] std::optional<int> asked() const;
  /// Says what is at the place asked for.
  void say(BurrSize size);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  void refresh();
  [[nodiscard]] int rows() const;
  [[nodiscard]] QRectF place_box(int mark) const;
  [[nodiscard]] QRectF size_box(int size) const;
  void paint_place(QPainter& painter, int mark, const SharpeningStep& step, bool wanted) const;

  StonesModel& model_;
  std::optional<int> touched_;
};

}  // namespace bq::ui
