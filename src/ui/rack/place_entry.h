#pragma once

#include <QWidget>

#include "ui/frame/workbench.h"
#include "ui/parts/bevel_choice.h"
#include "ui/parts/number_entry.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace bq::ui {

/// One line to type what was measured or seen at one place of the edge.
class PlaceEntry : public QWidget {
  Q_OBJECT
 public:
  explicit PlaceEntry(Workbench& workbench, QWidget* parent = nullptr);
  void set_blade(int index);
  void set_place(double at_mm, bool left);
  [[nodiscard]] QString said() const;

 private:
  void lay_out();
  void arrange();
  void keep();

  Workbench& workbench_;
  int blade_ = -1;
  NumberEntry* at_;
  QComboBox *what_, *side_;
  BevelChoice* bevel_;
  QLineEdit *value_, *note_;
  QLabel* say_;
  QPushButton* add_;
};

}  // namespace bq::ui
