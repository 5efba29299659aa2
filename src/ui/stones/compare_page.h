#pragma once

#include <array>

#include "trial/shelf_fields.h"
#include "ui/parts/record_form.h"
#include "ui/stones/stones_page.h"

class QLabel;
class QPushButton;
class QTableWidget;

namespace bq::ui {

/// Two treatments on marked sections of the same blades: readings in pairs, price against benefit.
class ComparePage : public StonesPage {
  Q_OBJECT
 public:
  ComparePage(Workbench& workbench, StonesModel& model, QWidget* parent = nullptr);
  [[nodiscard]] QString result() const;

 protected:
  void hideEvent(QHideEvent* event) override;

 private:
  void listen();
  void reload() override;
  void lay_out_treatments();
  void take();
  void add_new();
  void take_pair(int row);
  void show_verdict();
  [[nodiscard]] const Comparison* chosen() const;
  void keep(const Comparison& comparison);

  bool filling_ = false;
  std::int64_t id_ = 0;
  QComboBox* choice_;
  QLineEdit* new_name_;
  QPushButton *add_, *remove_;
  QLabel *result_, *price_, *verdict_, *cautions_;
  std::array<QComboBox*, 2> names_{};
  std::vector<RecordForm<Treatment>> treatments_;  ///< the first, the second
  RecordForm<Comparison> fields_;
  QTableWidget* pairs_;
  QWidget* form_;
};

}  // namespace bq::ui
