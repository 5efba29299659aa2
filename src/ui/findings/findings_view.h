#pragma once

#include <QWidget>

#include "ui/frame/workbench.h"
#include "workflow/life_findings.h"

class QComboBox;
class QListWidget;
class QStackedWidget;

namespace bq::ui {

class AnswerPage;
class CurvesPage;
class LifePage;
class MatchingPage;

/// Station Findings: questions on the left, the answer on the right.
class FindingsView : public QWidget {
  Q_OBJECT
 public:
  enum Question { curves, life, matching };
  explicit FindingsView(Workbench& workbench, QWidget* parent = nullptr);
  void ask(Question question);
  [[nodiscard]] AnswerPage* page(Question question) const;
  [[nodiscard]] bool settled() const { return !job_.busy(); }

 private:
  void refresh();
  void take(std::shared_ptr<LifeFindings> findings);
  void mark_questions();

  Workbench& workbench_;
  QListWidget* questions_;
  QComboBox* medium_;
  QStackedWidget* pages_;
  CurvesPage* curves_;
  LifePage* life_;
  MatchingPage* matching_;
  std::optional<MatchQuestion> match_;
  std::shared_ptr<LifeFindings> findings_;
  LatestJob<std::shared_ptr<LifeFindings>> job_;
};

}  // namespace bq::ui
