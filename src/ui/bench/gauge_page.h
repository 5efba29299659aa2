#pragma once

#include <QWidget>

#include "ui/bench/bench_model.h"

class QLabel;
class QListWidget;
class QPushButton;

namespace bq::ui {

class PlotView;

/// Check weights over time, what they say of the readings between them, what happened in this run,
/// and what the force strokes say.
class GaugeChecksPage : public QWidget {
  Q_OBJECT
 public:
  GaugeChecksPage(Workbench& workbench, BenchModel& model, QWidget* parent = nullptr);
  [[nodiscard]] QString sentence() const;

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void lay_out();
  void listen();
  void reload();
  void flag();
  Workbench& workbench_;
  BenchModel& model_;
  QLabel *sentence_, *force_, *said_;
  QPushButton* flag_;
  PlotView* plot_;
  QListWidget* log_;
};

}  // namespace bq::ui
