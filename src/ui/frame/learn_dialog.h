#pragma once

#include <QDialog>

#include "workflow/learned.h"

class QCheckBox;
class QLabel;
class QPushButton;

namespace bq::ui {

class Workbench;

/// What is there to be taken over from another project, before anything is.
class LearnDialog : public QDialog {
  Q_OBJECT
 public:
  LearnDialog(Workbench& workbench, Teacher other, QWidget* parent = nullptr);

 private:
  void lay_out();
  [[nodiscard]] LearnChoice choice() const;
  [[nodiscard]] Learned learned(const LearnChoice& choice) const;
  void show_choice();
  void take();

  Workbench& workbench_;
  Teacher other_;
  QCheckBox *steels_, *media_, *stones_, *jig_, *bench_;
  QLabel* left_;
  QPushButton* take_;
};

}  // namespace bq::ui
