#pragma once

#include <QWidget>
#include <functional>

#include "ui/parts/number_entry.h"
#include "ui/plan/plan_model.h"

class QGridLayout;
class QLabel;
class QPushButton;

namespace bq::ui {

/// "Does it hold?": the search for the slimmest edge as it is planned, the chance that it ends
/// there, and the one act that begins it on the Bench.
class HoldPanel : public QWidget {
  Q_OBJECT
 public:
  HoldPanel(Workbench& workbench, PlanModel& model, QWidget* parent = nullptr);
  void refill();
  [[nodiscard]] QString sentence() const;
  [[nodiscard]] QPushButton* begin_button() const { return begin_; }

 private:
  void lay_out();
  NumberEntry* field(QGridLayout* grid, int row, const QString& label);
  void keep();
  void begin();

  Workbench& workbench_;
  PlanModel& model_;
  NumberEntry *start_, *step_, *rough_, *confirm_, *wanted_, *expected_;
  QLabel *figure_, *sentence_, *details_;
  QPushButton* begin_;
  bool filling_ = false;
};

}  // namespace bq::ui
