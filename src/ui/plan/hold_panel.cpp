#include "ui/plan/hold_panel.h"

#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "ui/frame/begin_search.h"
#include "ui/parts/number_field.h"
#include "ui/parts/words.h"
#include "workflow/sentences.h"

namespace bq::ui {
namespace {

/// A chance that this much better is worth a longer confirmation.
constexpr double kWorthSaying = 0.03;

/// The first of a factor's levels, or what is held; "" where the plan says nothing of it.
std::string first_of(const TrialPlan& plan, const char* factor) {
  const auto value = plan.value_of(Combination(plan.factors.size(), 0), factor);
  return value ? print_factor_value(*value) : std::string();
}

}  // namespace

HoldPanel::HoldPanel(Workbench& workbench, PlanModel& model, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(model),
      figure_(new QLabel),
      sentence_(new QLabel),
      details_(quiet_label({})),
      begin_(new QPushButton(tr("Begin it on the Bench"))) {
  lay_out();
}

void HoldPanel::lay_out() {
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(8);
  grid->setVerticalSpacing(5);
  grid->setColumnStretch(0, 5);
  grid->setColumnStretch(1, 4);
  int row = 0;
  expected_ = field(grid, row++, tr("slimmest that may hold"));
  wanted_ = field(grid, row++, tr("damaged at most once in"));
  start_ = field(grid, row++, tr("begin with"));
  step_ = field(grid, row++, tr("steeper after damage by"));
  rough_ = field(grid, row++, tr("rough block"));
  confirm_ = field(grid, row++, tr("long block when clean"));
  for (NumberEntry* box : {expected_, start_}) {
    set_up_number(box, 1, 45, 1, 0.5, tr("° per side"), box->accessibleName());
    box->set_edge_angle(AngleConvention::per_side);
  }
  set_up_number(step_, 0.1, 15, 1, 0.5, tr("°"), step_->accessibleName());
  for (NumberEntry* box : {wanted_, rough_, confirm_}) box->set_whole();
  set_up_number(wanted_, 2, 1e6, 0, 50, tr(" cuts"), wanted_->accessibleName());
  set_up_number(rough_, 1, 1e6, 0, 10, tr(" cuts"), rough_->accessibleName());
  set_up_number(confirm_, 0, 1e6, 0, 50, tr(" cuts"), confirm_->accessibleName());
  name_look(begin_, "primary");
  figure_->setFont(font_of(34, true));
  sentence_->setWordWrap(true);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->addLayout(grid);
  column->addWidget(figure_);
  column->addWidget(sentence_);
  column->addWidget(begin_, 0, Qt::AlignLeft);
  column->addWidget(details_);
  for (NumberEntry* box : {start_, step_, rough_, confirm_, wanted_, expected_}) {
    box->setKeyboardTracking(false);
    connect(box, &NumberEntry::valueChanged, this, &HoldPanel::keep);
  }
  connect(begin_, &QPushButton::clicked, this, &HoldPanel::begin);
}

NumberEntry* HoldPanel::field(QGridLayout* grid, int row, const QString& label) {
  auto* box = new NumberEntry;
  box->setAccessibleName(label);
  auto* name = quiet_label(label);
  grid->addWidget(name, row, 0);
  grid->addWidget(box, row, 1);
  return box;
}

QString HoldPanel::sentence() const { return sentence_->text(); }

void HoldPanel::keep() {
  if (filling_ || !model_.plan()) return;
  TrialPlan plan = *model_.plan();
  PlanQuestion q = plan.asked();
  q.hold.start_deg = value_of(start_, q.hold.start_deg);
  q.hold.step_deg = value_of(step_, q.hold.step_deg);
  q.hold.expected_deg = value_of(expected_, q.hold.expected_deg);
  q.hold.rough_cuts = rough_->whole();
  q.hold.confirm_cuts = confirm_->whole();
  q.hold.wanted_cuts = wanted_->whole();
  plan.question = q;
  model_.change(plan, tr("the search of the plan"));
}

void HoldPanel::refill() {
  if (!model_.plan()) return;
  const HoldSearch hold = model_.plan()->asked().hold;
  filling_ = true;
  show_value(start_, hold.start_deg);
  show_value(step_, hold.step_deg);
  show_value(expected_, hold.expected_deg);
  show_value(rough_, double(hold.rough_cuts));
  show_value(confirm_, double(hold.confirm_cuts));
  show_value(wanted_, double(hold.wanted_cuts));
  filling_ = false;
  for (NumberEntry* box : {start_, step_, rough_, confirm_, wanted_, expected_})
    box->setEnabled(workbench_.writable());
  begin_->setEnabled(workbench_.writable());
  const auto chance = hold_chance(hold);
  figure_->setVisible(chance.ok());
  if (!chance) {
    sentence_->setText(tr("Nothing can be said: %1.").arg(text_of(chance.refusal().reason)));
    details_->clear();
    return;
  }
  const AngleConvention angles = workbench_.display().angles;
  figure_->setText(percent(chance->slimmest));
  sentence_->setText(
      tr("chance to find the slimmest edge that is damaged no oftener than once in %1 cuts, in "
         "steps of %2, if that lies near %3. It ends too slim in %4, too steep in %5.")
          .arg(text_of(print_cuts(double(hold.wanted_cuts))),
               text_of(print_angle(hold.step_deg, angles)),
               text_of(print_angle(hold.expected_deg, angles)), percent(chance->too_slim),
               percent(chance->too_steep)));
  QStringList lines;
  lines << tr("Usually %1 blocks, %2 cuts of the roughest use. By formula: each cut by itself, "
              "damage seen when it is there.")
               .arg(text_of(print_number(chance->blocks, 2)),
                    text_of(print_cuts(std::round(chance->cuts))));
  if (const auto best = best_confirmation(hold); best && *best != hold.confirm_cuts) {
    HoldSearch other = hold;
    other.confirm_cuts = *best;
    if (const auto better = hold_chance(other);
        better && better->slimmest > chance->slimmest + kWorthSaying)
      lines << tr("With a long block of %1 cuts: %2.")
                   .arg(text_of(print_cuts(double(*best))), percent(better->slimmest));
  }
  details_->setText(lines.join(QLatin1Char(' ')));
}

void HoldPanel::begin() {
  if (!model_.plan()) return;
  const TrialPlan& plan = *model_.plan();
  const HoldSearch hold = plan.asked().hold;
  DamageSearch made;
  made.name = plan.name;
  made.steel = first_of(plan, "steel");
  made.medium = first_of(plan, "medium");
  for (const auto& blade : plan.blades)
    if (made.blade.empty() && blade.steel == made.steel) made.blade = blade.name;
  made.start_angle_deg = hold.start_deg;
  made.step_deg = hold.step_deg;
  made.rough_cuts = hold.rough_cuts;
  made.confirm_cuts = std::max<std::int64_t>(1, hold.confirm_cuts);
  begin_damage_search(workbench_, std::move(made));
}

}  // namespace bq::ui
