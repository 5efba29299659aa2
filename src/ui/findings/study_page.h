#pragma once

#include "report/answer.h"
#include "ui/findings/answer_page.h"
#include "ui/parts/number_entry.h"

class QComboBox;
class QPushButton;

namespace bq::ui {

/// Shows any answer: sentence, remarks, picture, table, how it was computed; where it cannot be
/// told, what is missing and the way to plan it.
class StudyPage : public AnswerPage {
  Q_OBJECT
 public:
  explicit StudyPage(Workbench& workbench, QWidget* parent = nullptr);
  void show_answer(const Answer& answer);
  void wait_for(Question question);  ///< nothing to show yet
  [[nodiscard]] bool offers_plan() const;

 signals:
  /// Two runs to compare in force, and the force limit (0: the usual one).
  void force_asked(const QString& first, const QString& second, double limit_N);
  /// Readings needed for another precision (relative) of a checkpoint's mean.
  void precision_asked(double precision);

 private:
  void listen();
  void fill_force(const Answer& answer);

  QWidget* force_;
  QComboBox *first_, *second_;
  NumberEntry *limit_, *precision_;
  QWidget* precision_row_;
  bool filling_ = false;
  QPushButton* plan_;
};

}  // namespace bq::ui
