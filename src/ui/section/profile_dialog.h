#pragma once

#include <QDialog>
#include <vector>

#include "edge/section.h"

class QLabel;
class QPlainTextEdit;

namespace bq::ui {

/// Thicknesses of an edge as it was met, typed or pasted: distance from the apex and thickness, a
/// pair to a line.
class ProfileDialog : public QDialog {
  Q_OBJECT
 public:
  explicit ProfileDialog(const std::vector<MeasuredThickness>& now, QWidget* parent = nullptr);

 signals:
  void kept(const std::vector<MeasuredThickness>& profile);

 private:
  void keep();
  QPlainTextEdit* text_;
  QLabel* refusal_;
};

}  // namespace bq::ui
