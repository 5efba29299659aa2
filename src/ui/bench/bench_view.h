#pragma once

#include <QWidget>

#include "ui/bench/trial_page.h"

class QPushButton;
class QStackedWidget;

namespace bq::ui {

class BenchModel;

/// Station Bench: the trial under way, the damage search, the steadiness meter, the gauge's checks,
/// the instruments and the protocol, one page each.
class BenchView : public QWidget {
  Q_OBJECT
 public:
  enum class Page { trial, search, steadiness, gauge, instruments, protocol };
  explicit BenchView(Workbench& workbench, QWidget* parent = nullptr);
  void open_page(Page page);
  [[nodiscard]] QWidget* page(Page page) const;
  [[nodiscard]] BenchModel& model() { return *model_; }
  [[nodiscard]] TrialPage* trial() const { return trial_; }

  [[nodiscard]] QString instruction() const { return trial_->instruction(); }
  [[nodiscard]] QString kept_line() const { return trial_->kept_line(); }
  [[nodiscard]] QLineEdit* entry() const { return trial_->entry(); }
  [[nodiscard]] PlotView* plot() const { return trial_->plot(); }

 signals:
  void full_screen_left();

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  BenchModel* model_;
  TrialPage* trial_;
  QStackedWidget* pages_;
  std::vector<QPushButton*> tabs_;
};

}  // namespace bq::ui
