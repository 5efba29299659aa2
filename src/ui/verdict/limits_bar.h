#pragma once

#include <QWidget>
#include <vector>

#include "workflow/limits.h"

class QHBoxLayout;
class QLabel;
class QPushButton;

namespace bq::ui {

/// The limits that are set, one press each to take it back, the count of edges that pass, and the
/// way to set others.
class LimitsBar : public QWidget {
  Q_OBJECT
 public:
  explicit LimitsBar(QWidget* parent = nullptr);
  void show_limits(const LimitsFile& wanted, const QString& count);
  [[nodiscard]] QPushButton* open_button() const { return open_; }

 protected:
  void resizeEvent(QResizeEvent* event) override;

 signals:
  void taken_back(LimitKind kind);

 private:
  void fit();

  QLabel* count_;
  QWidget* room_;  ///< of the chips: takes what is left of the row, and asks for none
  QHBoxLayout* chips_;
  std::vector<QPushButton*> each_;
  QPushButton *open_, *more_;
};

}  // namespace bq::ui
