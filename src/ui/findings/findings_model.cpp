#include "ui/findings/findings_model.h"

#include <algorithm>

#include "workflow/bench_study.h"
#include "workflow/gauge_table.h"
#include "workflow/section_study.h"

namespace bq::ui {

/// One state of the project that all answers are made from.
struct FindingsModel::Round {
  std::shared_ptr<const Trial> facts;
  FitService::Fits fits;
  std::shared_ptr<LifeFindings> life;
  AnswerSource source;
};

FindingsModel::FindingsModel(Workbench& workbench, QObject* parent)
    : QObject(parent), workbench_(workbench) {
  job_.belongs_to(workbench_.of_this_project());
  answering_.belongs_to(workbench_.of_this_project());
  connect(&workbench_, &Workbench::opened, this, [this] {
    const double precision = wishes_.precision;
    wishes_ = {};
    wishes_.precision = precision;
  });
  connect(&workbench_, &Workbench::changed, this, [this](const Touched& touched) {
    if (touched.any_part() || touched.text(kGaugeStudyKey) || touched.text(kSectionQuestionsKey))
      refresh();
  });
  connect(&workbench_, &Workbench::fits_changed, this, &FindingsModel::refresh);
  connect(&workbench_, &Workbench::threshold_changed, this, &FindingsModel::refresh);
  connect(&workbench_, &Workbench::display_changed, this, [this] {
    if (lives_) take(lives_);
  });
}

void FindingsModel::set_watched(bool watched) {
  watched_ = watched;
  if (stale_) refresh();
}

void FindingsModel::wish(const std::function<void(FindingsWishes&)>& change) {
  change(wishes_);
  refresh();
}

void FindingsModel::wish_of(Question question, const std::function<void(FindingsWishes&)>& change) {
  change(wishes_);
  if (!round_) return;
  round_ = std::make_shared<Round>(*round_);
  give_wishes(round_->source);
  answers_.erase(question);
  answer_next();
}

const Answer* FindingsModel::answer_of(Question question) const {
  const auto found = answers_.find(question);
  return found == answers_.end() ? nullptr : &found->second;
}

void FindingsModel::refresh() {
  stale_ = !watched_;
  if (stale_ || workbench_.fitting()) return;
  const auto threshold = workbench_.threshold();
  if (!threshold) {
    auto none = std::make_shared<LifeFindings>();
    none->why_not = workbench_.has_project() ? "there are no readings yet" : "no project is open";
    take(none);
    return;
  }
  LifeQuestion question;
  question.threshold = *threshold;
  question.medium = wishes_.medium;
  question.match = wishes_.match;
  question.interactions = wishes_.interactions;
  auto facts = std::make_shared<const Trial>(for_answers(workbench_.trial()));
  job_.ask(
      [facts, fits = workbench_.fits(), question](const std::stop_token&) {
        return std::make_shared<LifeFindings>(find_life(*facts, *fits, question));
      },
      [this, facts](std::shared_ptr<LifeFindings> lives) { take(std::move(lives), facts); });
}

void FindingsModel::take(std::shared_ptr<LifeFindings> lives, std::shared_ptr<const Trial> facts) {
  lives_ = std::move(lives);
  const auto& media = lives_->media;
  const std::string& medium = lives_->question.medium;
  if (std::none_of(media.begin(), media.end(),
                   [&](const auto& one) { return one.first == medium; })) {
    wishes_.medium.clear();
    // The work that was asked about is gone: that of most runs.
    if (!medium.empty() && !media.empty()) return refresh();
  } else {
    wishes_.medium = medium;
  }
  round_ = std::make_shared<Round>();
  round_->facts =
      facts ? std::move(facts) : std::make_shared<const Trial>(for_answers(workbench_.trial()));
  round_->fits = workbench_.fits();
  round_->life = lives_;
  AnswerSource& source = round_->source;
  source.facts = round_->facts.get();
  source.fits = round_->fits.get();
  source.life = round_->life.get();
  if (workbench_.has_project()) {
    const ProjectSession& session = workbench_.session();
    source.gauge_readings = gauge_readings_of(session.kept(kGaugeStudyKey), workbench_.trial());
    source.sessions = session.bench_sessions();
    source.section_questions = session.kept(kSectionQuestionsKey);
    source.check_limit_percent = protocol_of(session).check_limit_percent;
  }
  give_wishes(source);
  source.angles = workbench_.display().angles;
  source.shown = workbench_.shown_unit();
  source.workers = 1;  // the other core is the window's
  answers_.clear();
  emit found();
  answering_.stop();
  answer_next();
}

void FindingsModel::give_wishes(AnswerSource& source) const {
  source.wished_precision = wishes_.precision;
  source.force_first = wishes_.force_first;
  source.force_second = wishes_.force_second;
  source.force_limit_N = wishes_.force_limit_N;
}

void FindingsModel::answer_next() {
  std::optional<Question> next;
  if (!answer_of(looked_at_)) next = looked_at_;
  for (int i = 0; i < kQuestions && !next; ++i)
    if (!answer_of(Question(i))) next = Question(i);
  if (!next) return;
  answering_.ask(
      [round = round_, question = *next](const std::stop_token& stop) {
        AnswerSource source = round->source;
        source.stop = stop;
        return std::make_shared<Answer>(answer(question, source));
      },
      [this, round = round_](const std::shared_ptr<Answer>& answer) {
        if (round == round_) {
          answers_[answer->question] = *answer;
          emit answered(answer->question);
        }
        if (!answering_.busy()) answer_next();
      });
}

}  // namespace bq::ui
