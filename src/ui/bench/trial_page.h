#pragma once

#include <QTimer>
#include <QWidget>
#include <set>

#include "ui/bench/bench_model.h"
#include "ui/parts/key_rest.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;
class QStackedWidget;

namespace bq::ui {

class CheckpointStrip;
class EdgeGlyph;
class EnoughLine;
class LookPanel;
class PlotView;
class ReadingDots;
class ReasonPanel;
class StageLine;
class StrokeTrace;

/// The run under way: one instruction, one number, one curve. Space (or a pedal) does the one thing
/// to do; digits go to the reading without anything being clicked; every other act has one key and
/// one button.
class TrialPage : public QWidget {
  Q_OBJECT
 public:
  TrialPage(Workbench& workbench, BenchModel& model, QWidget* parent = nullptr);

  // What a person reads there, for tests.
  [[nodiscard]] QString instruction() const;
  [[nodiscard]] QString kept_line() const;
  [[nodiscard]] QString facts() const;
  [[nodiscard]] QLineEdit* entry() const { return entry_; }
  [[nodiscard]] PlotView* plot() const { return plot_; }
  [[nodiscard]] StageLine* stages() const { return stages_; }
  [[nodiscard]] StrokeTrace* trace() const { return trace_; }
  void ask_exclude(int reading);
  void take_key(QKeyEvent* event) { keyPressEvent(event); }

 signals:
  void full_screen_left();

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  void lay_out();
  void listen();
  void follow();
  enum Middle { kWork, kLook, kReason };
  QWidget* make_left();
  QWidget* make_work();
  void reload();
  void reload_chooser();
  void show_facts();
  void show_dots();
  void show_step();
  void show_live();
  void show_curve();
  void act();
  void keep_entry();
  void ask(const QString& question, const QString& more, const QStringList& usual,
           const std::function<void(const QString&)>& take);
  void ask_go_on();
  void ask_stop();
  void back_to_work();
  void say(const QString& sentence, bool refusal);
  /// A key as it was pressed: rests between two presses of a shaking hand, then commands.
  bool take(const QKeyEvent& press);
  bool command(int key);
  [[nodiscard]] const Run* run() const { return model_.run(); }

  Workbench& workbench_;
  BenchModel& model_;
  KeyRest rest_;
  QComboBox *chooser_, *operator_;
  EdgeGlyph* glyph_;
  QLabel *edge_, *caution_, *instruction_, *detail_, *figure_, *figure_unit_, *said_, *then_,
      *keys_;
  EnoughLine* enough_;
  QPushButton *understood_, *confirm_, *second_, *uncover_;
  QLineEdit* entry_;
  QLabel* entry_unit_;
  ReadingDots* dots_;
  StageLine* stages_;
  QStackedWidget* middle_;
  LookPanel* look_;
  ReasonPanel* reason_;
  PlotView* plot_;
  StrokeTrace* trace_;
  CheckpointStrip* strip_;
  QProgressBar* pace_;
  QTimer live_;
  std::set<std::int64_t> cautioned_;  ///< runs whose caution was read in this sitting
};

}  // namespace bq::ui
