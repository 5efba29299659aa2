#include "ui/findings/findings_view.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "ui/findings/curves_page.h"
#include "ui/findings/life_page.h"
#include "ui/findings/matching_page.h"

namespace bq::ui {

FindingsView::FindingsView(Workbench& workbench, QWidget* parent)
    : QWidget(parent), workbench_(workbench), questions_(new QListWidget), medium_(new QComboBox),
      pages_(new QStackedWidget), curves_(new CurvesPage(workbench)), life_(new LifePage(workbench)),
      matching_(new MatchingPage(workbench)) {
  questions_->addItems({tr("How does each edge blunt?"), tr("What does the angle do to life?"), tr("When do two steels last alike?")});
  questions_->setWordWrap(true);
  questions_->setAccessibleName(tr("Questions"));
  questions_->setSpacing(2);
  questions_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  medium_->setAccessibleName(tr("Medium"));
  medium_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  pages_->addWidget(curves_);
  pages_->addWidget(life_);
  pages_->addWidget(matching_);
  auto* column = new QWidget;
  column->setFixedWidth(272);
  auto* left = new QVBoxLayout(column);
  left->setContentsMargins(0, 0, 0, 0);
  left->setSpacing(10);
  left->addWidget(heading(tr("Questions")));
  left->addWidget(questions_, 1);
  left->addWidget(new QLabel(tr("Runs cut in")));
  left->addWidget(medium_);
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(16, 16, 20, 10);
  layout->setSpacing(24);
  layout->addWidget(column);
  layout->addWidget(pages_, 1);

  connect(questions_, &QListWidget::currentRowChanged, pages_, &QStackedWidget::setCurrentIndex);
  connect(medium_, &QComboBox::activated, this, [this] { refresh(); });
  connect(matching_, &MatchingPage::asked, this, [this](const MatchQuestion& question) {
    match_ = question;
    refresh();
  });
  connect(&workbench_, &Workbench::opened, this, [this] {
    match_.reset();
    medium_->clear();
  });
  connect(&workbench_, &Workbench::fits_changed, this, &FindingsView::refresh);
  connect(&workbench_, &Workbench::threshold_changed, this, &FindingsView::refresh);
  connect(&workbench_, &Workbench::display_changed, this, [this] {
    if (findings_) take(findings_);
  });
  questions_->setCurrentRow(0);
  refresh();
}

void FindingsView::ask(Question question) { questions_->setCurrentRow(question); }

AnswerPage* FindingsView::page(Question question) const {
  switch (question) {
    case curves: return curves_;
    case life: return life_;
    case matching: return matching_;
  }
  return nullptr;
}

void FindingsView::refresh() {
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
  auto facts = std::make_shared<Trial>(without_readings(workbench_.trial()));
  job_.ask([facts, fits = workbench_.fits(), question](const std::stop_token&) {
    return std::make_shared<LifeFindings>(find_life(*facts, *fits, question));
  },
           [this](std::shared_ptr<LifeFindings> findings) { take(std::move(findings)); });
}

void FindingsView::take(std::shared_ptr<LifeFindings> findings) {
  findings_ = std::move(findings);
  if (int(findings_->media.size()) != medium_->count()) {
    medium_->clear();
    for (const auto& [name, count] : findings_->media)
      medium_->addItem(name.empty() ? tr("not given (%1)").arg(count) : QStringLiteral("%1 (%2)").arg(QString::fromStdString(name)).arg(count),
                       QString::fromStdString(name));
  }
  const int index = medium_->findData(QString::fromStdString(findings_->question.medium));
  if (index >= 0) medium_->setCurrentIndex(index);
  medium_->setToolTip(medium_->currentText());
  curves_->set_medium(findings_->question.medium);
  life_->show_findings(*findings_);
  matching_->show_findings(*findings_);
  mark_questions();
}

void FindingsView::mark_questions() {
  // Marks in words, not in colour alone.
  const auto mark = [this](Question question, const QString& text, const QString& state) {
    questions_->item(question)->setText(text + '\n' + state);
  };
  const bool readings = workbench_.trial().reading_count() > 0;
  mark(curves, tr("How does each edge blunt?"), readings ? tr("answered") : tr("no readings yet"));
  mark(life, tr("What does the angle do to life?"), findings_->model ? tr("answered") : tr("cannot tell yet"));
  mark(matching, tr("When do two steels last alike?"),
       !findings_->match ? tr("cannot tell yet") : findings_->match->determinable() ? tr("answered") : tr("data cannot tell"));
}

}  // namespace bq::ui
