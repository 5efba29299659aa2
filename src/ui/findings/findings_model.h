#pragma once

#include <QObject>
#include <map>

#include "ui/frame/workbench.h"
#include "workflow/answers.h"

namespace bq::ui {

/// What the answers of the Findings are made for, besides the project.
struct FindingsWishes {
  std::string medium;  ///< "": that of most runs
  std::optional<MatchQuestion> match;
  std::vector<std::pair<std::string, std::string>> interactions;
  std::string force_first, force_second;  ///< edges whose forces are compared; "" the first ones
  std::optional<double> force_limit_N;
  double precision = 0.05;
};

/// The lives of the runs and the answer to every question, worked out beside the window: the
/// question that is looked at first, then the others. Nothing is worked out while nobody looks.
class FindingsModel : public QObject {
  Q_OBJECT
 public:
  explicit FindingsModel(Workbench& workbench, QObject* parent = nullptr);
  /// Whether the station is looked at; what changed meanwhile is worked out then.
  void set_watched(bool watched);
  [[nodiscard]] const FindingsWishes& wishes() const { return wishes_; }
  /// All answers are made anew.
  void wish(const std::function<void(FindingsWishes&)>& change);
  /// Only this question is answered again.
  void wish_of(Question question, const std::function<void(FindingsWishes&)>& change);
  /// The one that is answered before the others.
  void look_at(Question question) { looked_at_ = question; }
  /// Null until they are known for the first time.
  [[nodiscard]] const LifeFindings* lives() const { return lives_.get(); }
  /// Null where it is still under way.
  [[nodiscard]] const Answer* answer_of(Question question) const;
  /// Everything asked for is answered, the other questions too.
  [[nodiscard]] bool settled() const { return !job_.busy() && !answering_.busy(); }

 signals:
  /// Other lives: every answer is under way again.
  void found();
  void answered(Question question);

 private:
  struct Round;
  void refresh();
  /// `facts`: what they were found in; null: as the trial is now.
  void take(std::shared_ptr<LifeFindings> lives, std::shared_ptr<const Trial> facts = {});
  void give_wishes(AnswerSource& source) const;
  void answer_next();

  Workbench& workbench_;
  FindingsWishes wishes_;
  Question looked_at_ = Question::curves;
  std::shared_ptr<LifeFindings> lives_;
  std::shared_ptr<Round> round_;  ///< what the answers of now are made from
  std::map<Question, Answer> answers_;
  LatestJob<std::shared_ptr<LifeFindings>> job_;
  LatestJob<std::shared_ptr<Answer>> answering_;
  bool watched_ = false, stale_ = true;
};

}  // namespace bq::ui
