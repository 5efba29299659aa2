#pragma once

#include <QMainWindow>
#include <array>
#include <functional>

#include "ui/frame/workbench.h"

class QLabel;
class QProgressBar;
class QPushButton;
class QStackedWidget;

namespace bq::ui {

class NextActionBar;
class PathRail;

/// Arranges the path, the line across the top, the stations and the strip of long work; stations are
/// made when they are first shown.
class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  explicit MainWindow(QWidget* parent = nullptr);
  ~MainWindow() override;
  [[nodiscard]] Workbench& workbench() { return workbench_; }
  void go_to(Station station);
  [[nodiscard]] QWidget* station(Station station);
  /// The message strip's text, as a person would read it.
  [[nodiscard]] QString message() const;

 signals:
  /// The frame has been painted for the first time; the first station is made right after.
  void painted();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void closeEvent(QCloseEvent* event) override;

 private:
  void make_shortcuts();
  void show_message(const QString& sentence, bool refusal);
  void show_progress(const QString& what, int done, int total);
  void refresh_frame();
  void act_on_next();
  void open_menu();
  void open_palette();
  void ask_open();
  void ask_new();
  void ask_import();
  void ask_copy();
  void ask_export();
  void show_about();
  void toggle_theme();

  Workbench workbench_;
  PathRail* rail_;
  NextActionBar* bar_;
  QStackedWidget* stack_;
  std::array<QWidget*, 4> stations_{};
  QWidget* strip_;
  QLabel* message_;
  QLabel* job_;
  QProgressBar* progress_;
  QPushButton *stop_, *dismiss_;
  NextAction next_;
  bool painted_ = false;
};

}  // namespace bq::ui
