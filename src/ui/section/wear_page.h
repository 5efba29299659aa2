#pragma once

#include "ui/parts/number_entry.h"
#include "ui/section/helper_page.h"

class QTableWidget;

namespace bq::ui {

class PlotView;

/// What touching up does to the section over time, and what each way of thinning takes, with what,
/// and buys.
class WearPage : public HelperPage {
  Q_OBJECT
 public:
  WearPage(Workbench& workbench, SectionModel& model, QWidget* parent = nullptr);
  [[nodiscard]] QString sentence() const;

 private:
  void lay_out();
  void listen();
  void reload() override { refresh(); }
  void refresh();
  void show_thinning(const SectionStudy& study);

  NumberEntry *worn_, *limit_, *wish_, *wheel_;
  NumberEntry* count_;
  QLabel *sentence_, *thinning_;
  PlotView* plot_;
  QTableWidget* table_;
};

}  // namespace bq::ui
