#pragma once

#include <QWidget>

#include "ui/frame/workbench.h"

class QComboBox;
class QLabel;
class QLayout;
class QLineEdit;
class QListView;
class QPushButton;
class QStackedWidget;
class QTableView;

namespace bq::ui {

class BladeFinder;
class BladeListModel;
class BladePage;
class EdgeGlyph;
class RunTableModel;

/// Station Rack: blades as tags on pegs, and what each has been through.
class RackView : public QWidget {
  Q_OBJECT
 public:
  explicit RackView(Workbench& workbench, QWidget* parent = nullptr);
  void start_blade();
  void start_run();
  void choose_blade(int index);
  [[nodiscard]] RunTableModel* run_model() const { return run_model_; }
  [[nodiscard]] BladePage* blade_page() const { return page_; }
  /// The chosen blade's edge, or its runs.
  void show_runs(bool runs);

 signals:
  void section_wanted(int blade);

 private:
  QWidget* make_blades();  ///< the list on the left, with what finds and orders it
  QLayout* make_chosen();  ///< the blade that is chosen: its edge, its runs
  void set_up_runs();
  void listen_to_blades();
  void listen_to_runs();
  void listen_to_project();
  void reload();
  void duplicate();  ///< the chosen blade, under the first free name after its own
  void show_blade(int index);
  /// The blades that are picked in the list: one, or several together.
  [[nodiscard]] std::vector<std::size_t> picked() const;
  void retire_picked();
  void show_columns(bool of_all);
  void edit_blade();
  void edit_run(const QModelIndex& row);

  Workbench& workbench_;
  BladeListModel* blade_model_;
  BladeFinder* finder_;
  RunTableModel* run_model_;
  QLineEdit *find_blade_, *find_run_;
  QComboBox* order_;
  QLabel* none_found_;
  QListView* blades_;
  QTableView* runs_;
  QLabel *title_, *facts_, *note_;
  EdgeGlyph* glyph_;
  QPushButton *add_run_, *edit_blade_, *edit_run_, *to_bench_, *edge_tab_, *runs_tab_, *duplicate_,
      *retire_, *section_;
  BladePage* page_;
  QStackedWidget* pages_;
  bool runs_wanted_ = false;
  int blade_ = -1;  ///< -1: every run
};

}  // namespace bq::ui
