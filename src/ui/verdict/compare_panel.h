#pragma once

#include <QWidget>

#include "ui/frame/workbench.h"
#include "workflow/verdict.h"

class QComboBox;
class QLabel;
class QTableWidget;

namespace bq::ui {

class EdgeGlyph;
class PlotView;

/// Life against force with the edges that nothing beats in both joined, and two edges side by side.
class ComparePanel : public QWidget {
  Q_OBJECT
 public:
  explicit ComparePanel(Workbench& workbench, QWidget* parent = nullptr);
  void show_verdict(const Verdict& verdict);
  /// The edge looked at; the first ranked one stands beside it (for the first: the second).
  void choose(int row);
  [[nodiscard]] PlotView* plot() const { return plot_; }
  [[nodiscard]] QTableWidget* table() const { return table_; }

 signals:
  void edge_picked(int row);

 private:
  void lay_out();
  void fill();

  Workbench& workbench_;
  std::vector<RankedEdge> edges_;
  int row_ = 0;
  PlotView* plot_;
  QComboBox* other_;
  EdgeGlyph *left_glyph_, *right_glyph_;
  QTableWidget* table_;
  QLabel* why_;
};

}  // namespace bq::ui
