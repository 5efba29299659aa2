#pragma once

#include "ui/findings/answer_page.h"
#include "ui/parts/number_entry.h"
#include "workflow/life_findings.h"

class QComboBox;

namespace bq::ui {

/// "Which angle makes two steels last alike?": two steels and an angle in, the matching angle out.
class MatchingPage : public AnswerPage {
  Q_OBJECT
 public:
  explicit MatchingPage(Workbench& workbench, QWidget* parent = nullptr);
  void show_findings(const LifeFindings& findings);

 signals:
  void asked(const MatchQuestion& question);

 private:
  void lay_out();
  void listen();
  void ask();
  void show_finish(const LifeFindings& findings);
  QComboBox *kind_, *from_, *to_;
  NumberEntry *angle_, *ratio_;
  bool filling_ = false;
};

}  // namespace bq::ui
