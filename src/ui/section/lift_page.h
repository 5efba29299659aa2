#pragma once

#include "ui/parts/number_entry.h"
#include "ui/section/helper_page.h"

class QComboBox;
class QTableWidget;

namespace bq::ui {

/// Bench stones and rolling holders: what to lay under the spine, and what a holder with wedges
/// gives.
class LiftPage : public HelperPage {
  Q_OBJECT
 public:
  LiftPage(Workbench& workbench, SectionModel& model, QWidget* parent = nullptr);
  [[nodiscard]] QString result() const;

 private:
  void set_up_entries();
  void lay_out_lift();
  void lay_out_holders();
  void lay_out_estimates();
  void reload() override;
  void take_blade();  ///< its width, spine and angle into the fields
  void refresh();
  void refresh_estimates();
  void refresh_holders();
  void keep_holders();

  bool filling_ = false;
  NumberEntry *angle_, *width_, *spine_, *spacer_;
  NumberEntry *near_d_, *near_t_, *far_d_, *far_t_;
  NumberEntry *facet_, *shoulder_;
  QComboBox *backing_, *pressure_;
  QLabel *result_, *callipers_, *from_facet_, *strop_say_, *holders_say_;
  QTableWidget* holders_;
};

}  // namespace bq::ui
