#pragma once

#include "bluntness/start_gate.h"
#include "ui/stones/stones_page.h"

class QComboBox;
class QLabel;

namespace bq::ui {

/// The start gate: initial readings of one steel and finish as a control chart.
class StartPage : public StonesPage {
  Q_OBJECT
 public:
  StartPage(Workbench& workbench, StonesModel& model, QWidget* parent = nullptr);
  [[nodiscard]] QString sentence() const;

 private:
  class Chart;
  void reload() override;
  void show_group();
  std::vector<StartGroup> groups_;
  QComboBox* choice_;
  QLabel *sentence_, *list_;
  Chart* chart_;
  std::int64_t blade_id_ = -1;
};

}  // namespace bq::ui
