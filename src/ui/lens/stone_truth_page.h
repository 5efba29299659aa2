#pragma once

#include <QWidget>

#include "ui/frame/workbench.h"
#include "workflow/stone_truth.h"

class QLabel;
class QPushButton;
class QTableWidget;

namespace bq::ui {

/// What each stone does by the scratches it leaves: sizes with their intervals on one axis beside
/// what the labels say, coarsest first; which labels mislead, which stones do the same work. A size
/// can be put on the shelf, and a stone's size be taken as known.
class StoneTruthPage : public QWidget {
  Q_OBJECT
 public:
  explicit StoneTruthPage(Workbench& workbench, QWidget* parent = nullptr);
  [[nodiscard]] const StoneTruths& truths() const { return truths_; }
  [[nodiscard]] QTableWidget* table() const { return table_; }

 private:
  void lay_out();
  void listen();
  class Axis;
  void reload();
  void show_choice();
  Workbench& workbench_;
  StoneTruths truths_;
  QLabel *sentence_, *chosen_, *twins_;
  Axis* axis_;
  QTableWidget* table_;
  QPushButton *take_size_, *reference_;
};

}  // namespace bq::ui
