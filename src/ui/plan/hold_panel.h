#pragma once

#include <QWidget>
#include <vector>

#include "plan/plan_fields.h"
#include "ui/parts/number_entry.h"
#include "ui/parts/record_form.h"
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
  /// The entry of a figure of the search on a line of its own.
  template <auto Member>
  NumberEntry* line(QGridLayout* grid, int row, int decimals, double step,
                    const QString& beside = {});
  void keep();
  void begin();

  Workbench& workbench_;
  PlanModel& model_;
  RecordForm<HoldSearch> form_;
  std::vector<NumberEntry*> entries_;
  QLabel *figure_, *sentence_, *details_;
  QPushButton* begin_;
  bool filling_ = false;
};

}  // namespace bq::ui
