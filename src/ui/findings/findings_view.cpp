#include "ui/findings/findings_view.h"
#include "ui/frame/enough_line.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "ui/findings/curves_page.h"
#include "ui/findings/life_page.h"
#include "ui/findings/matching_page.h"
#include "ui/findings/question_delegate.h"
#include "ui/findings/study_page.h"
#include "ui/findings/together_dialog.h"
#include "workflow/bench_study.h"
#include "workflow/gauge_table.h"
#include "workflow/section_study.h"

namespace bq::ui {

/// One state of the project that all answers are made from.
struct FindingsView::Round {
  std::shared_ptr<const Trial> facts;
  FitService::Fits fits;
  std::shared_ptr<LifeFindings> life;
  AnswerSource source;
};

FindingsView::FindingsView(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      questions_(new QListWidget),
      medium_(new QComboBox),
      pages_(new QStackedWidget),
      curves_(new CurvesPage(workbench)),
      life_(new LifePage(workbench)),
      matching_(new MatchingPage(workbench)),
      study_(new StudyPage(workbench)) {
  job_.belongs_to(workbench_.of_this_project());
  answering_.belongs_to(workbench_.of_this_project());
  for (int i = 0; i < kQuestions; ++i) questions_->addItem(QString());
  questions_->setItemDelegate(new QuestionDelegate(questions_));
  questions_->setAccessibleName(tr("Questions"));
  questions_->setSpacing(0);
  questions_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  medium_->setAccessibleName(tr("Medium"));
  medium_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  for (QWidget* page : {static_cast<QWidget*>(curves_), static_cast<QWidget*>(life_),
                        static_cast<QWidget*>(matching_), static_cast<QWidget*>(study_)})
    pages_->addWidget(page);
  lay_out();
  listen();
}

void FindingsView::lay_out() {
  auto* column = new QWidget;
  column->setFixedWidth(272);
  auto* left = new QVBoxLayout(column);
  left->setContentsMargins(0, 0, 0, 0);
  left->setSpacing(10);
  left->addWidget(heading(tr("Questions")));
  left->addWidget(questions_, 1);
  left->addWidget(quiet_label(tr("Filled: answered. Open: the data cannot tell yet.")));
  left->addWidget(new QLabel(tr("Runs cut in")));
  left->addWidget(medium_);
  auto* together = new QPushButton(tr("Several trials together…"));
  together->setToolTip(tr("This project's runs with those of other projects"));
  left->addWidget(together);
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(16, 16, 20, 10);
  layout->setSpacing(24);
  auto* right = new QVBoxLayout;
  right->setSpacing(8);
  right->addWidget(pages_, 1);
  right->addWidget(new EnoughLine(workbench_));
  layout->addWidget(column);
  layout->addLayout(right, 1);

  connect(questions_, &QListWidget::currentRowChanged, this, &FindingsView::show_question);
  connect(medium_, &QComboBox::activated, this, [this] { refresh(); });
  together->setEnabled(workbench_.has_project());
  connect(&workbench_, &Workbench::opened, together, [together] { together->setEnabled(true); });
  connect(together, &QPushButton::clicked, this, [this] {
    if (!workbench_.has_project()) return;
    auto* dialog = new TogetherDialog(workbench_, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->open();
  });
  connect(matching_, &MatchingPage::asked, this, [this](const MatchQuestion& question) {
    match_ = question;
    refresh();
  });
  connect(life_, &LifePage::interactions_wished, this, [this](const auto& interactions) {
    interactions_ = interactions;
    refresh();
  });
}

void FindingsView::listen() {
  connect(study_, &StudyPage::force_asked, this,
          [this](const QString& first, const QString& second, double limit_N) {
            force_first_ = first;
            force_second_ = second;
            force_limit_N_ = limit_N;
            ask_anew(Question::force);
          });
  connect(study_, &StudyPage::precision_asked, this, [this](double precision) {
    wished_precision_ = precision;
    ask_anew(Question::readings);
  });
  connect(&workbench_, &Workbench::opened, this, [this] {
    force_first_.clear();
    force_second_.clear();
    force_limit_N_ = 0;
    match_.reset();
    medium_->clear();
  });
  connect(&workbench_, &Workbench::changed, this, [this](const Touched& touched) {
    if (touched.any_part() || touched.text(kGaugeStudyKey) || touched.text(kSectionQuestionsKey))
      refresh();
  });
  connect(&workbench_, &Workbench::fits_changed, this, &FindingsView::refresh);
  connect(&workbench_, &Workbench::threshold_changed, this, &FindingsView::refresh);
  connect(&workbench_, &Workbench::display_changed, this, [this] {
    if (findings_) take(findings_);
  });
  questions_->setCurrentRow(0);
  refresh();
}

Question FindingsView::asked() const { return Question(std::max(0, questions_->currentRow())); }

void FindingsView::ask(Question question) { questions_->setCurrentRow(int(question)); }

AnswerPage* FindingsView::page(Question question) const {
  switch (question) {
    case Question::curves:
      return curves_;
    case Question::angle:
      return life_;
    case Question::matching:
      return matching_;
    default:
      return study_;
  }
}

const Answer* FindingsView::answer_of(Question question) const {
  const auto found = answers_.find(question);
  return found == answers_.end() ? nullptr : &found->second;
}

void FindingsView::show_question(int index) {
  pages_->setCurrentWidget(page(Question(index)));
  if (page(Question(index)) != study_) return;
  if (const Answer* known = answer_of(Question(index)))
    study_->show_answer(*known);
  else
    study_->wait_for(Question(index));
}

void FindingsView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  if (stale_) refresh();
}

void FindingsView::refresh() {
  stale_ = !isVisible();
  if (stale_) return;
  const auto threshold = workbench_.threshold();
  if (!threshold || workbench_.fitting()) {
    if (!workbench_.fitting()) {
      auto none = std::make_shared<LifeFindings>();
      none->why_not = workbench_.has_project() ? "there are no readings yet" : "no project is open";
      take(none);
    }
    return;
  }
  LifeQuestion question;
  question.threshold = *threshold;
  question.medium = medium_->currentData().toString().toStdString();
  question.match = match_;
  question.interactions = interactions_;
  auto facts = std::make_shared<const Trial>(for_answers(workbench_.trial()));
  job_.ask(
      [facts, fits = workbench_.fits(), question](const std::stop_token&) {
        return std::make_shared<LifeFindings>(find_life(*facts, *fits, question));
      },
      [this, facts](std::shared_ptr<LifeFindings> findings) { take(std::move(findings), facts); });
}

void FindingsView::take(std::shared_ptr<LifeFindings> findings,
                        std::shared_ptr<const Trial> facts) {
  findings_ = std::move(findings);
  bool same = int(findings_->media.size()) == medium_->count();
  for (int i = 0; same && i < medium_->count(); ++i)
    same = medium_->itemData(i).toString().toStdString() == findings_->media[std::size_t(i)].first;
  if (!same) {
    medium_->clear();
    for (const auto& [name, count] : findings_->media)
      medium_->addItem(name.empty() ? tr("not given (%1)").arg(count)
                                    : QStringLiteral("%1 (%2)").arg(QString::fromStdString(name),
                                                                    QString::number(count)),
                       QString::fromStdString(name));
  }
  const int index = medium_->findData(QString::fromStdString(findings_->question.medium));
  if (index < 0 && !findings_->question.medium.empty() && medium_->count() > 0)
    return refresh();  // the work that was asked about is gone: the one that is shown now
  if (index >= 0) medium_->setCurrentIndex(index);
  medium_->setToolTip(medium_->currentText());
  curves_->set_medium(findings_->question.medium);
  life_->show_findings(*findings_);
  matching_->show_findings(*findings_);

  round_ = std::make_shared<Round>();
  if (!facts) facts = std::make_shared<const Trial>(for_answers(workbench_.trial()));
  round_->facts = std::move(facts);
  round_->fits = workbench_.fits();
  round_->life = findings_;
  AnswerSource& source = round_->source;
  source.facts = round_->facts.get();
  source.fits = round_->fits.get();
  source.life = round_->life.get();
  if (workbench_.has_project()) {
    source.gauge_readings =
        gauge_readings_of(workbench_.session().kept(kGaugeStudyKey), workbench_.trial());
    source.sessions = workbench_.session().bench_sessions();
    source.section_questions = workbench_.session().kept(kSectionQuestionsKey);
    source.check_limit_percent = protocol_of(workbench_.session()).check_limit_percent;
  }
  give_wishes(source);
  source.angles = workbench_.display().angles;
  source.shown = workbench_.shown_unit();
  source.workers = 1;  // the other core is the window's
  answers_.clear();
  for (int i = 0; i < kQuestions; ++i) mark(Question(i));
  answering_.stop();
  answer_next();
}

/// The question's own controls were moved: only it is answered again.
void FindingsView::ask_anew(Question question) {
  if (!round_) return;
  auto round = std::make_shared<Round>(*round_);
  give_wishes(round->source);
  round_ = round;
  answers_.erase(question);
  answer_next();
}

void FindingsView::give_wishes(AnswerSource& source) const {
  source.wished_precision = wished_precision_;
  source.force_first = force_first_.toStdString();
  source.force_second = force_second_.toStdString();
  source.force_limit_N = force_limit_N_ > 0 ? std::optional(force_limit_N_) : std::nullopt;
}

void FindingsView::answer_next() {
  std::optional<Question> next;
  if (!answer_of(asked())) next = asked();
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
          mark(answer->question);
          if (asked() == answer->question) show_question(questions_->currentRow());
        }
        if (!answering_.busy()) answer_next();
      });
}

void FindingsView::mark(Question question) {
  const Answer* known = answer_of(question);
  const QString state = !known            ? tr("under way")
                        : known->answered ? tr("answered")
                                          : tr("cannot tell yet");
  const auto words = words_of(question);
  auto* item = questions_->item(int(question));
  item->setText(QString::fromUtf8(words.data(), qsizetype(words.size())));
  item->setData(QuestionDelegate::kStateRole, !known            ? QuestionDelegate::under_way
                                              : known->answered ? QuestionDelegate::answered
                                                                : QuestionDelegate::cannot_tell);
  item->setToolTip(state);
  item->setData(Qt::AccessibleTextRole, item->text() + QStringLiteral(", ") + state);
}

}  // namespace bq::ui
