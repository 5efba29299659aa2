#include "ui/stones/plan_page.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

#include "quantity/number.h"
#include "ui/parts/number_field.h"
#include "ui/parts/plain_table.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"
#include "workflow/taken_up.h"

namespace bq::ui {
namespace {

constexpr CutMode kModes[] = {CutMode::slice, CutMode::push, CutMode::chop};

QString proof_text(BurrProof proof) {
  switch (proof) {
    case BurrProof::touch:
      return PlanPage::tr("by finger");
    case BurrProof::light:
      return PlanPage::tr("by light");
    case BurrProof::paper:
      return PlanPage::tr("by paper");
    case BurrProof::microscope:
      return PlanPage::tr("under the lens");
    case BurrProof::sound:
      return PlanPage::tr("by sound");
  }
  return {};
}

QString way_text(GrindWay way) {
  switch (way) {
    case GrindWay::held:
      return PlanPage::tr("held at the angle");
    case GrindWay::slack_belt:
      return PlanPage::tr("rolled on a slack belt: convex");
    case GrindWay::crossed_wheels:
      return PlanPage::tr("drawn through crossed wheels");
  }
  return {};
}

QString stop_text(AbrasiveEnd rule) {
  switch (rule) {
    case AbrasiveEnd::strokes:
      return PlanPage::tr("its strokes");
    case AbrasiveEnd::time:
      return PlanPage::tr("its minutes");
    case AbrasiveEnd::burr:
      return PlanPage::tr("the burr");
  }
  return {};
}

QString policy_text(GatePolicy policy) {
  switch (policy) {
    case GatePolicy::every_abrasive:
      return PlanPage::tr("two on each");
    case GatePolicy::coarsest_only:
      return PlanPage::tr("coarsest only");
    case GatePolicy::single_sided:
      return PlanPage::tr("one side only");
    case GatePolicy::none:
      return PlanPage::tr("none is raised");
  }
  return {};
}

}  // namespace

PlanPage::PlanPage(Workbench& workbench, StonesModel& model, QWidget* parent)
    : StonesPage(workbench, model, tr("The next sharpening"), parent),
      dull_(new NumberEntry),
      damage_(new NumberEntry),
      edge_left_(new NumberEntry),
      edge_right_(new NumberEntry),
      micro_left_(new NumberEntry),
      micro_right_(new NumberEntry),
      facet_(new NumberEntry),
      finish_left_(new NumberEntry),
      finish_right_(new NumberEntry),
      micro_(new QCheckBox(tr("micro-bevel"))),
      apex_only_(new QCheckBox(tr("apex only"))),
      deburr_(new QCheckBox(tr("deburr"))),
      between_(new QCheckBox(tr("between too"))),
      straighten_(new QCheckBox(tr("straighten"))),
      recurve_(new QCheckBox(tr("mend recurve"))),
      mode_(new QComboBox),
      policy_(new QComboBox),
      proof_(new QComboBox),
      way_(new QComboBox),
      stop_(new QComboBox),
      places_(new QComboBox),
      strop_(new QComboBox),
      run_(new QComboBox),
      in_hand_(quiet_label(tr("One is in hand on the left; this plans the one after it."))),
      finish_words_(quiet_label(QString())),
      remarks_(new QLabel),
      steps_(new QTableWidget(0, 5)),
      replay_(new QPushButton(tr("Repeat the last one"))) {
  set_up_entries();
  lay_out();
  lay_out_steps();
}

void PlanPage::set_up_entries() {
  const auto number = [&](NumberEntry* box, double least, double most, int decimals, double step,
                          const QString& suffix, const QString& name) {
    set_up_number(box, least, most, decimals, step, suffix, name);
    connect(box, &NumberEntry::valueChanged, this, &PlanPage::take);
  };
  number(dull_, 0, 500, 1, 1, tr(" µm"), tr("Width of the dull apex now"));
  number(damage_, 0, 20000, 0, 10, tr(" µm"), tr("Depth of the deepest chip"));
  for (auto [box, name] : {std::pair(edge_left_, tr("Edge bevel, left, degrees per side")),
                           {edge_right_, tr("Edge bevel, right, degrees per side")},
                           {micro_left_, tr("Micro-bevel, left, degrees per side")},
                           {micro_right_, tr("Micro-bevel, right, degrees per side")}}) {
    number(box, 1, 79, 1, 0.5, QStringLiteral("°"), name);
    box->set_edge_angle(AngleConvention::per_side);
  }
  number(facet_, 5, 2000, 0, 5, tr(" µm"), tr("Width of the micro-bevel"));
  number(finish_left_, 0.1, 500, 1, 1, tr(" µm"), tr("Finish on the left, particle size"));
  number(finish_right_, 0.1, 500, 1, 1, tr(" µm"), tr("Finish on the right, particle size"));
  finish_left_->set_particle_size();
  finish_right_->set_particle_size();
  apex_only_->setToolTip(tr("Only the micro-bevel is honed; the edge bevel stays"));
  between_->setToolTip(tr("Deburr between abrasives too, not only at the end"));
  for (QCheckBox* box : {micro_, apex_only_, deburr_, between_, straighten_, recurve_})
    connect(box, &QCheckBox::toggled, this, &PlanPage::take);
  mode_->addItem(tr("the work …"));
  for (const CutMode mode : kModes) mode_->addItem(shown(mode), int(mode));
  mode_->setAccessibleName(tr("Kind of cut, for a customary finish"));
  for (const GatePolicy policy : {GatePolicy::every_abrasive, GatePolicy::coarsest_only,
                                  GatePolicy::single_sided, GatePolicy::none})
    policy_->addItem(policy_text(policy), int(policy));
  policy_->setAccessibleName(tr("Burr on"));
  for (int i = 0; i < kBurrProofs; ++i) proof_->addItem(proof_text(BurrProof(i)), i);
  proof_->setAccessibleName(tr("Burr proved by"));
  for (int i = 0; i < kGrindWays; ++i) way_->addItem(way_text(GrindWay(i)), i);
  way_->setAccessibleName(tr("How the face gets its angle"));
  for (int i = 0; i < kAbrasiveEnds; ++i) stop_->addItem(stop_text(AbrasiveEnd(i)), i);
  stop_->setAccessibleName(tr("What ends the work on an abrasive"));
  for (int n = kLeastPlaces; n <= kMostPlaces; n += 2)
    places_->addItem(tr("%1 places a side").arg(n), n);
  places_->setAccessibleName(tr("Places of a gate on one side"));
  strop_->setAccessibleName(tr("Strop at the end"));
  run_->setAccessibleName(tr("Start of which run"));
}

void PlanPage::lay_out() {
  for (QComboBox* box : {policy_, proof_, way_, stop_, places_, strop_, run_}) {
    box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    connect(box, &QComboBox::activated, this, &PlanPage::take);
  }
  connect(mode_, &QComboBox::activated, this, &PlanPage::propose_finish);

  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(8);
  grid->setVerticalSpacing(5);
  grid->setColumnStretch(1, 1);
  grid->setColumnStretch(2, 1);
  int row = 0;
  const auto add = [&](const QString& label, QWidget* first, QWidget* second = nullptr) {
    auto* name = quiet_label(label);
    name->setFixedWidth(104);
    grid->addWidget(name, row, 0);
    grid->addWidget(first, row, 1, 1, second ? 1 : 2);
    if (second) grid->addWidget(second, row, 2);
    ++row;
  };
  add({}, quiet_label(tr("left")), quiet_label(tr("right")));
  add(tr("bevel, per side"), edge_left_, edge_right_);
  grid->addWidget(micro_, row, 0);
  grid->addWidget(micro_left_, row, 1);
  grid->addWidget(micro_right_, row++, 2);
  add(tr("its width"), facet_, apex_only_);
  add(tr("finish"), finish_left_, finish_right_);
  add(tr("customary for"), mode_);
  grid->addWidget(finish_words_, row++, 1, 1, 2);
  add(tr("apex now wide"), dull_);
  add(tr("deepest chip"), damage_);
  add(tr("ground"), way_);
  add(tr("burrs of a stone"), policy_);
  add(tr("burr felt or seen"), proof_);
  add(tr("a step ends by"), stop_);
  add(tr("burr asked at"), places_);
  add(tr("before"), straighten_, recurve_);
  add(tr("after"), deburr_, between_);
  add(tr("strop"), strop_);
  add(tr("start of run"), run_);
  finish_words_->hide();
  column_->addWidget(in_hand_);
  column_->addLayout(grid);
  steps_->setHorizontalHeaderLabels({tr("step"), tr("µm"), tr("mm³"), tr("a side"), tr("min")});
}

void PlanPage::lay_out_steps() {
  steps_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  steps_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  steps_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  steps_->setSelectionMode(QAbstractItemView::NoSelection);
  steps_->setFocusPolicy(Qt::NoFocus);
  make_plain(steps_, tr("Steps of the ladder"));
  column_->addWidget(steps_);
  remarks_->setWordWrap(true);
  column_->addWidget(remarks_);
  column_->addWidget(replay_, 0, Qt::AlignLeft);
  replay_->setToolTip(tr("Takes the latest sharpening of this blade up again, step by step"));
  connect(replay_, &QPushButton::clicked, this, &PlanPage::replay_last);
  column_->addStretch(1);
}

void PlanPage::reload() {
  filling_ = true;
  const auto& input = model().input();
  in_hand_->setVisible(model().hand().has_value());
  for (QWidget* widget :
       {static_cast<QWidget*>(dull_), static_cast<QWidget*>(damage_),
        static_cast<QWidget*>(edge_left_), static_cast<QWidget*>(edge_right_),
        static_cast<QWidget*>(micro_), static_cast<QWidget*>(finish_left_),
        static_cast<QWidget*>(finish_right_), static_cast<QWidget*>(mode_),
        static_cast<QWidget*>(policy_), static_cast<QWidget*>(proof_), static_cast<QWidget*>(stop_),
        static_cast<QWidget*>(way_), static_cast<QWidget*>(places_), static_cast<QWidget*>(strop_),
        static_cast<QWidget*>(run_), static_cast<QWidget*>(deburr_),
        static_cast<QWidget*>(between_), static_cast<QWidget*>(straighten_),
        static_cast<QWidget*>(recurve_)})
    widget->setEnabled(input.has_value() && workbench().writable());
  const LadderInput i = input.value_or(LadderInput{});
  show_value(dull_, i.dull_um);
  show_value(damage_, i.damage_um);
  show_value(edge_left_, i.wish.edge.left_deg);
  show_value(edge_right_, i.wish.edge.right_deg);
  micro_->setChecked(i.wish.micro.has_value());
  if (i.wish.micro) {
    show_value(micro_left_, i.wish.micro->left_deg);
    show_value(micro_right_, i.wish.micro->right_deg);
  }
  for (QWidget* widget : {static_cast<QWidget*>(micro_left_), static_cast<QWidget*>(micro_right_),
                          static_cast<QWidget*>(facet_), static_cast<QWidget*>(apex_only_)})
    widget->setEnabled(i.wish.micro.has_value() && workbench().writable());
  show_value(facet_, i.wish.micro_facet_um);
  apex_only_->setChecked(i.wish.apex_only);
  show_value(finish_left_, i.wish.finish_left_um);
  show_value(finish_right_, i.wish.finish_right_um);
  policy_->setCurrentIndex(policy_->findData(int(i.policy)));
  proof_->setCurrentIndex(proof_->findData(int(i.proof)));
  way_->setCurrentIndex(way_->findData(int(i.way)));
  stop_->setCurrentIndex(stop_->findData(int(i.stop)));
  places_->setCurrentIndex(std::max(0, places_->findData(i.places)));
  const bool raises = i.way != GrindWay::crossed_wheels;
  policy_->setEnabled(policy_->isEnabled() && raises);
  for (QComboBox* box : {proof_, places_})
    box->setEnabled(box->isEnabled() && raises && i.policy != GatePolicy::none);
  deburr_->setChecked(i.deburr);
  between_->setChecked(i.deburr_between);
  between_->setEnabled(between_->isEnabled() && i.deburr);
  straighten_->setChecked(i.straighten);
  recurve_->setChecked(i.recurve);
  strop_->clear();
  strop_->addItem(tr("none"), QString());
  for (const auto& a : trial().shelf)
    if (a.kind == AbrasiveKind::strop && !a.retired)
      strop_->addItem(QString::fromStdString(a.name), QString::fromStdString(a.name));
  strop_->setCurrentIndex(std::max(0, strop_->findData(QString::fromStdString(i.strop))));
  run_->clear();
  run_->addItem(tr("none"), QString());
  if (const Blade* blade = model().blade_facts())
    for (const auto& run : trial().runs)
      if (run.facts.blade == blade->name &&
          (state_of(run) == RunState::planned || run.facts.name == i.run)) {
        const QString name = QString::fromStdString(run.facts.name);
        run_->addItem(run.facts.medium.empty()
                          ? name
                          : name + QStringLiteral(", ") + QString::fromStdString(run.facts.medium),
                      name);
      }
  run_->setCurrentIndex(std::max(0, run_->findData(QString::fromStdString(i.run))));
  run_->setToolTip(run_->currentText());
  bool has_record = false;
  if (const Blade* blade = model().blade_facts())
    for (const auto& record : blade->records)
      has_record |= std::holds_alternative<SharpeningRecord>(record.data);
  replay_->setVisible(has_record);
  replay_->setEnabled(!model().hand() && workbench().writable());
  filling_ = false;
  show_steps();
}

void PlanPage::take() {
  if (filling_ || !model().input()) return;
  LadderInput i = *model().input();
  i.dull_um = value_of(dull_, i.dull_um);
  i.damage_um = value_of(damage_, i.damage_um);
  i.wish.edge = {value_of(edge_left_, i.wish.edge.left_deg),
                 value_of(edge_right_, i.wish.edge.right_deg)};
  if (micro_->isChecked()) {
    const BevelAngles before =
        i.wish.micro.value_or(BevelAngles{i.wish.edge.left_deg + 5, i.wish.edge.right_deg + 5});
    i.wish.micro = i.wish.micro ? BevelAngles{value_of(micro_left_, before.left_deg),
                                              value_of(micro_right_, before.right_deg)}
                                : before;
  } else {
    i.wish.micro.reset();
    i.wish.apex_only = false;
  }
  i.wish.micro_facet_um = value_of(facet_, i.wish.micro_facet_um);
  if (i.wish.micro) i.wish.apex_only = apex_only_->isChecked();
  i.wish.finish_left_um = value_of(finish_left_, i.wish.finish_left_um);
  i.wish.finish_right_um = value_of(finish_right_, i.wish.finish_right_um);
  i.policy = GatePolicy(policy_->currentData().toInt());
  i.proof = BurrProof(proof_->currentData().toInt());
  i.way = GrindWay(way_->currentData().toInt());
  i.stop = AbrasiveEnd(stop_->currentData().toInt());
  i.places = places_->currentData().toInt();
  i.deburr = deburr_->isChecked();
  i.deburr_between = between_->isChecked();
  i.straighten = straighten_->isChecked();
  i.recurve = recurve_->isChecked();
  i.strop = strop_->currentData().toString().toStdString();
  i.run = run_->currentData().toString().toStdString();
  model().set_input(i);
}

void PlanPage::propose_finish(int index) {
  if (index <= 0 || !model().input()) return finish_words_->hide();
  const CustomaryFinish customary = customary_finish(CutMode(mode_->itemData(index).toInt()));
  finish_words_->show();
  finish_words_->setText(QString::fromStdString(customary.words) +
                         tr(" This bench's own runs go before custom: see Findings."));
  LadderInput i = *model().input();
  const auto within = [&](double um) { return um >= customary.from_um && um <= customary.to_um; };
  if (!within(i.wish.finish_left_um) || !within(i.wish.finish_right_um)) {
    i.wish.finish_left_um = i.wish.finish_right_um = customary.to_um;
    model().set_input(i);
  }
}

void PlanPage::show_steps() {
  const auto& plan = model().plan();
  steps_->setVisible(plan.has_value());
  QStringList remarks;
  if (plan) {
    steps_->setRowCount(int(plan->steps.size()));
    for (int row = 0; row < int(plan->steps.size()); ++row) {
      const LadderStep& step = plan->steps[std::size_t(row)];
      const Abrasive& a = trial().shelf[step.abrasive];
      QString name = QString::fromStdString(a.name);
      if (step.micro) name = tr("micro-bevel, %1").arg(name);
      if (step.side != GrindSide::both)
        name += step.side == GrindSide::left ? tr(", left") : tr(", right");
      const auto number = [](double value, int digits) {
        return QString::fromStdString(print_number(value, digits));
      };
      const QStringList cells{
          name, number(*size_um(a), 3), QString::number(step.metal_mm3, 'f', 2),
          step.passes ? QString::number(strokes_a_side(step.side, step.passes)) : QString(),
          (step.rate_estimated ? QStringLiteral("~") : QString()) +
              (*step.minutes < 0.05 ? QStringLiteral("< 0.1")
                                    : QString::number(*step.minutes, 'f', 1))};
      for (int column = 0; column < cells.size(); ++column) {
        auto* item = new QTableWidgetItem(cells[column]);
        if (column > 0) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        item->setToolTip(step.scratch_um > 0
                             ? tr("takes %1 µm off each face: the scratches before it")
                                   .arg(step.scratch_um, 0, 'f', 1)
                             : tr("apex recedes by %1 µm").arg(step.receded_um, 0, 'f', 1));
        steps_->setItem(row, column, item);
      }
    }
    steps_->setFixedHeight(steps_->horizontalHeader()->sizeHint().height() +
                           steps_->verticalHeader()->defaultSectionSize() * steps_->rowCount() + 4);
    remarks << tr("In all %1 mm³, %2 min with handling; the apex recedes by %3 µm.")
                   .arg(plan->metal_mm3, 0, 'f', 2)
                   .arg(plan->minutes, 0, 'f', 0)
                   .arg(plan->receded_um, 0, 'f', 0);
    for (const auto& remark : plan->remarks) remarks << QString::fromStdString(remark);
    if (plan->minutes_estimated)
      remarks << tr("~ marks minutes from an estimated rate: enter the stone's own.");
    const Sharpening planned = model().planned();
    for (const auto& remark : order_remarks(planned)) remarks << QString::fromStdString(remark);
    if (model().input())
      if (const std::string mismatch = run_mismatch(trial(), *model().input(), planned);
          !mismatch.empty())
        remarks << QString::fromStdString(mismatch);
  } else if (model().blade_facts()) {
    remarks << tr("No ladder: %1.").arg(model().refusal());
  } else {
    remarks << tr("Put a blade on the rack first.");
  }
  remarks_->setText(remarks.join(QStringLiteral("\n")));
}

void PlanPage::replay_last() {
  const Blade* blade = model().blade_facts();
  if (!blade) return;
  for (auto record = blade->records.rbegin(); record != blade->records.rend(); ++record)
    if (const auto* sharpening = std::get_if<SharpeningRecord>(&record->data)) {
      TakenUp again = take_up(sharpening->sharpening, trial().shelf);
      again.sharpening.run = model().input() ? model().input()->run : std::string();
      model().begin_again(again.sharpening);
      QStringList said;
      for (const auto& sentence : again.said) said << QString::fromStdString(sentence);
      if (!said.isEmpty()) emit workbench().told(said.join(' '));
      return;
    }
}

}  // namespace bq::ui
