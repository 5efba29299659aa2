#pragma once

#include <QFrame>

#include "edge/grind.h"
#include "quantity/angle.h"
#include "ui/parts/number_entry.h"

class QComboBox;
class QLabel;
class QToolButton;

namespace bq::ui {

/// One grind of the list: shape, side, angle, when to stop. Every field acts as it is changed.
class GrindRow : public QFrame {
  Q_OBJECT
 public:
  GrindRow(int index, QWidget* parent = nullptr);
  /// Shows a grind without telling anybody.
  void show_grind(const Grind& grind, AngleConvention convention);
  void show_trouble(bool trouble);
  [[nodiscard]] NumberEntry* angle_field() const { return angle_; }

 signals:
  void edited(int index, const Grind& grind, bool done);  ///< done: worth keeping
  void removed(int index);
  void move_wanted(int index, int steps);  ///< dragged or by key, down positive

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void paintEvent(QPaintEvent* event) override;

 private:
  void lay_out();
  void listen();
  void tell(bool done);
  void arrange();
  [[nodiscard]] Grind grind_shown() const;

  int index_;
  AngleConvention convention_ = AngleConvention::per_side;
  Grind grind_;
  QLabel* grip_;
  QComboBox *shape_, *side_, *until_;
  NumberEntry *angle_, *right_, *extra_, *amount_;
  QToolButton* remove_;
  bool filling_ = false, trouble_ = false;
  int drag_from_ = 0;
};

}  // namespace bq::ui
