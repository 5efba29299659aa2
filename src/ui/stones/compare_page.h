#pragma once

#include <array>

#include "ui/parts/number_entry.h"
#include "ui/stones/stones_page.h"

class QComboBox;
class QLabel;
class QLineEdit;
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
  struct Fields {
    QComboBox* name;
    NumberEntry *minutes, *metal, *wear, *price;
    QLineEdit* mess;
  };
  void reload() override;
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
  std::array<Fields, 2> fields_;
  NumberEntry* per_hour_;
  QTableWidget* pairs_;
  QWidget* form_;
};

}  // namespace bq::ui
