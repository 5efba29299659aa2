#pragma once

#include <QDialog>

#include "ui/lens/lens_model.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace bq::ui {

class NumberEntry;
class PictureList;

/// Sets what many pictures show at once: run, blade, cuts, side, place, mark, instrument,
/// magnification, stone, and by which scale they are measured. Only what is ticked is set; one step
/// of undo. What was measured and would change its value is counted before.
class SeveralDialog : public QDialog {
  Q_OBJECT
 public:
  explicit SeveralDialog(LensModel& model, QWidget* parent = nullptr);

 private:
  void lay_out();
  void show_state();
  void keep();
  /// The picture as it would be.
  [[nodiscard]] Micrograph changed(Micrograph m) const;

  QComboBox* choice(const QString& name, const QStringList& items, bool editable);

  LensModel& model_;
  PictureList* list_;
  std::vector<QCheckBox*> ticks_;  ///< one a field, in the order of their rows
  QComboBox *run_, *blade_, *side_, *instrument_, *magnification_, *stone_, *scale_;
  NumberEntry *cuts_, *place_;
  QLineEdit* mark_;
  QLabel* says_;
  QPushButton* keep_;
};

}  // namespace bq::ui
