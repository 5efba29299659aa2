#pragma once

#include <QDialog>

class QCheckBox;
class QComboBox;
class QLabel;

namespace bq::ui {

class Workbench;

/// What is set for this desk, whatever project is open: how things are shown, and what is heard.
/// Every choice counts at once and is kept.
class SettingsDialog : public QDialog {
  Q_OBJECT
 public:
  explicit SettingsDialog(Workbench& workbench, QWidget* parent = nullptr);

 signals:
  void size_wanted(int percent);

 private:
  [[nodiscard]] QWidget* shown_part();
  [[nodiscard]] QWidget* heard_part();
  void fill();
  void take_display();
  void take_preferences();

  Workbench& workbench_;
  QComboBox *theme_, *size_, *angles_, *force_, *length_;
  QCheckBox *still_, *tones_, *voice_;
  QLabel* no_voice_;
  bool filling_ = false;
};

}  // namespace bq::ui
