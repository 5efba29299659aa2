#include "ui/findings/study_page.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QUrl>

#include "ui/findings/picture_series.h"
#include "ui/parts/number_entry.h"
#include "ui/parts/words.h"
#include "ui/plot/plot_view.h"
#include "workflow/answers.h"

namespace bq::ui {
StudyPage::StudyPage(Workbench& workbench, QWidget* parent)
    : AnswerPage(workbench, {}, parent),
      force_(new QWidget(this)),
      first_(new QComboBox),
      second_(new QComboBox),
      limit_(new NumberEntry),
      precision_(new NumberEntry),
      precision_row_(new QWidget(this)),
      plan_(new QPushButton(tr("Plan the runs that would tell"), this)) {
  auto* force = new QHBoxLayout(force_);
  force->setContentsMargins(0, 0, 0, 0);
  first_->setAccessibleName(tr("First run"));
  second_->setAccessibleName(tr("Second run"));
  limit_->setRange(0, 1e5);
  limit_->setDecimals(1);
  limit_->setSpecialValueText(tr("as when blunt"));
  limit_->setSuffix(tr(" N"));
  limit_->setAccessibleName(tr("Force limit"));
  force->addWidget(new QLabel(tr("Compare run")));
  force->addWidget(first_);
  force->addWidget(new QLabel(tr("with")));
  force->addWidget(second_);
  force->addWidget(new QLabel(tr("up to a force of")));
  force->addWidget(limit_);
  controls_->addWidget(force_);
  force_->hide();
  auto* precision = new QHBoxLayout(precision_row_);
  precision->setContentsMargins(0, 0, 0, 0);
  precision_->setRange(0.5, 50);
  precision_->setDecimals(1);
  precision_->setValue(5);
  precision_->setSuffix(tr(" %"));
  precision_->setAccessibleName(tr("Wished precision of a checkpoint's mean"));
  precision->addWidget(new QLabel(tr("A checkpoint's mean to within ±")));
  precision->addWidget(precision_);
  controls_->addWidget(precision_row_);
  listen();
}

void StudyPage::listen() {
  precision_row_->hide();
  connect(precision_, &NumberEntry::valueChanged, this,
          [this](double percent) { emit precision_asked(percent / 100); });
  const auto ask = [this] {
    if (!filling_) emit force_asked(first_->currentText(), second_->currentText(), limit_->value());
  };
  for (auto* box : {first_, second_}) connect(box, &QComboBox::activated, this, ask);
  connect(limit_, &NumberEntry::valueChanged, this, ask);
  name_look(plan_, "primary");
  controls_->addWidget(plan_);
  controls_->addStretch();
  plan_->hide();
  plot_->set_empty_text(tr("There is nothing to draw yet."));
  connect(plan_, &QPushButton::clicked, this,
          [this] { emit this->workbench().station_wanted(Station::plan); });
  connect(&this->workbench(), &Workbench::display_changed, this, [this] { plot_->retheme(); });
}

bool StudyPage::offers_plan() const { return !plan_->isHidden(); }

void StudyPage::wait_for(Question question) {
  set_sentence(tr("Working it out …"));
  set_remarks({});
  plan_->hide();
  if (question != Question::force) force_->hide();
  if (question != Question::readings) precision_row_->hide();
  plot_->show();
  table_->show();
  plot_->set_threshold({}, {});
  plot_->show_plot({}, {});
  set_table({}, {});
  set_row_runs({});
}

void StudyPage::show_answer(const Answer& answer) {
  set_sentence(text_of(answer.sentence));
  set_remarks(texts_of(answer.remarks));
  plan_->setVisible(answer.plan_helps);
  precision_row_->setVisible(answer.question == Question::readings && answer.answered);
  fill_force(answer);
  show_picture(*plot_, answer.picture, workbench());
  plot_->setVisible(answer.answered || !answer.picture.empty());
  table_->setVisible(answer.answered || !answer.table.rows.empty());
  std::vector<QStringList> rows;
  for (const auto& row : answer.table.rows) rows.push_back(texts_of(row));
  set_table(texts_of(answer.table.heads), rows);
  set_row_runs(texts_of(answer.table.runs));
  set_how(answer.formula.empty()
              ? QString()
              : tr("%1 Method: <a href=\"guide:%4\">%2</a>. Data used: %3.")
                    .arg(text_of(answer.formula).toHtmlEscaped(),
                         text_of(answer.method).toHtmlEscaped(),
                         (answer.runs.empty()
                              ? tr("all of the project")
                              : tr("%1 runs (%2)")
                                    .arg(answer.runs.size())
                                    .arg(texts_of(answer.runs).join(QStringLiteral(", "))))
                             .toHtmlEscaped(),
                         QString::fromLatin1(
                             QUrl::toPercentEncoding(tr("Methods: ") + text_of(answer.method)))));
}

void StudyPage::fill_force(const Answer& answer) {
  force_->setVisible(answer.question == Question::force && answer.answered);
  if (force_->isHidden()) return;
  filling_ = true;
  // The two that are drawn are the two that are compared.
  const auto drawn = [&](std::size_t series) {
    return series < answer.picture.series.size() && !answer.picture.series[series].runs.empty()
               ? text_of(answer.picture.series[series].runs.front())
               : QString();
  };
  const QStringList runs = texts_of(answer.runs);
  std::size_t series = 0;
  for (auto* box : {first_, second_}) {
    box->clear();
    box->addItems(runs);
    box->setCurrentText(drawn(series));
    series += 2;
  }
  filling_ = false;
}

}  // namespace bq::ui
