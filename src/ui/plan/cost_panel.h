#pragma once

#include <QWidget>

#include "ui/plan/plan_model.h"

class QGridLayout;
class QLabel;

namespace bq::ui {

/// Where the hours go: one bar, a part for each kind of work, named under it.
class BudgetBar : public QWidget {
  Q_OBJECT
 public:
  explicit BudgetBar(QWidget* parent = nullptr);
  void show_budget(const PlanBudget& budget);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  std::vector<std::pair<QString, double>> parts_;
};

/// What the plan costs, as large figures over the bar: what it usually comes to, since runs end
/// when they are blunt, and what it can come to at most.
class CostPanel : public QWidget {
  Q_OBJECT
 public:
  CostPanel(Workbench& workbench, PlanModel& model, QWidget* parent = nullptr);

 private:
  void refill();
  PlanModel& model_;
  BudgetBar* bar_;
  std::vector<QLabel*> figures_, names_;
  QLabel *most_, *blades_;
};

/// "3 h 25 min", "40 min".
QString print_hours(double minutes);

}  // namespace bq::ui
