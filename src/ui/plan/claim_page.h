#pragma once

#include <QWidget>

#include "ui/parts/number_entry.h"
#include "ui/plan/plan_model.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;
class QTableWidget;

namespace bq::ui {

/// Settle a claim: pick or word one, get the smallest blind test on the same blades, enter the
/// figures by code, unseal.
class ClaimPage : public QWidget {
  Q_OBJECT
 public:
  ClaimPage(Workbench& workbench, PlanModel& model, QWidget* parent = nullptr);
  /// Begins a test of a claim of the list (or one of one's own).
  void begin(const std::string& claim_id);
  void choose(int index);
  [[nodiscard]] QString sentence() const;
  [[nodiscard]] QTableWidget* table() const { return table_; }
  [[nodiscard]] QPushButton* unseal_button() const { return unseal_; }

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  void lay_out_claims();
  void lay_out_form();
  void lay_out_answer();
  void listen();
  void refill();
  void fill_form(const ClaimTest& test);
  void fill_table(const ClaimTest& test);
  void show_answer(const ClaimTest& test);
  void take_form();
  void take_value(int row);
  void save_sheet();
  void print_sheet();
  void save_card();
  void ask_unseal();
  [[nodiscard]] const ClaimTest* chosen() const;

  Workbench& workbench_;
  PlanModel& model_;
  QListWidget* list_;
  QComboBox *new_claim_, *measure_, *kind_;
  QLineEdit *words_, *first_, *second_;
  NumberEntry *ratio_, *spread_, *chance_;
  NumberEntry* pairs_;
  QLabel *size_, *other_, *steps_, *caution_, *answer_, *notes_, *sheet_head_;
  QTableWidget* table_;
  QPushButton *unseal_, *sheet_, *print_, *card_, *remove_;
  QWidget *form_, *right_, *left_;
  int index_ = -1;
  bool filling_ = false;
};

}  // namespace bq::ui
