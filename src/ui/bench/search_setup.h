#pragma once

#include <QWidget>

#include "bluntness/damage_search.h"
#include "trial/trial.h"
#include "ui/parts/number_entry.h"

class QComboBox;
class QLineEdit;
class QPushButton;

namespace bq::ui {

/// What a damage search is of, before its first block: blade, medium, use, steps.
class SearchSetup : public QWidget {
  Q_OBJECT
 public:
  explicit SearchSetup(QWidget* parent = nullptr);
  void show_blades(const Trial& trial);  ///< what was chosen stays, when it is still there
  void show_search(const DamageSearch& begun);
  void set_writable(bool writable);
  /// What is set up, over what `begun` says already. `unnamed`: its name where none was typed.
  [[nodiscard]] DamageSearch asked(const DamageSearch& begun, const Trial& trial,
                                   const QString& unnamed) const;
  void go_to_missing();  ///< the first field that has to be said

 signals:
  void begin_asked();

 private:
  void lay_out();
  QComboBox *blade_, *mode_;
  QLineEdit *name_, *use_, *medium_;
  NumberEntry *start_, *step_, *micro_, *share_, *rough_, *confirm_;
  QPushButton* begin_;
};

}  // namespace bq::ui
