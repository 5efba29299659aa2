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
  [[nodiscard]] Workbench& workbench() const { return workbench_; }
  QHBoxLayout* controls_;
  PlotView* plot_;
  QTableWidget* table_;

 private:
  Workbench& workbench_;
  QLabel *sentence_, *how_;
};

}  // namespace bq::ui
