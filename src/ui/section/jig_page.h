#pragma once

#include "edge/clamp_jig.h"
#include "ui/parts/number_entry.h"
#include "ui/section/helper_page.h"

class QPushButton;
class QSlider;

namespace bq::ui {

/// The clamp jig: the blade's outline over the pivot, the angle along the edge, and the place in
/// the clamp that keeps it most even.
class JigPage : public HelperPage {
  Q_OBJECT
 public:
  JigPage(Workbench& workbench, SectionModel& model, QWidget* parent = nullptr);
  [[nodiscard]] QString result() const;

 private:
  void lay_out();
  class Picture;
  struct Setting {
    ClampJig jig{60, 120, 34, 0};
    double held_deg = 15;
    double shift_mm = 0;
  };
  void reload() override;
  void change(bool keep);
  void refresh();
  void find_best();
  void store();
  [[nodiscard]] std::optional<ClampSolver> solver() const;

  Setting setting_;
  bool filling_ = false;
  NumberEntry *x_, *height_, *offset_, *held_;
  QSlider* shift_;
  QLabel *shift_text_, *result_, *advice_;
  QPushButton *best_, *store_, *ink_apex_, *ink_shoulder_;
  Picture* picture_;
  QLabel* origin_;
};

}  // namespace bq::ui
