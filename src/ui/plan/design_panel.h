#pragma once

#include "ui/plan/plan_panel.h"

class QCheckBox;
class QComboBox;
class QLineEdit;
class QListWidget;
class QPushButton;
class QTableWidget;

namespace bq::ui {

/// Which combinations, how often, in which blocks and order, on which blades, under which rules.
class DesignPanel : public PlanPanel {
  Q_OBJECT
 public:
  DesignPanel(Workbench& workbench, PlanModel& model, QWidget* parent = nullptr);

 protected:
  void fill(const TrialPlan& plan) override;

 private:
  void fill_interactions(const TrialPlan& plan);
  void fill_rules(const TrialPlan& plan);
  void fill_blades(const TrialPlan& plan);
  void add_rule();
  void remove_rule();
  void take_blade(int row);

  QComboBox *kind_, *block_;
  QWidget* runs_line_;
  QVBoxLayout* interactions_;
  QLineEdit* operators_;
  QCheckBox* blind_;
  QListWidget* rules_;
  QComboBox *when_, *then_;
  QLineEdit* only_;
  QPushButton *add_rule_, *remove_rule_, *durable_;
  QTableWidget* blades_;
  QWidget* body_;
  QString built_;
};

}  // namespace bq::ui
