#pragma once

#include <QTimer>
#include <QWidget>

#include "ui/bench/bench_model.h"
#include "ui/parts/number_entry.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QTableWidget;

namespace bq::ui {

/// Setting up one instrument after the other: port, speed, format, unit; what comes on the line
/// beside what it means.
class InstrumentsPage : public QWidget {
  Q_OBJECT
 public:
  InstrumentsPage(Workbench& workbench, BenchModel& model, QWidget* parent = nullptr);
  void choose(InstrumentRole role);
  [[nodiscard]] QString state() const;
  [[nodiscard]] QTableWidget* lines() const { return lines_; }

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void listen();
  QWidget* make_form();
  void reload();
  void show_lines();
  [[nodiscard]] InstrumentProfile typed() const;
  Workbench& workbench_;
  BenchModel& model_;
  InstrumentRole role_ = InstrumentRole::gauge;
  std::vector<QPushButton*> roles_;
  QLineEdit *name_, *pattern_, *request_, *overload_, *unstable_;
  QComboBox *port_, *baud_, *unit_, *end_;
  NumberEntry *capacity_, *resolution_, *rate_;
  QLabel *state_, *counts_, *said_;
  QPushButton *keep_, *test_, *forget_;
  QTableWidget* lines_;
  QTimer tick_;
  long shown_ = -1;
};

}  // namespace bq::ui
