#pragma once

#include <QDialog>

#include "ui/parts/number_entry.h"
#include "ui/stones/stones_model.h"

class QComboBox;
class QFormLayout;
class QLineEdit;

namespace bq::ui {

/// One step more for the sharpening in hand (local rework, straightening, a strop, anything of the
/// record), or the current one as it is really done: other passes, another pressure.
class StepDialog : public QDialog {
  Q_OBJECT
 public:
  /// `change`: the step to start from; without it a new one.
  StepDialog(Workbench& workbench, StonesModel& model, const SharpeningStep* change,
             QWidget* parent);
  [[nodiscard]] SharpeningStep step() const;

 private:
  void lay_out(const StonesModel& model, const SharpeningStep* change);
  void propose_place(const StonesModel& model);
  void show_wanted();
  Workbench& workbench_;
  QFormLayout* form_;
  SharpeningStep start_;  ///< what the form does not show stays
  QComboBox *work_, *abrasive_, *side_;
  NumberEntry *left_, *right_, *from_, *to_;
  NumberEntry* passes_;
  QLineEdit *pressure_, *substrate_, *note_;
};

}  // namespace bq::ui
