#pragma once

#include <QWidget>
#include <map>

#include "ui/frame/workbench.h"
#include "workflow/answers.h"

class QComboBox;
class QListWidget;
class QStackedWidget;

namespace bq::ui {

class AnswerPage;
class CurvesPage;
class LifePage;
class MatchingPage;
class StudyPage;

/// Station Findings: questions on the left, each with what became of it; the answer on the right.
/// The question asked is answered first, then the others.
class FindingsView : public QWidget {
  Q_OBJECT
 public:
  explicit FindingsView(Workbench& workbench, QWidget* parent = nullptr);
  void ask(Question question);
  [[nodiscard]] AnswerPage* page(Question question) const;
  [[nodiscard]] StudyPage* study() const { return study_; }
  /// Everything asked for is answered, the other questions too.
  [[nodiscard]] bool settled() const { return !job_.busy() && !answering_.busy(); }
  [[nodiscard]] const Answer* answer_of(Question question) const;

 protected:
  void showEvent(QShowEvent* event)
      override;  ///< what changed while another station was looked at is worked out now

 private:
  void lay_out();
  void listen();
  struct Round;
  void refresh();
  /// `facts`: what they were found in; null: as the trial is now.
  void take(std::shared_ptr<LifeFindings> findings, std::shared_ptr<const Trial> facts = {});
  void answer_next();
  void ask_anew(Question question);
  void give_wishes(AnswerSource& source) const;
  void show_question(int index);
  void mark(Question question);
  [[nodiscard]] Question asked() const;

  Workbench& workbench_;
  QListWidget* questions_;
  QComboBox* medium_;
  QStackedWidget* pages_;
  CurvesPage* curves_;
  LifePage* life_;
  MatchingPage* matching_;
  StudyPage* study_;
  std::optional<MatchQuestion> match_;
  std::vector<std::pair<std::string, std::string>> interactions_;
  QString force_first_, force_second_;
  double force_limit_N_ = 0, wished_precision_ = 0.05;
  std::shared_ptr<LifeFindings> findings_;
  std::shared_ptr<Round> round_;  ///< what the answers of now are made from
  std::map<Question, Answer> answers_;
  LatestJob<std::shared_ptr<LifeFindings>> job_;
  LatestJob<std::shared_ptr<Answer>> answering_;
  bool stale_ = true;
};

}  // namespace bq::ui
