#pragma once

#include <QTableWidget>
#include <QWidget>

#include "ui/frame/workbench.h"

class QHBoxLayout;
class QLabel;

namespace bq::ui {

class PlotView;

/// One question's answer: the sentence first, the picture second, the table third, and how it was
/// computed folded away.
class AnswerPage : public QWidget {
  Q_OBJECT
 public:
  AnswerPage(Workbench& workbench, const QString& how, QWidget* parent = nullptr);
  [[nodiscard]] QString sentence() const;
  [[nodiscard]] PlotView* plot() const { return plot_; }

 protected:
  void set_sentence(const QString& text);
  void set_table(const QStringList& heads, const std::vector<QStringList>& rows);
  /// The run of each row, where rows are runs: a row picked is a run picked.
  void set_row_runs(const QStringList& runs);
  void set_how(const QString& how);
  /// Sentences under the main one.
  void set_remarks(const QStringList& remarks);
  [[nodiscard]] Workbench& workbench() const { return workbench_; }
  QHBoxLayout* controls_;
  PlotView* plot_;
  QTableWidget* table_;

 private:
  void lay_out();
  void listen();
  void light_run();
  void pick(const QString& run);

  Workbench& workbench_;
  QLabel *sentence_, *remarks_, *how_;
  QStringList row_runs_;
};

}  // namespace bq::ui
