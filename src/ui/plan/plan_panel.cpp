#include "ui/plan/plan_panel.h"

#include "ui/parts/number_field.h"

namespace bq::ui {

PlanPanel::PlanPanel(Workbench& workbench, PlanModel& model, const QString& title, QWidget* parent)
    : QWidget(parent), column_(scrolled_column(this, title)), workbench_(workbench), model_(model) {
  connect(&model_, &PlanModel::book_changed, this, &PlanPanel::refill);
  connect(&workbench_, &Workbench::display_changed, this, &PlanPanel::refill);
}

void PlanPanel::refill() {
  if (!model_.plan() || !isVisible()) return;
  filling_ = true;
  for (const auto& show : shows_) show(*model_.plan());
  fill(*model_.plan());
  filling_ = false;
}

void PlanPanel::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refill();
}

void PlanPanel::edit(const QString& what, const std::function<void(TrialPlan&)>& change) {
  if (filling_ || !model_.plan()) return;
  TrialPlan plan = *model_.plan();
  change(plan);
  model_.change(plan, what);
}

NumberEntry* PlanPanel::number(QGridLayout* grid, int row, const QString& label, double least,
                               double most, int decimals, double step, const QString& suffix,
                               const std::function<double&(TrialPlan&)>& of, double scale) {
  auto* box = new NumberEntry;
  set_up_number(box, least, most, decimals, step, suffix, label);
  box->setKeyboardTracking(false);
  grid->addWidget(quiet_label(label), row, 0);
  grid->addWidget(box, row, 1);
  shows_.push_back([box, of, scale](const TrialPlan& plan) {
    TrialPlan copy = plan;
    show_value(box, of(copy) * scale);
  });
  connect(box, &NumberEntry::valueChanged, this, [this, box, of, label, scale] {
    edit(label, [&](TrialPlan& plan) { of(plan) = value_of(box, of(plan) * scale) / scale; });
  });
  return box;
}

NumberEntry* PlanPanel::whole(QGridLayout* grid, int row, const QString& label, int least, int most,
                              const QString& suffix,
                              const std::function<int(const TrialPlan&)>& get,
                              const std::function<void(TrialPlan&, int)>& put) {
  auto* box = new NumberEntry;
  box->set_whole();
  box->setRange(least, most);
  box->setSuffix(suffix);
  box->setAccessibleName(label);
  box->setKeyboardTracking(false);
  box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  grid->addWidget(quiet_label(label), row, 0);
  grid->addWidget(box, row, 1);
  shows_.push_back([box, get](const TrialPlan& plan) {
    if (box->value() != get(plan)) box->setValue(get(plan));
  });
  connect(box, &NumberEntry::valueChanged, this, [this, box, put, label] {
    edit(label, [&](TrialPlan& plan) { put(plan, box->whole()); });
  });
  return box;
}

QGridLayout* PlanPanel::two_columns() {
  auto* grid = new QGridLayout;
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(8);
  grid->setVerticalSpacing(5);
  grid->setColumnStretch(0, 5);
  grid->setColumnStretch(1, 4);
  return grid;
}

}  // namespace bq::ui
