#pragma once

#include <QDateTime>
#include <QWidget>

class QComboBox;
class QLabel;
class QPushButton;

namespace bq::ui {

class Workbench;

/// The line across the top: project, the most useful next action with its button, unit switches and
/// when the last change was kept.
class NextActionBar : public QWidget {
  Q_OBJECT
 public:
  static constexpr int kHeight = 48;
  explicit NextActionBar(Workbench& workbench, QWidget* parent = nullptr);
  void show_action(const QString& sentence, const QString& button);
  void show_project(const QString& title, bool writable);
  void show_kept(const QDateTime& at);
  void show_display();
  [[nodiscard]] QWidget* menu_button() const;

 signals:
  void go();
  void menu_wanted();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  void lay_out();
  void listen();
  void fit_sentence();  ///< what does not fit ends in an ellipsis; the tip has it all
  Workbench& workbench_;
  QLabel *project_, *sentence_, *kept_;
  QPushButton *button_, *angles_, *menu_;
  QComboBox* unit_;
};

}  // namespace bq::ui
