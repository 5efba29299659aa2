#pragma once

#include "edge/abrasive_fields.h"
#include "ui/parts/record_form.h"
#include "ui/stones/stones_page.h"

class QGridLayout;
class QLabel;
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
  void listen();
  void reload() override;
  void lay_out_stone();
  void lay_out_face();
  void lay_out_strop();
  QGridLayout* bites();  ///< how it cuts steels
  void fill();
  void take();  ///< what was typed is kept
  void log_look();
  void add_new();
  void remove();
  void keep(const Abrasive& abrasive);
  [[nodiscard]] const Abrasive* chosen() const;
  std::string name_;
  QComboBox* choice_;
  QLineEdit* new_name_;
  RecordForm<Abrasive> fields_;
  RecordForm<FlatnessEntry> look_fields_;  ///< a look at the face that is not logged yet
  NumberEntry* over_;
  QCheckBox* flattened_;
  QLabel *state_, *log_, *shelf_;
  QPushButton *add_, *remove_, *log_look_;
  QWidget *form_, *flat_form_, *strop_form_;
};

}  // namespace bq::ui
