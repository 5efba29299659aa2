#pragma once

#include "ui/stones/stones_page.h"

class QComboBox;
class QLabel;
class QPushButton;

namespace bq::ui {

/// The edge card of a run as it will be printed: to look at, to save, to print.
class CardPage : public StonesPage {
  Q_OBJECT
 public:
  CardPage(Workbench& workbench, StonesModel& model, QWidget* parent = nullptr);

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  void reload() override;
  void show_card();
  void save();
  void print();
  QComboBox* run_;
  QPushButton *save_, *print_;
  QLabel* pages_;
  std::int64_t blade_id_ = -1;
};

}  // namespace bq::ui
