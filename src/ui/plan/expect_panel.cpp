#include "ui/plan/expect_panel.h"

#include <QCheckBox>
#include <QDateEdit>
#include <QFileDialog>
#include <QLineEdit>
#include <QPushButton>

#include "plan/plan_fields.h"
#include "quantity/number.h"
#include "rehearsal/plan_world.h"
#include "stats/power.h"
#include "trial/run_plan.h"
#include "ui/parts/layouts.h"
#include "ui/parts/number_field.h"
#include "ui/parts/words.h"

namespace bq::ui {

WorkPanel::WorkPanel(Workbench& workbench, PlanModel& model, QWidget* parent)
    : PlanPanel(workbench, model, tr("When it is read, what it takes"), parent),
      given_(new QLineEdit),
      burr_(new QCheckBox(tr("a burr may be left: read more at the start"))),
      ladder_(quiet_label({})),
      needed_(quiet_label({})),
      precision_(new NumberEntry),
      start_(new QDateEdit),
      body_(new QWidget) {
  auto* all = new QVBoxLayout(body_);
  all->setContentsMargins(0, 0, 0, 0);
  all->setSpacing(8);
  column_->addWidget(body_);
  column_->addStretch(1);
  lay_out_when(*all);
  lay_out_rates(*all);
  listen();
}

void WorkPanel::lay_out_when(QVBoxLayout& all) {
  auto* when = two_columns();
  whole(
      when, 0, tr("cuts of a run"), 2, 100000000, {},
      [](const TrialPlan& p) { return int(p.checkpoints.last); },
      [](TrialPlan& p, int v) { p.checkpoints.last = v; });
  whole(
      when, 1, tr("checkpoints after 0"), 2, 60, {},
      [](const TrialPlan& p) { return p.checkpoints.steps; },
      [](TrialPlan& p, int v) { p.checkpoints.steps = v; });
  told<&TrialPlan::checkpoints, &CheckpointChoice::readings_each>(when, 2);
  all.addLayout(when);
  auto* reach = new QPushButton(tr("As long as the longest life takes"));
  reach->setToolTip(
      tr("So many cuts that about 19 of 20 runs of the longest-lived combination reach the "
         "threshold, as expected"));
  all.addWidget(reach);
  connect(reach, &QPushButton::clicked, this, &WorkPanel::reach_longest);
  all.addWidget(burr_);
  given_->setPlaceholderText(tr("or typed: 0 10 20 50 …"));
  given_->setAccessibleName(tr("Checkpoints, typed"));
  all.addWidget(given_);
  all.addWidget(ladder_);
  auto* need = two_columns();
  set_up_number(precision_, 0.5, 50, 1, 0.5, tr(" %"), tr("Wished precision of a checkpoint"));
  precision_->setValue(5);
  need->addWidget(quiet_label(tr("a checkpoint known to ±")), 0, 0);
  need->addWidget(precision_, 0, 1);
  all.addLayout(need);
  all.addWidget(needed_);
}

void WorkPanel::reach_longest() {
  if (!model().plan()) return;
  const auto faults = faults_of(*model().plan());
  const auto last = faults.empty() ? longest_run(*model().plan())
                                   : Checked<std::int64_t>(Refusal{faults.front()});
  if (!last)
    return void(emit workbench().refused(tr("The length of a run was not changed: %1.")
                                             .arg(QString::fromStdString(last.refusal().reason))));
  edit(tr("the length of a run"), [&](TrialPlan& p) {
    p.checkpoints.last = *last;
    p.checkpoints.given.clear();
  });
}

void WorkPanel::lay_out_rates(QVBoxLayout& all) {
  all.addWidget(heading(tr("What the work takes")));
  auto* rates = two_columns();
  constexpr auto kRates = &TrialPlan::rates;
  told<kRates, &PlanRates::seconds_per_cut>(rates, 0, 1, 0.5);
  told<kRates, &PlanRates::seconds_per_reading>(rates, 1, 0, 5);
  told<kRates, &PlanRates::minutes_per_checkpoint>(rates, 2, 1, 0.5);
  told<kRates, &PlanRates::minutes_per_sharpening>(rates, 3);
  told<kRates, &PlanRates::metal_mm3_per_sharpening>(rates, 4, 1);
  told<kRates, &PlanRates::medium_mm_per_cut>(rates, 5, 1);
  told<kRates, &PlanRates::offcut_percent>(rates, 6);
  told<kRates, &PlanRates::rest_after_minutes>(rates, 7, 0, 5);
  told<kRates, &PlanRates::rest_minutes>(rates, 8);
  told<kRates, &PlanRates::hours_a_day>(rates, 9, 2, 0.5);
  told<kRates, &PlanRates::days_a_week>(rates, 10);
  start_->setDisplayFormat(QStringLiteral("yyyy-MM-dd"));
  start_->setMinimumDate(QDate(2000, 1, 1));
  start_->setSpecialValueText(tr("not said"));
  start_->setKeyboardTracking(false);
  start_->setAccessibleName(tr("First day"));
  rates->addWidget(quiet_label(tr("first day")), 11, 0);
  rates->addWidget(start_, 11, 1);
  all.addLayout(rates);
  all.addWidget(quiet_label(tr("The figures of a new plan are round ones: put your own.")));
}

void WorkPanel::listen() {
  connect(burr_, &QCheckBox::toggled, this, [this](bool on) {
    edit(tr("the checkpoints"), [&](TrialPlan& p) { p.checkpoints.burr_suspected = on; });
  });
  connect(given_, &QLineEdit::editingFinished, this, [this] {
    if (filling() || !this->model().plan()) return;
    const auto read = parse_checkpoints(given_->text().toStdString());
    if (!read) {
      emit this->workbench().refused(tr("The checkpoints were not taken: %1.")
                                         .arg(QString::fromStdString(read.refusal().reason)));
      return refill();
    }
    edit(tr("the checkpoints"), [&](TrialPlan& p) { p.checkpoints.given = *read; });
  });
  connect(precision_, &NumberEntry::valueChanged, this, &WorkPanel::show_needed);
  connect(start_, &QDateEdit::dateChanged, this, [this](const QDate& date) {
    edit(tr("the first day"), [&](TrialPlan& p) {
      p.rates.start_date =
          date == start_->minimumDate() ? std::string() : date.toString(Qt::ISODate).toStdString();
    });
  });
}

void WorkPanel::show_needed() {
  if (!model().plan()) return;
  const double cv = model().plan()->truth.reading_sd,
               checkpoint = model().plan()->truth.checkpoint_sd;
  const auto count = stats::readings_needed(cv, precision_->value() / 100, 0.95);
  QString text = count ? tr("takes %1 readings at the gauge's spread of %2 %.")
                             .arg(*count)
                             .arg(100 * cv, 0, 'g', 2)
                       : tr("no number of readings gets there.");
  if (checkpoint > precision_->value() / 100 / 2)
    text += tr(" Readings do not cure the %1 % from checkpoint to checkpoint: more checkpoints or "
               "runs do.")
                .arg(100 * checkpoint, 0, 'g', 2);
  needed_->setText(text);
}

void WorkPanel::fill(const TrialPlan& plan) {
  body_->setEnabled(model().can_edit());
  burr_->setChecked(plan.checkpoints.burr_suspected);
  if (!given_->hasFocus())
    given_->setText(QString::fromStdString(print_checkpoints(plan.checkpoints.given)));
  ladder_->setText(
      tr("Read at %1 cuts.")
          .arg(QString::fromStdString(print_checkpoints(checkpoints_of(plan.checkpoints)))));
  const QDate date = QDate::fromString(QString::fromStdString(plan.rates.start_date), Qt::ISODate);
  start_->setDate(date.isValid() ? date : start_->minimumDate());
  show_needed();
}

ExpectPanel::ExpectPanel(Workbench& workbench, PlanModel& model, QWidget* parent)
    : PlanPanel(workbench, model, tr("What is taken as true"), parent),
      threshold_(new QLineEdit),
      ratios_(new QVBoxLayout),
      note_(quiet_label({})),
      reference_(quiet_label({})),
      evidence_(new QPushButton(tr("Take it from this bench's runs"))),
      elsewhere_(new QPushButton(tr("Take it from another project…"))),
      body_(new QWidget) {
  lay_out();
  listen();
}

void ExpectPanel::lay_out() {
  auto* all = new QVBoxLayout(body_);
  all->setContentsMargins(0, 0, 0, 0);
  all->setSpacing(8);
  column_->addWidget(body_);
  column_->addStretch(1);
  all->addWidget(
      quiet_label(tr("The rehearsal plays the plan on virtual blades that wear as stated here. "
                     "Nothing here changes a real result.")));
  all->addWidget(evidence_);
  all->addWidget(elsewhere_);
  all->addWidget(note_);
  all->addWidget(reference_);
  auto* grid = two_columns();
  threshold_->setAccessibleName(tr("Threshold"));
  grid->addWidget(quiet_label(tr("threshold")), 0, 0);
  grid->addWidget(threshold_, 0, 1);
  constexpr auto kTruth = &TrialPlan::truth;
  fresh_ = told<kTruth, &PlanTruth::fresh_reading>(grid, 1, 1, 5);
  told<kTruth, &PlanTruth::life>(grid, 2, 0, 10);
  told<kTruth, &PlanTruth::run_sd>(grid, 3, 1, 1, 100);
  told<kTruth, &PlanTruth::blade_sd>(grid, 4, 1, 1, 100);
  told<kTruth, &PlanTruth::block_sd>(grid, 5, 1, 1, 100);
  told<kTruth, &PlanTruth::checkpoint_sd>(grid, 6, 1, 0.5, 100);
  told<kTruth, &PlanTruth::reading_sd>(grid, 7, 1, 0.5, 100);
  told<kTruth, &PlanTruth::stroke_mm>(grid, 8, 0, 10);
  all->addLayout(grid);
  all->addWidget(heading(tr("Lives besides the geometry")));
  all->addWidget(
      quiet_label(tr("How long each level lasts against the first one, level by level. Angle and "
                     "finish act through the wear geometry by themselves: 1 leaves it at that.")));
  ratios_->setSpacing(5);
  all->addLayout(ratios_);
  connect(evidence_, &QPushButton::clicked, this, [this] { this->model().take_evidence(); });
}

void ExpectPanel::listen() {
  connect(elsewhere_, &QPushButton::clicked, this, [this] {
    const QString path = QFileDialog::getOpenFileName(
        this, tr("A trial that shows what is to be expected"), {}, project_files());
    if (!path.isEmpty()) this->model().take_evidence_from(path);
  });
  connect(threshold_, &QLineEdit::editingFinished, this, [this] {
    const std::string text = threshold_->text().trimmed().toStdString();
    const bool times = !text.empty() && (text.back() == 'x' || text.back() == 'X');
    const auto read =
        times ? Checked<Threshold>(Threshold{})
              : parse_threshold(text, this->model().plan() ? this->model().plan()->unit : Unit::gf,
                                {}, true);
    if (!read) {
      emit this->workbench().refused(tr("The threshold was not taken: %1.")
                                         .arg(QString::fromStdString(read.refusal().reason)));
      return refill();
    }
    edit(tr("the threshold of the plan"), [&](TrialPlan& p) { p.threshold = text; });
  });
}

void ExpectPanel::build(const TrialPlan& plan) {
  empty(ratios_);
  ratio_fields_.clear();
  for (std::size_t i = 0; i < plan.factors.size(); ++i) {
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    auto* label = quiet_label(shown_factor(plan.factors[i], angles()));
    label->setFixedWidth(140);
    auto* field = new QLineEdit;
    field->setAccessibleName(
        tr("Life ratios of %1").arg(QString::fromStdString(plan.factors[i].name)));
    row->addWidget(label);
    row->addWidget(field, 1);
    ratios_->addWidget(line);
    ratio_fields_.push_back(field);
    connect(field, &QLineEdit::editingFinished, this, [this, i, field] {
      if (filling() || !model().plan() || i >= model().plan()->factors.size()) return;
      const auto parts = split_list(field->text().toStdString());
      if (!parts) {
        emit workbench().refused(tr("The ratios were not taken: %1.")
                                     .arg(QString::fromStdString(parts.refusal().reason)));
        return refill();
      }
      std::vector<double> ratios;
      for (const auto& part : *parts)
        if (const auto value = parse_number(part)) ratios.push_back(*value);
      if (ratios.size() != parts->size() ||
          ratios.size() != model().plan()->factors[i].levels.size()) {
        emit workbench().refused(tr("The ratios were not taken: one number for each of the %1 "
                                    "levels is needed, the first usually 1.")
                                     .arg(model().plan() -> factors[i].levels.size()));
        return refill();
      }
      edit(tr("what is expected"), [&](TrialPlan& p) { p.factors[i].life_ratio = ratios; });
    });
  }
}

void ExpectPanel::fill(const TrialPlan& plan) {
  body_->setEnabled(model().can_edit());
  fresh_->setSuffix(QStringLiteral(" ") + QString::fromUtf8(sign_of(plan.unit).data()));
  note_->setText(model().evidence_note());
  note_->setVisible(!note_->text().isEmpty());
  QStringList first;
  for (const auto& factor : plan.factors)
    if (!factor.levels.empty()) first << shown_level(factor.kind, factor.levels.front(), angles());
  reference_->setText(
      (plan.truth.from.empty() ? QString() : tr("Taken from %1. ").arg(text_of(plan.truth.from))) +
      tr("Stated for the first levels: %1.").arg(first.join(QStringLiteral(", "))));
  elsewhere_->setEnabled(!model().reading_evidence());
  if (!threshold_->hasFocus()) threshold_->setText(QString::fromStdString(plan.threshold));
  QString shape = QString::number(int(angles()));
  for (const auto& factor : plan.factors) shape += '|' + QString::fromStdString(factor.name);
  if (shape != built_) {
    built_ = shape;
    build(plan);
  }
  for (std::size_t i = 0; i < ratio_fields_.size(); ++i) {
    QStringList parts;
    for (std::size_t l = 0; l < plan.factors[i].levels.size(); ++l)
      parts << QString::fromStdString(
          print_number(plan.factors[i].life_ratio.empty() ? 1 : plan.factors[i].life_ratio[l], 3));
    const QString text = parts.join(QStringLiteral(", "));
    if (!ratio_fields_[i]->hasFocus() && ratio_fields_[i]->text() != text)
      ratio_fields_[i]->setText(text);
    ratio_fields_[i]->setToolTip(
        print_levels(plan.factors[i].kind, plan.factors[i].levels, angles()));
  }
}

}  // namespace bq::ui
