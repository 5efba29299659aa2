#pragma once

#include <QWidget>

#include "ui/plan/plan_model.h"

namespace bq::ui {

/// The run sheet as tags in running order, grouped by block and day, rests as pauses after the tag;
/// tags on the bench are filled. Scrolls sideways in its scroll area.
class SheetStrip : public QWidget {
  Q_OBJECT
 public:
  SheetStrip(Workbench& workbench, PlanModel& model, QWidget* parent = nullptr);
  [[nodiscard]] QSize sizeHint() const override { return {width_, 112}; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  bool event(QEvent* event) override;

 private:
  void arrange();
  [[nodiscard]] QString words_of_run(const SheetRun& run) const;
  Workbench& workbench_;
  PlanModel& model_;
  std::vector<double> left_;  ///< of each tag
  int width_ = 100;
};

}  // namespace bq::ui
