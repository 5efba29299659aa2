#pragma once

#include "ui/parts/number_entry.h"
#include "ui/stones/stones_page.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QTableWidget;

namespace bq::ui {

/// The ladder: what the edge is, what it is to be, and the steps that lead there.
class PlanPage : public StonesPage {
  Q_OBJECT
 public:
  PlanPage(Workbench& workbench, StonesModel& model, QWidget* parent = nullptr);

 private:
  void set_up_entries();
  void lay_out();
  void lay_out_steps();
  void reload() override;
  void take();  ///< what was typed goes into the model
  void propose_finish(int mode);
  void show_steps();
  void replay_last();

  bool filling_ = false;
  NumberEntry *dull_, *damage_, *edge_left_, *edge_right_, *micro_left_, *micro_right_, *facet_,
      *finish_left_, *finish_right_;
  QCheckBox *micro_, *apex_only_, *deburr_, *between_, *straighten_, *recurve_;
  QComboBox *mode_, *policy_, *proof_, *way_, *stop_, *places_, *strop_, *run_;
  QLabel *in_hand_, *finish_words_, *remarks_;
  QTableWidget* steps_;
  QPushButton* replay_;
};

}  // namespace bq::ui
