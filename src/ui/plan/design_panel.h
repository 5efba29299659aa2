#pragma once

#include "ui/plan/plan_panel.h"

class QVBoxLayout;
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
  void lay_out_combinations(QVBoxLayout& all);
  void lay_out_order(QVBoxLayout& all);
  void lay_out_rules(QVBoxLayout& all);
  void lay_out_blades(QVBoxLayout& all);
  void listen();
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
