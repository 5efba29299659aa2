#pragma once

#include "ui/parts/number_entry.h"
#include "ui/plan/plan_panel.h"

class QVBoxLayout;
class QCheckBox;
class QComboBox;
class QDateEdit;
class QLineEdit;
class QPushButton;

namespace bq::ui {

/// When a run is read, and what its work takes.
class WorkPanel : public PlanPanel {
  Q_OBJECT
 public:
  WorkPanel(Workbench& workbench, PlanModel& model, QWidget* parent = nullptr);

 protected:
  void fill(const TrialPlan& plan) override;

 private:
  void lay_out_when(QVBoxLayout& all);
  void lay_out_rates(QVBoxLayout& all);
  void reach_longest();  ///< as many cuts as the longest life takes
  void listen();
  void show_needed();
  QLineEdit* given_;
  QCheckBox* burr_;
  QLabel *ladder_, *needed_;
  NumberEntry* precision_;
  QDateEdit* start_;
  QWidget* body_;
};

/// What the rehearsal takes as true: life, ratios between levels, spreads.
class ExpectPanel : public PlanPanel {
  Q_OBJECT
 public:
  ExpectPanel(Workbench& workbench, PlanModel& model, QWidget* parent = nullptr);

 protected:
  void fill(const TrialPlan& plan) override;

 private:
  void lay_out();
  void listen();
  void build(const TrialPlan& plan);
  QLineEdit* threshold_;
  QVBoxLayout* ratios_;
  std::vector<QLineEdit*> ratio_fields_;
  NumberEntry* fresh_ = nullptr;
  QLabel *note_, *reference_;
  QPushButton *evidence_, *elsewhere_;
  QWidget* body_;
  QString built_;
};

}  // namespace bq::ui
