#pragma once

#include <QWidget>
#include <array>

#include "ui/bench/trial_page.h"

class QPushButton;
class QStackedWidget;

namespace bq::ui {

class BenchModel;

/// Station Bench: the trial under way, the damage search, the steadiness meter, the gauge's checks,
/// the instruments and the protocol, one page each, made when it is first opened.
class BenchView : public QWidget {
  Q_OBJECT
 public:
  enum class Page { trial, search, steadiness, gauge, instruments, protocol };
  explicit BenchView(Workbench& workbench, QWidget* parent = nullptr);
  void open_page(Page which);
  [[nodiscard]] QWidget* page(Page which);
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
  [[nodiscard]] QWidget* make(Page which);

  Workbench& workbench_;
  BenchModel* model_;
  TrialPage* trial_;
  QStackedWidget* stack_;
  std::array<QWidget*, 6> pages_{};  ///< null until opened
  std::vector<QPushButton*> tabs_;
};

}  // namespace bq::ui
