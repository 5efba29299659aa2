#pragma once

#include "ui/findings/answer_page.h"
#include "ui/plot/plot_view.h"
#include "workflow/life_findings.h"

class QComboBox;

namespace bq::ui {

/// "How does life depend on the angle?": every run's life, the fitted lines, the pure-geometry
/// line.
class LifePage : public AnswerPage {
  Q_OBJECT
 public:
  explicit LifePage(Workbench& workbench, QWidget* parent = nullptr);
  void show_findings(const LifeFindings& findings);

 signals:
  void interactions_wished(const std::vector<std::pair<std::string, std::string>>& interactions);

 private:
  QComboBox* model_;
};

/// Life against angle as series: runs by steel (censored with an arrow), fitted lines, geometry.
std::vector<PlotSeries> life_series(const Workbench& workbench, const LifeFindings& findings,
                                    bool with_bands);

}  // namespace bq::ui
