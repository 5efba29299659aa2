#pragma once

#include <QTimer>
#include <QWidget>

#include "ui/bench/bench_model.h"
#include "ui/parts/number_entry.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;

namespace bq::ui {

/// How this bench runs its trials; every change is kept as it is made.
class ProtocolPage : public QWidget {
  Q_OBJECT
 public:
  ProtocolPage(Workbench& workbench, BenchModel& model, QWidget* parent = nullptr);

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  void reload();
  void keep();
  Workbench& workbench_;
  BenchModel& model_;
  QCheckBox *prepare_, *gate_, *clean_, *look_, *sound_, *at_threshold_, *on_damage_;
  QComboBox *count_, *check_unit_;
  NumberEntry *pace_, *stroke_, *rest_after_, *rest_, *most_, *nominal_, *limit_, *debounce_;
  QLineEdit *stations_, *rate_, *lot_, *batch_;
  QLabel *said_, *origin_;
  QTimer soon_;
  bool loading_ = false;
};

}  // namespace bq::ui
