#pragma once

#include <array>

#include "ui/parts/number_entry.h"
#include "ui/stones/stones_page.h"

class QCheckBox;
class QComboBox;
class QGridLayout;
class QLabel;
class QLineEdit;
class QPushButton;

namespace bq::ui {

/// One abrasive of the shelf: what it is, how flat it is, what it costs, and what the shelf lacks.
class StonePage : public StonesPage {
  Q_OBJECT
 public:
  StonePage(Workbench& workbench, StonesModel& model, QWidget* parent = nullptr);
  void choose(const QString& name);

 protected:
  void hideEvent(QHideEvent* event) override;

 private:
  void reload() override;
  void fill();
  void take();  ///< what was typed is kept
  void log_look();
  void add_new();
  void remove();
  void keep(const Abrasive& abrasive);
  [[nodiscard]] const Abrasive* chosen() const;
  /// A field under its own label; no label where the field says what it is.
  struct Field {
    QString label{};
    QWidget* widget = nullptr;
  };
  void add_row(QGridLayout* grid, const Field& first, const Field& second);

  bool filling_ = false;
  std::string name_;
  QComboBox *choice_, *kind_;
  std::array<QComboBox*, 3> bites_;
  QLineEdit *label_, *pressure_, *mess_, *note_, *new_name_;
  NumberEntry *size_, *rate_, *length_, *limit_, *soak_, *price_, *usable_, *wear_, *substrate_,
      *modulus_, *deviation_, *over_;
  NumberEntry *check_every_, *since_, *break_in_, *upkeep_;
  QCheckBox *loaded_, *streaks_, *blackened_, *retired_, *flattened_;
  QLabel *state_, *log_, *shelf_;
  QPushButton *add_, *remove_, *look_;
  QWidget *form_, *flat_form_, *strop_form_;
};

}  // namespace bq::ui
