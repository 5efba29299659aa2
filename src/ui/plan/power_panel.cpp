#include "ui/plan/power_panel.h"

#include <QComboBox>
#include <QGridLayout>
#include <QHeaderView>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <cmath>

#include "quantity/number.h"
#include "ui/frame/enough_line.h"
#include "ui/parts/number_field.h"
#include "ui/parts/words.h"
#include "ui/plan/cost_panel.h"
#include "ui/plan/hold_panel.h"
#include "ui/plot/plot_view.h"

namespace bq::ui {
namespace {
/// The longer life over the shorter: what a picture of chances has on its axis.
double as_effect(double ratio) { return ratio >= 1 ? ratio : 1 / ratio; }
}  // namespace

PowerPanel::PowerPanel(Workbench& workbench, PlanModel& model, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(model),
      ask_(new QComboBox),
      factor_(new QComboBox),
      to_(new QComboBox),
      from_(new QComboBox),
      wished_(new NumberEntry),
      figure_(new QLabel),
      sentence_(new QLabel),
      details_(quiet_label({})),
      notes_(quiet_label({})),
      legend_(quiet_label(tr("Line: formula. Squares with band: rehearsed. Diamond: this plan."))),
      plot_(new PlotView),
      rehearse_(new QPushButton(tr("Rehearse"))),
      help_(new QPushButton(tr("What would help most?"))),
      progress_(new QProgressBar),
      helps_(new QTableWidget(0, 3)),
      hold_(new HoldPanel(workbench, model)),
      enough_(new EnoughLine(workbench)),
      question_(new QWidget),
      wish_(new QWidget) {
  lay_out();
  listen();
  refill();
}

void PowerPanel::lay_out() {
  auto* column = scrolled_column(this, tr("What it can tell"));
  for (const auto& [ask, words] : {std::pair(PlanAsk::difference, tr("which lasts longer?")),
                                   std::pair(PlanAsk::match, tr("where do they last alike?")),
                                   std::pair(PlanAsk::best, tr("which edge is best?")),
                                   std::pair(PlanAsk::hold, tr("does it hold?"))})
    ask_->addItem(words, int(ask));
  ask_->setAccessibleName(tr("What is asked of this plan"));
  ask_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  column->addWidget(ask_);
  lay_out_question();
  column->addWidget(question_);
  column->addWidget(hold_);
  figure_->setFont(font_of(34, true));
  sentence_->setWordWrap(true);
  column->addWidget(figure_);
  column->addWidget(sentence_);
  auto* row = new QHBoxLayout;
  row->addWidget(rehearse_);
  row->addWidget(progress_, 1);
  progress_->setFixedHeight(12);
  progress_->setTextVisible(false);
  column->addLayout(row);
  plot_->setMinimumHeight(180);
  plot_->setMaximumHeight(240);
  plot_->set_empty_text(tr("The curve comes with a design."));
  column->addWidget(plot_);
  column->addWidget(legend_);
  set_up_helps();
  column->addWidget(help_, 0, Qt::AlignLeft);
  column->addWidget(helps_);
  column->addWidget(details_);
  column->addWidget(enough_);
  auto* wish = new QHBoxLayout(wish_);
  wish->setContentsMargins(0, 0, 0, 0);
  wish->addWidget(quiet_label(tr("wished chance")));
  wished_->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
  wish->addWidget(wished_);
  wish->addStretch(1);
  column->addWidget(wish_);
  column->addWidget(notes_);
  column->addStretch(1);
}

void PowerPanel::lay_out_question() {
  auto* question = new QGridLayout(question_);
  question->setContentsMargins(0, 0, 0, 0);
  question->setHorizontalSpacing(6);
  question->setVerticalSpacing(4);
  question->setColumnStretch(1, 1);
  for (QComboBox* box : {factor_, to_, from_})
    box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  factor_->setAccessibleName(tr("The question is about"));
  to_->setAccessibleName(tr("Life of this level"));
  from_->setAccessibleName(tr("Against this level"));
  set_up_number(wished_, 10, 99, 0, 5, tr(" %"), tr("Wished chance"));
  wished_->setKeyboardTracking(false);
  int line = 0;
  for (const auto& [words, box] : {std::pair(tr("asked"), factor_), std::pair(tr("life at"), to_),
                                   std::pair(tr("against"), from_)}) {
    question->addWidget(quiet_label(words), line, 0);
    question->addWidget(box, line++, 1);
  }
}

void PowerPanel::set_up_helps() {
  helps_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  helps_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  helps_->verticalHeader()->hide();
  helps_->setShowGrid(false);
  helps_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  helps_->setSelectionMode(QAbstractItemView::NoSelection);
  helps_->setFocusPolicy(Qt::NoFocus);
  helps_->setHorizontalHeaderLabels({tr("change"), tr("chance"), tr("costs")});
  helps_->setAccessibleName(tr("What would help most"));
}

void PowerPanel::listen() {
  connect(ask_, &QComboBox::activated, this, &PowerPanel::take_ask);
  connect(factor_, &QComboBox::activated, this, &PowerPanel::take_factor);
  connect(to_, &QComboBox::activated, this, &PowerPanel::take_question);
  connect(from_, &QComboBox::activated, this, &PowerPanel::take_question);
  connect(wished_, &NumberEntry::valueChanged, this, &PowerPanel::take_question);
  connect(rehearse_, &QPushButton::clicked, this, [this] {
    if (model_.rehearsing())
      model_.stop();
    else
      model_.rehearse();
  });
  connect(help_, &QPushButton::clicked, this, [this] { model_.ask_help(); });
  connect(&model_, &PlanModel::book_changed, this, &PowerPanel::refill);
  connect(&model_, &PlanModel::study_changed, this, &PowerPanel::refill);
  connect(&model_, &PlanModel::rehearsal_changed, this, &PowerPanel::refill);
  connect(&model_, &PlanModel::progressed, this, &PowerPanel::show_progress);
  connect(&workbench_, &Workbench::display_changed, this, [this] {
    plot_->retheme();
    refill();
  });
}

void PowerPanel::take_ask() {
  if (filling_ || !model_.plan()) return;
  TrialPlan plan = *model_.plan();
  PlanQuestion q = plan.asked();
  q.ask = PlanAsk(ask_->currentData().toInt());
  plan.question = q;
  model_.change(plan, tr("the question of the plan"));
}

void PowerPanel::take_factor() {
  if (filling_ || !model_.plan()) return;
  TrialPlan plan = *model_.plan();
  const auto* factor = plan.factor(factor_->currentData().toString().toStdString());
  if (!factor || factor->levels.size() < 2) return;
  PlanQuestion q = plan.asked();
  q.factor = factor->name;
  q.from = factor->levels.front();
  q.to = factor->levels.back();
  plan.question = q;
  model_.change(plan, tr("the question of the plan"));
}

QString PowerPanel::sentence() const { return sentence_->text(); }

void PowerPanel::take_question() {
  if (filling_ || !model_.plan()) return;
  TrialPlan plan = *model_.plan();
  const auto* factor = plan.factor(factor_->currentData().toString().toStdString());
  const int to = to_->currentIndex(), from = from_->currentIndex();
  if (!factor || to < 0 || from < 0 || to >= int(factor->levels.size()) ||
      from >= int(factor->levels.size()))
    return;
  PlanQuestion q = plan.asked();
  q.factor = factor->name;
  q.to = factor->levels[std::size_t(to)];
  q.from = factor->levels[std::size_t(from)];
  q.wished_power = wished_->value() / 100;
  plan.question = q;
  model_.change(plan, tr("the question of the plan"));
}

void PowerPanel::fill_question() {
  filling_ = true;
  const TrialPlan& plan = *model_.plan();
  const PlanQuestion asked = plan.asked();
  const AngleConvention angles = workbench_.display().angles;
  factor_->clear();
  to_->clear();
  from_->clear();
  for (const auto& factor : plan.factors)
    factor_->addItem(shown_factor(factor, angles), QString::fromStdString(factor.name));
  factor_->setCurrentIndex(factor_->findData(QString::fromStdString(asked.factor)));
  if (const auto* factor = plan.factor(asked.factor))
    for (std::size_t l = 0; l < factor->levels.size(); ++l) {
      const QString text = shown_level(factor->kind, factor->levels[l], angles);
      to_->addItem(text);
      from_->addItem(text);
      if (print_factor_value(factor->levels[l]) == print_factor_value(asked.to))
        to_->setCurrentIndex(int(l));
      if (print_factor_value(factor->levels[l]) == print_factor_value(asked.from))
        from_->setCurrentIndex(int(l));
    }
  ask_->setCurrentIndex(ask_->findData(int(asked.ask)));
  const bool hold = asked.ask == PlanAsk::hold, difference = asked.ask == PlanAsk::difference;
  const auto* about = plan.factor(asked.factor);
  question_->setVisible(difference ||
                        (asked.ask == PlanAsk::match && about && about->kind == FactorKind::steel));
  hold_->setVisible(hold);
  enough_->set_wanted(asked.ask == PlanAsk::best);
  for (QWidget* part : {static_cast<QWidget*>(figure_), static_cast<QWidget*>(sentence_),
                        static_cast<QWidget*>(details_)})
    part->setVisible(!hold);
  for (QWidget* part : {static_cast<QWidget*>(plot_), static_cast<QWidget*>(legend_),
                        static_cast<QWidget*>(help_), wish_})
    part->setVisible(difference);
  for (QComboBox* box : {ask_, factor_, to_, from_}) {
    box->setToolTip(box->currentText());
    box->setEnabled(workbench_.writable());
  }
  wished_->setValue(100 * asked.wished_power);
  wished_->setEnabled(workbench_.writable());
  filling_ = false;
}

void PowerPanel::refill() {
  setVisible(model_.plan());
  if (!model_.plan()) return;
  fill_question();
  if (model_.plan()->asked().ask == PlanAsk::hold) {
    hold_->refill();
    for (QWidget* part : {static_cast<QWidget*>(rehearse_), static_cast<QWidget*>(helps_),
                          static_cast<QWidget*>(notes_)})
      part->hide();
    show_progress();
    return;
  }
  show_answer();
  show_curve();
  show_help();
  show_progress();
}

void PowerPanel::show_answer() {
  const PlanStudy* study = model_.study();
  const bool ready = study && model_.up_to_date() && study->refusal.empty();
  rehearse_->setEnabled((ready && study->power) || model_.rehearsing());
  help_->setEnabled(ready && study->power && !model_.rehearsing());
  const auto& rehearsal = model_.rehearsal();
  rehearse_->setText(model_.rehearsing()                 ? tr("Stop")
                     : rehearsal && rehearsal->stopped() ? tr("Go on")
                                                         : tr("Rehearse"));
  rehearse_->setVisible(model_.rehearsing() || !rehearsal || rehearsal->stopped());
  // The one thing to do, until it is done.
  name_look(rehearse_, rehearse_->isEnabled() && !model_.rehearsing() ? "primary" : "");
  if (!study || !study->refusal.empty() || !study->power) {
    figure_->clear();
    figure_->hide();
    details_->clear();
    const QString why = study ? QString::fromStdString(study->why_no_power) : QString();
    sentence_->setText(study && !study->refusal.empty()
                           ? tr("Nothing can be said before there is a sheet.")
                       : why.isEmpty() ? tr("Working it out …")
                                       : tr("Nothing can be said yet: %1.").arg(why));
    return;
  }
  figure_->show();
  const Rehearsal* played = rehearsal && !rehearsal->plays.empty() ? &*rehearsal : nullptr;
  const PlanAsk ask = study->plan.asked().ask;
  if (ask == PlanAsk::match) {
    show_match(played);
  } else if (ask == PlanAsk::best) {
    show_best(played);
  } else if (played) {
    figure_->setText(percent(rehearsal->power.value));
    sentence_->setText(chance_words() +
                       tr(" Rehearsed %1 times: %2 to %3.")
                           .arg(rehearsal->plays.size())
                           .arg(percent(rehearsal->power.low), percent(rehearsal->power.high)) +
                       (rehearsal->stopped() ? tr(" Stopped before the end.") : QString()));
  } else {
    figure_->setText(percent(study->power->power));
    sentence_->setText(chance_words() + tr(" By formula; the rehearsal gives the real figure."));
  }
  details_->setText(details());
}

void PowerPanel::show_curve() {
  const PlanStudy* study = model_.study();
  std::vector<PlotSeries> series;
  if (study && study->power && study->refusal.empty()) {
    const double own = as_effect(study->true_ratio);
    double far = std::max(own, study->power->smallest_ratio);
    for (const auto& point : model_.curve()) far = std::max(far, point.ratio);
    // As far as was rehearsed, so that both lines end side by side.
    far = std::max(1.1, model_.curve().empty() ? std::exp(1.25 * std::log(far)) : far);
    PlotSeries formula;
    formula.name = tr("formula");
    for (int i = 0; i <= 60; ++i) formula.x.push_back(1 + (far - 1) * i / 60.0);
    for (const double power : power_at(*study->power, formula.x, study->plan.asked().level))
      formula.y.push_back(100 * power);
    series.push_back(formula);
    PlotSeries rehearsed;
    rehearsed.name = tr("rehearsed");
    rehearsed.style = 1;
    rehearsed.markers = true;
    for (const auto& point : model_.curve()) {
      rehearsed.x.push_back(point.ratio);
      rehearsed.y.push_back(100 * point.power.value);
      rehearsed.y_low.push_back(100 * point.power.low);
      rehearsed.y_high.push_back(100 * point.power.high);
    }
    if (!rehearsed.x.empty()) series.push_back(rehearsed);
    PlotSeries plan;
    plan.name = tr("this plan");
    plan.style = 3;
    plan.line = false;
    plan.markers = true;
    plan.x = {own};
    plan.y = {100 * (model_.rehearsal() && !model_.rehearsal()->plays.empty()
                         ? model_.rehearsal()->power.value
                         : study->power->power)};
    series.push_back(plan);
    plot_->set_threshold(100 * study->plan.asked().wished_power,
                         tr("wished %1").arg(percent(study->plan.asked().wished_power)));
  } else {
    plot_->set_threshold(std::nullopt, {});
  }
  PlotAxes axes;
  axes.x_label = tr("true life ratio, longer over shorter");
  axes.y_label = tr("chance to see it, %");
  plot_->show_plot(axes, series);
}

void PowerPanel::show_help() {
  const auto& helps = model_.helps();
  const bool difference = model_.plan()->asked().ask == PlanAsk::difference;
  helps_->setVisible(!helps.empty() && difference);
  helps_->setRowCount(int(helps.size()));
  for (int i = 0; i < int(helps.size()); ++i) {
    const Help& help = helps[std::size_t(i)];
    const bool can = help.impossible.empty();
    QString price = i == 0 ? QString()
                    : !can ? tr("cannot")
                    : help.extra_minutes > 0.5
                        ? QStringLiteral("+ ") + print_hours(help.extra_minutes)
                        : tr("no time");
    const QStringList cells{QString::fromStdString(help.what),
                            can ? percent(help.power.value) : QStringLiteral("–"), price};
    for (int column = 0; column < 3; ++column) {
      auto* item = new QTableWidgetItem(cells[column]);
      item->setToolTip(
          !can ? QString::fromStdString(help.impossible)
               : tr("%1: %2 (%3 to %4); %5 runs and %6 m of medium more")
                     .arg(cells[0], percent(help.power.value), percent(help.power.low),
                          percent(help.power.high))
                     .arg(help.extra_runs)
                     .arg(QString::fromStdString(print_number(help.extra_medium_m, 3))));
      if (column) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      helps_->setItem(i, column, item);
    }
  }
  int height = helps_->horizontalHeader()->sizeHint().height() + 4;
  for (int i = 0; i < helps_->rowCount(); ++i) height += helps_->rowHeight(i);
  helps_->setFixedHeight(height);
  QStringList notes;
  if (!model_.rehearsal_refusal().isEmpty())
    notes << tr("It could not be rehearsed: %1.").arg(model_.rehearsal_refusal());
  if (const PlanStudy* study = model_.study();
      study && !study->next.empty() && study->refusal.empty() && difference) {
    const auto& next = study->next.front();
    QStringList levels;
    for (std::size_t f = 0; f < study->plan.factors.size(); ++f)
      levels << shown_level(study->plan.factors[f].kind,
                            study->plan.factors[f].levels[std::size_t(next.levels[f])],
                            workbench_.display().angles);
    notes << tr("Next best run for this question: %1; the interval shrinks to %2 of its width.")
                 .arg(levels.join(QStringLiteral(", ")), percent(next.interval_shrinks_to));
  }
  notes_->setText(notes.join(QLatin1Char(' ')));
  notes_->setVisible(!notes.isEmpty());
}

void PowerPanel::show_progress() {
  progress_->setVisible(model_.rehearsing());
  if (!model_.rehearsing()) return;
  progress_->setRange(0, int(model_.progress_total()));
  progress_->setValue(int(std::min(model_.progress_done(), model_.progress_total())));
  progress_->setToolTip(tr("%1: %2 of %3 plays")
                            .arg(model_.doing(), QString::number(model_.progress_done()),
                                 QString::number(model_.progress_total())));
}

}  // namespace bq::ui
