#pragma once

#include <QDialog>

#include "trial/trial.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;

namespace bq::ui {

class Workbench;

/// Adds a blade or edits one.
class BladeEditor : public QDialog {
  Q_OBJECT
 public:
  /// `index` empty: a new blade.
  BladeEditor(Workbench& workbench, std::optional<std::size_t> index, QWidget* parent);

 private:
  void lay_out();
  void keep();
  Workbench& workbench_;
  std::optional<std::size_t> index_;
  QLineEdit *name_, *note_;
  QComboBox* steel_;
  QCheckBox* retired_;
  QLabel* refusal_;
};

}  // namespace bq::ui
