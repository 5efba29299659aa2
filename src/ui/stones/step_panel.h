#pragma once

#include <QWidget>

#include "ui/parts/key_rest.h"
#include "ui/stones/stones_model.h"

class QLabel;
class QLineEdit;
class QPushButton;
class QTimer;

namespace bq::ui {

/// What to do now, in large type: one instruction, six places to tap, a timer. One key each;
/// nothing here needs a second hand.
class StepPanel : public QWidget {
  Q_OBJECT
 public:
  StepPanel(Workbench& workbench, StonesModel& model, QWidget* parent = nullptr);
  [[nodiscard]] QString instruction_text() const;
  /// Space, 1 to 6, Backspace, T, O; false for any other key.
  bool take_key(QKeyEvent* event);

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  class Marks;
  void refresh();
  void tick();
  void ask_reason();
  void ask_step(bool change);

  Workbench& workbench_;
  StonesModel& model_;
  QLabel *place_, *big_, *next_, *time_, *first_, *caution_text_;
  QWidget *caution_, *reason_row_, *buttons_;
  QPushButton *begin_, *tap_, *undo_, *pause_, *pass_, *add_, *change_, *give_up_;
  QLineEdit* reason_;
  Marks* marks_;
  QTimer* clock_;
  KeyRest rest_;  ///< of Space and Backspace
  QString done_sentence_;
  bool caution_seen_ = false;
};

}  // namespace bq::ui
