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
      form_([this] { keep(); }, RecordForm<HoldSearch>::Tells::typing),
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
  const QString per_side = tr("° per side");
  auto* expected = line<&HoldSearch::expected_deg>(grid, row++, 1, 0.5, per_side);
  line<&HoldSearch::wanted_cuts>(grid, row++, 0, 50);
  auto* start = line<&HoldSearch::start_deg>(grid, row++, 1, 0.5, per_side);
  line<&HoldSearch::step_deg>(grid, row++, 1, 0.5);
  line<&HoldSearch::rough_cuts>(grid, row++, 0, 10);
  line<&HoldSearch::confirm_cuts>(grid, row++, 0, 50);
  for (NumberEntry* box : {expected, start}) box->set_edge_angle(AngleConvention::per_side);
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
  connect(begin_, &QPushButton::clicked, this, &HoldPanel::begin);
}

template <auto Member>
NumberEntry* HoldPanel::line(QGridLayout* grid, int row, int decimals, double step,
                             const QString& beside) {
  auto* box = form_.number<Member>(decimals, step, beside);
  box->setKeyboardTracking(false);
  grid->addWidget(quiet_label(label_of<Member>()), row, 0);
  grid->addWidget(box, row, 1);
  entries_.push_back(box);
  return box;
}

QString HoldPanel::sentence() const { return sentence_->text(); }

void HoldPanel::keep() {
  if (filling_ || !model_.plan()) return;
  TrialPlan plan = *model_.plan();
  PlanQuestion q = plan.asked();
  q.hold = form_.taken(q.hold);
  plan.question = q;
  model_.change(plan, tr("the search of the plan"));
}

void HoldPanel::refill() {
  if (!model_.plan()) return;
  const HoldSearch hold = model_.plan()->asked().hold;
  filling_ = true;
  form_.show(hold);
  filling_ = false;
  for (NumberEntry* box : entries_) box->setEnabled(workbench_.writable());
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
