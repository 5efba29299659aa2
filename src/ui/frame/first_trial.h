#pragma once

#include <QDialog>
#include <functional>
#include <vector>

class QLabel;
class QPushButton;

namespace bq::ui {

/// One step of the first trial: what is to be done (Markdown), what takes one there, and whether it
/// was done.
struct TrialStep {
  QString text;
  std::function<void()> show;
  std::function<bool()> done;
};

/// The first trial, played in the program: stands beside the work, says one step at a time and goes
/// on by itself when it was done.
class FirstTrial : public QDialog {
  Q_OBJECT
 public:
  FirstTrial(std::vector<TrialStep> steps, QWidget* parent);
  /// Looks whether the step in hand was done; called whenever something changed.
  void look();
  [[nodiscard]] int step() const { return step_; }  ///< from 0; the count of steps when all is done

 private:
  std::vector<TrialStep> steps_;
  int step_ = 0;
  QLabel *where_, *text_;
  QPushButton* show_;
};

}  // namespace bq::ui
