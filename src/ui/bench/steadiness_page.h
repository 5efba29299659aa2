#pragma once

#include <QTimer>
#include <QWidget>

#include "bluntness/steadiness.h"
#include "ui/bench/bench_model.h"
#include "ui/parts/number_entry.h"

class QCheckBox;
class QLabel;
class QPushButton;

namespace bq::ui {

class PlotView;

/// The live cue: a needle of the angle about the target and the last seconds as a line.
class AngleCue : public QWidget {
  Q_OBJECT
 public:
  explicit AngleCue(InstrumentDesk& desk, QWidget* parent = nullptr);
  void set_target(double target_deg) { target_ = target_deg; }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  InstrumentDesk& desk_;
  QTimer frame_;
  double target_ = 15;
};

/// Freehand strokes under the angle gauge: scatter within and between them, the upper tail, and how
/// the hand gets on over sessions.
class SteadinessPage : public QWidget {
  Q_OBJECT
 public:
  SteadinessPage(Workbench& workbench, BenchModel& model, QWidget* parent = nullptr);
  [[nodiscard]] QString sentence() const;
  [[nodiscard]] bool recording() const { return recording_; }

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  void lay_out();
  void listen();
  void toggle();
  void finish();
  void reload();
  void show_state();
  Workbench& workbench_;
  BenchModel& model_;
  bool recording_ = false;
  SteadinessSession now_;
  NumberEntry* target_;
  QCheckBox* tone_;
  QPushButton *start_, *zero_;
  QLabel *state_, *sentence_, *progress_sentence_;
  AngleCue* cue_;
  PlotView* progress_;
  QTimer tick_;
  bool was_over_ = false;
};

}  // namespace bq::ui
