#pragma once

#include <QWidget>

#include "ui/parts/key_rest.h"
#include "ui/stones/stones_model.h"

class QLabel;
class QLineEdit;
class QPushButton;
class QTimer;

namespace bq::ui {

class Aloud;
class BurrMarks;

/// What to do now, in large type: one instruction, the places of its burr, a timer. The whole of a
/// sharpening goes by keys 1 to 9, Space and Backspace, or by touch; nothing needs a second hand.
class StepPanel : public QWidget {
  Q_OBJECT
 public:
  StepPanel(Workbench& workbench, StonesModel& model, QWidget* parent = nullptr);
  [[nodiscard]] QString instruction_text() const;  ///< with what is to be minded
  /// Space goes on, 1 to 4 say what is at the place asked for, Backspace takes back, 7 (O) passes
  /// the gate with a reason, 9 (T) holds the timer; false for any other key.
  bool take_key(QKeyEvent* event);

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void set_up_words();
  void set_up_buttons();
  void lay_out_caution();
  void lay_out_reason();
  void lay_out();
  void listen();
  void refresh();
  void tick();
  void see_caution();
  void ask_reason();
  void pass_with(const QString& reason);
  void close_reasons();
  void ask_step(bool change);

  Workbench& workbench_;
  StonesModel& model_;
  QLabel *place_, *big_, *next_, *time_, *first_, *note_, *look_, *remarks_, *caution_text_;
  QWidget *caution_, *reason_row_, *buttons_;
  QPushButton *begin_, *tap_, *undo_, *pause_, *pass_, *add_, *change_, *give_up_;
  QLineEdit* reason_;
  BurrMarks* marks_;
  Aloud* aloud_;
  QTimer* clock_;
  KeyRest rest_;  ///< of Space and Backspace
  KeyRest feel_;  ///< between two places
  QString done_sentence_;
  bool caution_seen_ = false;
};

}  // namespace bq::ui
