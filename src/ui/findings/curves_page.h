#pragma once

#include "ui/findings/answer_page.h"
#include "ui/parts/number_entry.h"
#include "ui/plot/plot_view.h"

class QComboBox;
class QCheckBox;

namespace bq::ui {

/// "How does each edge blunt?": the curves, one run or overlaid by steel, angle or finish, with the
/// threshold as a line that can be dragged.
class CurvesPage : public AnswerPage {
  Q_OBJECT
 public:
  explicit CurvesPage(Workbench& workbench, QWidget* parent = nullptr);
  /// Only runs in this medium are overlaid.
  void set_medium(const std::string& medium);

 private:
  void listen();
  enum Overlay { one_run, by_steel, by_angle, by_finish };
  void reload();
  void reload_threshold();
  void reload_table();
  void show_study(const RunFit& fit, double threshold);
  [[nodiscard]] std::vector<PlotSeries> overlay(Overlay by) const;
  std::string medium_;
  QComboBox *overlay_, *run_;
  QCheckBox *log_cuts_, *log_readings_;
  NumberEntry* at_;
};

}  // namespace bq::ui
