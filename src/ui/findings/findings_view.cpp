#include "ui/findings/findings_view.h"

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
#include "ui/frame/enough_line.h"

namespace bq::ui {

FindingsView::FindingsView(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(new FindingsModel(workbench, this)),
      questions_(new QListWidget),
      medium_(new QComboBox),
      pages_(new QStackedWidget),
      curves_(new CurvesPage(workbench)),
      life_(new LifePage(workbench)),
      matching_(new MatchingPage(workbench)),
      study_(new StudyPage(workbench)) {
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

  together->setEnabled(workbench_.has_project());
  connect(&workbench_, &Workbench::opened, together, [together] { together->setEnabled(true); });
  connect(together, &QPushButton::clicked, this, [this] {
    if (!workbench_.has_project()) return;
    auto* dialog = new TogetherDialog(workbench_, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->open();
  });
}

void FindingsView::listen() {
  connect(questions_, &QListWidget::currentRowChanged, this, &FindingsView::show_question);
  connect(medium_, &QComboBox::activated, this, [this] {
    model_->wish([medium = medium_->currentData().toString().toStdString()](
                     FindingsWishes& wishes) { wishes.medium = medium; });
  });
  // The media of another project are known when its runs are.
  connect(&workbench_, &Workbench::opened, medium_, &QComboBox::clear);
  connect(model_, &FindingsModel::found, this, &FindingsView::show_lives);
  connect(model_, &FindingsModel::answered, this, [this](Question question) {
    mark(question);
    if (asked() == question) show_question(questions_->currentRow());
  });
  listen_to_pages();
  questions_->setCurrentRow(0);
}

void FindingsView::listen_to_pages() {
  connect(matching_, &MatchingPage::asked, this, [this](const MatchQuestion& question) {
    model_->wish([&](FindingsWishes& wishes) { wishes.match = question; });
  });
  connect(life_, &LifePage::interactions_wished, this, [this](const auto& interactions) {
    model_->wish([&](FindingsWishes& wishes) { wishes.interactions = interactions; });
  });
  connect(study_, &StudyPage::force_asked, this,
          [this](const QString& first, const QString& second, double limit_N) {
            model_->wish_of(Question::force, [&](FindingsWishes& wishes) {
              wishes.force_first = first.toStdString();
              wishes.force_second = second.toStdString();
              wishes.force_limit_N = limit_N > 0 ? std::optional(limit_N) : std::nullopt;
            });
          });
  connect(study_, &StudyPage::precision_asked, this, [this](double precision) {
    model_->wish_of(Question::readings,
                    [&](FindingsWishes& wishes) { wishes.precision = precision; });
  });
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

void FindingsView::show_question(int index) {
  model_->look_at(Question(std::max(0, index)));
  pages_->setCurrentWidget(page(Question(index)));
  if (page(Question(index)) != study_) return;
  if (const Answer* known = answer_of(Question(index)))
    study_->show_answer(*known);
  else
    study_->wait_for(Question(index));
}

void FindingsView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  model_->set_watched(true);
}

void FindingsView::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  model_->set_watched(isVisible());
}

void FindingsView::show_lives() {
  const LifeFindings& lives = *model_->lives();
  show_media(lives);
  curves_->set_medium(lives.question.medium);
  life_->show_findings(lives);
  matching_->show_findings(lives);
  for (int i = 0; i < kQuestions; ++i) mark(Question(i));
}

void FindingsView::show_media(const LifeFindings& lives) {
  bool same = int(lives.media.size()) == medium_->count();
  for (int i = 0; same && i < medium_->count(); ++i)
    same = medium_->itemData(i).toString().toStdString() == lives.media[std::size_t(i)].first;
  if (!same) {
    medium_->clear();
    for (const auto& [name, count] : lives.media)
      medium_->addItem(name.empty() ? tr("not given (%1)").arg(count)
                                    : QStringLiteral("%1 (%2)").arg(QString::fromStdString(name),
                                                                    QString::number(count)),
                       QString::fromStdString(name));
  }
  const int index = medium_->findData(QString::fromStdString(lives.question.medium));
  if (index >= 0) medium_->setCurrentIndex(index);
  medium_->setToolTip(medium_->currentText());
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
