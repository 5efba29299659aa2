#pragma once

#include <QWidget>
#include <vector>

#include "ui/parts/number_entry.h"
#include "ui/section/section_model.h"

class QComboBox;
class QLabel;
class QVBoxLayout;

namespace bq::ui {

class GrindRow;

/// The blank, the grinds in order, and the width of the apex; everything follows live.
class GrindList : public QWidget {
  Q_OBJECT
 public:
  GrindList(Workbench& workbench, SectionModel& model, QWidget* parent = nullptr);
  [[nodiscard]] GrindRow* row(int index) const { return rows_[std::size_t(index)]; }

 private:
  void lay_out();
  void refresh();
  void move(int index, int steps);
  void change_blank(bool keep);
  void refresh_starts();
  void start_from(int index);

  Workbench& workbench_;
  SectionModel& model_;
  QVBoxLayout* list_;
  std::vector<GrindRow*> rows_;
  QComboBox* start_;
  NumberEntry *stock_, *height_, *apex_;
  QLabel *stock_label_, *height_label_;
  bool filling_ = false;
};

}  // namespace bq::ui
