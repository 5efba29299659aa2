#pragma once

#include "ui/stones/stones_page.h"

class QComboBox;
class QLabel;
class QPushButton;

namespace bq::ui {

/// How this steel's burr is taken off, why, and what the runs say about it.
class RoutePage : public StonesPage {
  Q_OBJECT
 public:
  RoutePage(Workbench& workbench, StonesModel& model, QWidget* parent = nullptr);

 signals:
  void look_wanted();  ///< ask the edge-condition key

 private:
  void listen();
  void reload() override;
  QLabel *why_, *runs_, *steps_, *both_;
  QComboBox* behaviour_;
  QPushButton *look_, *try_other_;
};

}  // namespace bq::ui
