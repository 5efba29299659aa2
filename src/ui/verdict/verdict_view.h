#pragma once

#include <QWidget>

#include "ui/frame/workbench.h"
#include "workflow/life_findings.h"

class QCheckBox;
class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QListView;
class QVBoxLayout;

namespace bq::ui {

class RankedEdgeModel;

/// Station Verdict: limits on the left with live counts, ranked edges in the middle, the reasons of
/// the chosen one below, the next best run at the foot.
class VerdictView : public QWidget {
  Q_OBJECT
 public:
  explicit VerdictView(Workbench& workbench, QWidget* parent = nullptr);
  [[nodiscard]] QString count_line() const;
  [[nodiscard]] RankedEdgeModel* model() const { return model_; }
  [[nodiscard]] bool settled() const { return !job_.busy(); }

 private:
  QWidget* make_limits();
  void refresh();
  void take(const LifeFindings& findings);
  void show_reasons(int row);
  [[nodiscard]] RecommendLimits limits() const;

  Workbench& workbench_;
  RankedEdgeModel* model_;
  QListView* list_;
  QLabel *count_, *sentence_, *reasons_, *next_, *axis_;
  QComboBox* medium_;
  QDoubleSpinBox *life_, *least_angle_, *largest_angle_;
  QVBoxLayout* steels_box_;
  std::vector<QCheckBox*> steels_;
  LatestJob<std::shared_ptr<LifeFindings>> job_;
};

}  // namespace bq::ui
