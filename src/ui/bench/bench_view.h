#pragma once

#include <QWidget>
#include <set>

#include "ui/frame/workbench.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace bq::ui {

class CheckpointStrip;
class EdgeGlyph;
class PlotView;
class ReadingDots;

/// Station Bench: one big instruction, the count or the last reading, the curve growing. Digits go to
/// the reading, Enter keeps it, Space confirms cuts, X takes the last reading out with a reason.
class BenchView : public QWidget {
  Q_OBJECT
 public:
  explicit BenchView(Workbench& workbench, QWidget* parent = nullptr);

  // What a person reads there, for tests.
  [[nodiscard]] QString instruction() const;
  [[nodiscard]] QString kept_line() const;
  [[nodiscard]] QLineEdit* entry() const { return entry_; }
  [[nodiscard]] PlotView* plot() const { return plot_; }

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  QWidget* make_left();
  void reload();
  void reload_chooser();
  void show_curve();
  void show_step();
  void keep_entry();
  void confirm();
  void ask_exclude(int reading);
  void say(const QString& sentence, bool refusal);
  [[nodiscard]] const Run* run() const;

  Workbench& workbench_;
  QComboBox *chooser_, *operator_;
  EdgeGlyph* glyph_;
  QLabel *edge_, *caution_, *instruction_, *figure_, *figure_unit_, *said_, *then_, *keys_;
  QPushButton *understood_, *confirm_;
  QLineEdit* entry_;
  QLabel* entry_unit_;
  ReadingDots* dots_;
  PlotView* plot_;
  CheckpointStrip* strip_;
  std::set<std::int64_t> cautioned_;  ///< runs whose caution was read in this sitting
};

}  // namespace bq::ui
