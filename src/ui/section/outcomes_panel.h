#pragma once

#include <QWidget>
#include <vector>

#include "ui/parts/number_entry.h"
#include "ui/section/section_model.h"

class QGridLayout;
class QLabel;

namespace bq::ui {

/// What the section is worth: before, after and the difference, and the load that is asked about.
class OutcomesPanel : public QWidget {
  Q_OBJECT
 public:
  OutcomesPanel(Workbench& workbench, SectionModel& model, QWidget* parent = nullptr);
  /// The shown text of a row and column (0 before, 1 now, 2 difference), for tests; empty when
  /// absent.
  [[nodiscard]] QString cell(const QString& row, int column) const;
  [[nodiscard]] QString rough_words() const;  ///< what damage searches say of this section

 private:
  void lay_out();
  void listen();
  struct Line {
    QString name;
    QLabel *label, *before, *now, *difference;
  };
  void refresh();
  void refresh_rough(const SectionStudy* now);
  void ask();

  Workbench& workbench_;
  SectionModel& model_;
  std::vector<Line> lines_;
  QLabel *before_head_, *steel_, *estimate_, *rough_;
  NumberEntry *force_, *depth_, *length_, *rate_;
  QLabel* origin_;
  bool filling_ = false;
};

}  // namespace bq::ui
