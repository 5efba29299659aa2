#pragma once

#include <QTimer>
#include <QWidget>

#include "trial/bench_fields.h"
#include "ui/bench/bench_model.h"
#include "ui/parts/record_form.h"

class QLabel;

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
  void lay_out();
  void listen();
  void reload();
  void keep();
  Workbench& workbench_;
  BenchModel& model_;
  QLineEdit* stations();
  QComboBox* check_unit();
  RecordForm<BenchProtocol> fields_;
  QLabel *said_, *origin_;
  QTimer soon_;
};

}  // namespace bq::ui
