#include "ui/findings/together_dialog.h"

#include <QComboBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

#include "ui/parts/plain_table.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"
#include "workflow/answers.h"

namespace bq::ui {
namespace {

QTableWidget* table_with(const QStringList& heads, const QString& name) {
  auto* table = new QTableWidget(0, int(heads.size()));
  table->setHorizontalHeaderLabels(heads);
  table->verticalHeader()->setDefaultSectionSize(26);
  table->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table->setSelectionBehavior(QAbstractItemView::SelectRows);
  table->horizontalHeader()->setHighlightSections(false);
  table->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  for (int c = 0; c < heads.size(); ++c)
    table->horizontalHeaderItem(c)->setTextAlignment((c == 0 ? Qt::AlignLeft : Qt::AlignRight) |
                                                     Qt::AlignVCenter);
  make_plain(table, name);
  return table;
}

void put(QTableWidget* table, int row, const QStringList& cells) {
  for (int c = 0; c < cells.size(); ++c) {
    auto* item = new QTableWidgetItem(cells[c]);
    item->setToolTip(cells[c]);
    if (c > 0) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    table->setItem(row, c, item);
  }
}

QString words_of_limit(QString limit) {
  if (!limit.endsWith(QLatin1Char('x'))) return limit;
  limit.chop(1);
  return TogetherDialog::tr("%1 times the fresh reading of its own trial").arg(limit);
}

QString runs_in_words(int count) {
  return count == 1 ? TogetherDialog::tr("1 run") : TogetherDialog::tr("%1 runs").arg(count);
}

QString number(const std::optional<double>& value) {
  return value ? text_of(ratio_in_words(*value)) : QStringLiteral("–");
}

}  // namespace

TogetherDialog::TogetherDialog(Workbench& workbench, QWidget* parent)
    : QDialog(parent),
      workbench_(workbench),
      trials_(table_with({tr("trial"), tr("runs taken"), tr("left out"), tr("to the limit of")},
                         tr("Trials that are looked at together"))),
      steels_(table_with({tr("steels"), tr("times as long"), tr("from"), tr("to"),
                          tr("trials with both"), tr("told")},
                         tr("Steels over all trials"))),
      work_(new QComboBox),
      answer_(wrapped_label()),
      remarks_(quiet_label({})),
      says_(quiet_label({})),
      add_(new QPushButton(tr("Add projects…"))),
      leave_(new QPushButton(tr("Leave out"))) {
  setWindowTitle(tr("Several trials together"));
  resize(980, 660);
  lay_out();
}

void TogetherDialog::lay_out() {
  auto* column = new QVBoxLayout(this);
  column->setSpacing(10);
  answer_->setFont(font_of(20));
  answer_->setAccessibleName(tr("Answer"));
  column->addWidget(answer_);
  column->addWidget(remarks_);
  column->addWidget(steels_, 3);
  column->addWidget(heading(tr("The trials")));
  column->addWidget(trials_, 2);
  auto* acts = new QHBoxLayout;
  name_look(add_, "primary");
  work_->setAccessibleName(tr("Kind of work"));
  work_->setSizeAdjustPolicy(QComboBox::AdjustToContents);
  acts->addWidget(add_);
  acts->addWidget(leave_);
  acts->addSpacing(18);
  acts->addWidget(new QLabel(tr("Runs cut in")));
  acts->addWidget(work_);
  acts->addStretch();
  auto* close = new QPushButton(tr("Close"));
  acts->addWidget(close);
  column->addWidget(says_);
  column->addLayout(acts);
  job_.belongs_to(workbench_.of_this_project());
  looking_.belongs_to(workbench_.of_this_project());
  connect(close, &QPushButton::clicked, this, &QDialog::reject);
  connect(add_, &QPushButton::clicked, this, &TogetherDialog::ask_projects);
  connect(leave_, &QPushButton::clicked, this, &TogetherDialog::leave_out);
  connect(work_, &QComboBox::activated, this, &TogetherDialog::look);
  connect(trials_, &QTableWidget::itemSelectionChanged, this,
          [this] { leave_->setEnabled(trials_->currentRow() > 0); });
  // Curves that are still being fitted come a moment later.
  connect(&workbench_, &Workbench::fits_changed, this, [this] {
    if (!lives_.empty() || !settled()) return;
    faults_.clear();
    waiting_.emplace_back();
    next();
  });
  waiting_.emplace_back();
  next();
}

void TogetherDialog::ask_projects() {
  add_projects(QFileDialog::getOpenFileNames(this, tr("Trials to look at together with this one"),
                                             {}, project_files()));
}

void TogetherDialog::add_projects(const QStringList& paths) {
  faults_.clear();
  for (const QString& path : paths) {
    const bool own =
        QFileInfo(path) == QFileInfo(QString::fromStdString(workbench_.session().path().string()));
    const bool there = std::find(paths_.begin(), paths_.end(), path) != paths_.end();
    if (own || there)
      faults_ << tr("%1 is among them already.").arg(QFileInfo(path).fileName());
    else
      waiting_.push_back(path);
  }
  if (!job_.busy()) next();
}

void TogetherDialog::leave_out() {
  const int row = trials_->currentRow();
  if (row <= 0 || row >= int(lives_.size())) return;
  lives_.erase(lives_.begin() + row);
  paths_.erase(paths_.begin() + row);
  faults_.clear();
  look();
}

void TogetherDialog::next() {
  if (waiting_.empty()) return look();
  const QString path = waiting_.front();
  waiting_.pop_front();
  says_->setText(path.isEmpty() ? tr("Looking at this project …")
                                : tr("Reading %1 …").arg(QFileInfo(path).fileName()));
  const std::string threshold = workbench_.session().threshold_text();
  if (path.isEmpty()) {
    auto facts = std::make_shared<const Trial>(for_answers(workbench_.trial()));
    auto fits = workbench_.fits();
    job_.ask(
        [facts, fits, threshold](const std::stop_token&) {
          auto out = std::make_shared<Read>();
          const auto limit = parse_threshold(threshold, facts->unit(), *fits, true);
          if (limit && fits->size() == facts->runs.size())
            out->lives =
                std::make_shared<const TrialLives>(lives_of(facts->title, *facts, *fits, *limit));
          else
            out->fault =
                limit ? tr("its curves are not fitted yet") : text_of(limit.refusal().reason);
          return out;
        },
        [this](const std::shared_ptr<Read>& read) { take(*read); });
    return;
  }
  const std::optional<Unit> unit = workbench_.trial().reading_count() > 0
                                       ? std::optional(workbench_.trial().unit())
                                       : std::nullopt;
  job_.ask(
      [path, threshold, unit](const std::stop_token& stop) {
        auto out = std::make_shared<Read>();
        out->path = path;
        stats::Work work;
        work.stop = stop;
        const auto fitted = fitted_trial(path.toStdString(), work);
        const auto lives =
            fitted ? lives_of(*fitted, threshold, unit) : Checked<TrialLives>(fitted.refusal());
        if (lives)
          out->lives = std::make_shared<const TrialLives>(*lives);
        else
          out->fault = text_of(lives.refusal().reason);
        return out;
      },
      [this](const std::shared_ptr<Read>& read) { take(*read); });
}

void TogetherDialog::take(const Read& read) {
  if (read.lives) {
    lives_.push_back(read.lives);
    paths_.push_back(read.path);
  } else {
    faults_ << (read.path.isEmpty()
                    ? tr("This project cannot take part: %1.").arg(read.fault)
                    : tr("%1 was left out: %2.").arg(QFileInfo(read.path).fileName(), read.fault));
  }
  next();
}

void TogetherDialog::look() {
  const QString wanted = work_->currentText();
  work_->clear();
  if (!lives_.empty())
    for (const auto& [work, count] : media_of(lives_.front()->table)) work_->addItem(text_of(work));
  if (const int at = work_->findText(wanted); at >= 0) work_->setCurrentIndex(at);
  std::vector<TrialLives> trials;
  for (const auto& lives : lives_) trials.push_back(*lives);
  const auto work =
      work_->count() > 0 ? std::optional(work_->currentText().toStdString()) : std::nullopt;
  says_->setText(tr("Working it out …"));
  looking_.ask(
      [trials = std::move(trials), work](const std::stop_token&) {
        return std::make_shared<const Together>(look_together(trials, work));
      },
      [this](const std::shared_ptr<const Together>& together) {
        show_trials(*together);
        show_answer(*together);
        leave_->setEnabled(trials_->currentRow() > 0);
        says_->setText(faults_.join(QLatin1Char(' ')));
      });
}

void TogetherDialog::show_trials(const Together& together) {
  trials_->setRowCount(int(together.trials.size()));
  for (int row = 0; row < trials_->rowCount(); ++row) {
    const auto& trial = together.trials[std::size_t(row)];
    put(trials_, row,
        {text_of(trial.name), QString::number(trial.runs), QString::number(trial.left_out),
         text_of(trial.limit)});
  }
  QStringList why;
  for (const auto& left : together.table.left_out)
    why << tr("%1: %2").arg(text_of(left.run), text_of(left.reason));
  trials_->setToolTip(why.mid(0, 20).join(QLatin1Char('\n')));
}

void TogetherDialog::show_answer(const Together& together) {
  if (lives_.size() < 2) {
    answer_->setText(tr("Add the projects of other trials."));
    remarks_->setText(
        tr("They are only read. What is alike is put together: the same kind of work, the same "
           "steel by name and hardness. Each run is counted to %1. Each trial has a level of its "
           "own, as much as trials differ.")
            .arg(words_of_limit(text_of(workbench_.session().threshold_text()))));
  } else {
    answer_->setText(text_of(together.sentence));
    QStringList remarks = texts_of(together.remarks);
    std::map<std::string, int> reasons;
    for (const auto& left : together.table.left_out) ++reasons[left.reason];
    for (const auto& [reason, count] : reasons)
      remarks << tr("Left out: %1, %2.").arg(runs_in_words(count), text_of(reason));
    remarks_->setText(remarks.join(QLatin1Char(' ')));
  }
  steels_->setRowCount(int(together.steels.size()));
  steels_->setVisible(!together.steels.empty());
  for (int row = 0; row < steels_->rowCount(); ++row) {
    const auto& two = together.steels[std::size_t(row)];
    const auto& pair = two.pair;
    const bool compared = pair.contrast.low || pair.contrast.high;
    const QString told = !compared                               ? tr("not compared")
                         : pair.verdict == SteelVerdict::differs ? tr("told apart")
                         : pair.verdict == SteelVerdict::alike   ? tr("alike")
                                                                 : tr("cannot tell");
    put(steels_, row,
        {tr("%1 against %2").arg(text_of(pair.longer), text_of(pair.shorter)),
         compared ? text_of(ratio_in_words(pair.contrast.ratio)) : QStringLiteral("–"),
         number(pair.contrast.low), number(pair.contrast.high),
         QString::number(two.trials_with_both), told});
    steels_->item(row, 0)->setToolTip(text_of(two.sentence));
  }
}

}  // namespace bq::ui
