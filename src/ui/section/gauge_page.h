#pragma once

#include "store/jig_files.h"
#include "ui/parts/bevel_choice.h"
#include "ui/parts/number_entry.h"
#include "ui/section/helper_page.h"

class QComboBox;
class QLineEdit;
class QPushButton;
class QTableWidget;

namespace bq::ui {

/// The gauge log: zero, readings, zero again; readings taken while the zero drifted are void.
class GaugePage : public HelperPage {
  Q_OBJECT
 public:
  GaugePage(Workbench& workbench, SectionModel& model, QWidget* parent = nullptr);
  [[nodiscard]] QString summary() const;

 private:
  void set_up_entries();
  void lay_out();
  void listen();
  void reload() override;
  void refresh();
  void add(GaugeEntry::Kind kind);
  bool keep_now(const char* what);
  void store();

  GaugeLogFile log_;
  bool filling_ = false;
  QLineEdit* value_;
  QComboBox* side_;
  BevelChoice* bevel_;
  NumberEntry *at_, *taper_, *limit_;
  QPushButton *zero_, *reading_, *check_, *turn_, *back_, *clear_, *store_;
  QTableWidget* table_;
  QLabel *say_, *summary_;
};

}  // namespace bq::ui
