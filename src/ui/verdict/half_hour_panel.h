#pragma once

#include <QWidget>

#include "ui/frame/workbench.h"
#include "workflow/half_hour.h"
#include "workflow/limits.h"

class QComboBox;
class QLabel;
class QTableWidget;

namespace bq::ui {

/// "Best next half hour": what to do with the blade in hand, ranked by the cuts each minute gains.
class HalfHourPanel : public QWidget {
  Q_OBJECT
 public:
  explicit HalfHourPanel(Workbench& workbench, QWidget* parent = nullptr);
  /// Limits and work of the verdict hold here too.
  void refresh(const LimitsFile& limits, const std::string& medium);
  void choose_blade(int index);
  [[nodiscard]] QString sentence() const;
  [[nodiscard]] QTableWidget* table() const { return table_; }
  [[nodiscard]] bool settled() const { return !job_.busy(); }

 private:
  void lay_out();
  void ask();
  void show_answer(const Checked<HalfHour>& answer);

  Workbench& workbench_;
  LimitsFile limits_;
  std::string medium_;
  QComboBox* blade_;
  QLabel *sentence_, *remarks_;
  QTableWidget* table_;
  LatestJob<std::shared_ptr<Checked<HalfHour>>> job_;
};

}  // namespace bq::ui
