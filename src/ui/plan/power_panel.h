#pragma once

#include <QWidget>

#include "ui/parts/number_entry.h"
#include "ui/plan/plan_model.h"

class QComboBox;
class QLabel;
class QProgressBar;
class QPushButton;
class QTableWidget;

namespace bq::ui {

class EnoughLine;
class HoldPanel;
class PlotView;

/// What the plan can tell: what is asked of it, the figure of that question (by formula and by
/// rehearsal), the curve, and what would help most.
class PowerPanel : public QWidget {
  Q_OBJECT
 public:
  PowerPanel(Workbench& workbench, PlanModel& model, QWidget* parent = nullptr);
  [[nodiscard]] QString sentence() const;
  [[nodiscard]] QPushButton* main_button() const { return rehearse_; }
  [[nodiscard]] QPushButton* help_button() const { return help_; }
  [[nodiscard]] HoldPanel* hold() const { return hold_; }

 private:
  void lay_out();
  void lay_out_question();
  void set_up_helps();
  void listen();
  void take_ask();     ///< another kind of question
  void take_factor();  ///< the question is about another factor
  void refill();
  void fill_question();
  void show_answer();
  void show_match(const Rehearsal* rehearsal);
  void show_best(const Rehearsal* rehearsal);
  void show_curve();
  void show_help();
  void show_progress();
  void take_question();
  [[nodiscard]] QString chance_words() const;
  [[nodiscard]] QString details() const;

  Workbench& workbench_;
  PlanModel& model_;
  QComboBox *ask_, *factor_, *to_, *from_;
  NumberEntry* wished_;
  QLabel *figure_, *sentence_, *details_, *notes_, *legend_;
  PlotView* plot_;
  QPushButton *rehearse_, *help_;
  QProgressBar* progress_;
  QTableWidget* helps_;
  HoldPanel* hold_;
  EnoughLine* enough_;  ///< what the runs that were made say already
  QWidget *question_, *wish_;
  bool filling_ = false;
};

}  // namespace bq::ui
