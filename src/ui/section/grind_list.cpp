#include "ui/section/grind_list.h"

#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "ui/parts/number_field.h"
#include "ui/section/grind_row.h"
#include "ui/section/profile_dialog.h"

namespace bq::ui {

GrindList::GrindList(Workbench& workbench, SectionModel& model, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(model),
      list_(new QVBoxLayout),
      start_(new QComboBox),
      stock_(new NumberEntry),
      height_(new NumberEntry),
      apex_(new NumberEntry),
      stock_label_(quiet_label(tr("stock thick"))),
      height_label_(quiet_label(tr("blade high"))) {
  const auto set_up = [&](NumberEntry* box, double least, double most, int decimals, double step,
                          const QString& suffix, const QString& name) {
    set_up_number(box, least, most, decimals, step, suffix, name);
    connect(box, &NumberEntry::valueChanged, this, [this] { change_blank(false); });
    connect(box, &NumberEntry::editingFinished, this, [this] { change_blank(true); });
  };
  set_up(stock_, 0.05, 50, 2, 0.1, QStringLiteral(" mm"), tr("Thickness of the stock"));
  set_up(height_, 1, 300, 1, 1, QStringLiteral(" mm"), tr("Height of the blade"));
  set_up(apex_, 0, 5000, 2, 0.5, QStringLiteral(" µm"), tr("Width of the apex"));
  lay_out();
}

void GrindList::lay_out() {
  auto* blank = new QGridLayout;
  blank->setHorizontalSpacing(6);
  blank->setVerticalSpacing(2);
  auto* apex_label = quiet_label(tr("apex wide"));
  start_->setAccessibleName(tr("What the section starts from"));
  start_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  blank->addWidget(quiet_label(tr("start from")), 0, 0);
  blank->addWidget(start_, 1, 0);
  for (int i = 0; i < 4; ++i) blank->setColumnStretch(i, i == 0 ? 5 : 4);
  connect(start_, &QComboBox::activated, this, &GrindList::start_from);
  int column_at = 1;
  for (const auto& [label, box] : {std::pair<QLabel*, QWidget*>(stock_label_, stock_),
                                   {height_label_, height_},
                                   {apex_label, apex_}}) {
    blank->addWidget(label, 0, column_at);
    blank->addWidget(box, 1, column_at++);
  }
  auto* head = new QHBoxLayout;
  head->addWidget(heading(tr("Grinds, in order")));
  head->addStretch();
  auto* add = new QPushButton(tr("Add grind"));
  head->addWidget(add);
  auto* inside = new QWidget;
  auto* column = new QVBoxLayout(inside);
  column->setContentsMargins(0, 0, 4, 0);
  column->setSpacing(0);
  column->addLayout(list_);
  column->addStretch();
  list_->setSpacing(0);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(6);
  layout->addLayout(head);
  layout->addLayout(blank);
  setMinimumHeight(270);
  layout->addWidget(scrolled(inside), 1);
  connect(add, &QPushButton::clicked, this, [this] {
    SectionPlan plan = model_.plan();
    Grind grind;
    if (plan.grinds.empty()) {
      grind.angle_deg = 15;
    } else {  // a micro-bevel a little steeper is what most often comes next
      grind.angle_deg =
          std::min(plan.grinds.back().to_deg.value_or(plan.grinds.back().angle_deg) + 4, 70.0);
      grind.until = UntilFacet{60};
    }
    plan.grinds.push_back(grind);
    model_.set_plan(plan, true);
  });
  connect(&model_, &SectionModel::plan_changed, this, &GrindList::refresh);
  connect(&model_, &SectionModel::blade_changed, this, &GrindList::refresh);
  connect(&model_, &SectionModel::study_changed, this, [this] {
    for (std::size_t i = 0; i < rows_.size(); ++i)
      rows_[i]->show_trouble(model_.refused_grind() == int(i));
  });
  connect(&workbench_, &Workbench::changed, this, &GrindList::refresh_starts);
  connect(&workbench_, &Workbench::display_changed, this, &GrindList::refresh);
  refresh();
}

void GrindList::refresh() {
  const SectionPlan& plan = model_.plan();
  filling_ = true;
  show_value(stock_, plan.stock_mm);
  show_value(height_, plan.height_mm);
  show_value(apex_, plan.apex_um);
  const bool measured = !plan.profile.empty();
  for (QWidget* part : {static_cast<QWidget*>(stock_), static_cast<QWidget*>(height_),
                        static_cast<QWidget*>(stock_label_), static_cast<QWidget*>(height_label_)})
    part->setVisible(!measured);
  while (rows_.size() > plan.grinds.size()) {
    rows_.back()->hide();
    rows_.back()->deleteLater();
    list_->removeWidget(rows_.back());
    rows_.pop_back();
  }
  while (rows_.size() < plan.grinds.size()) {
    auto* row = new GrindRow(int(rows_.size()));
    connect(row, &GrindRow::edited, this, [this](int index, const Grind& grind, bool done) {
      SectionPlan changed = model_.plan();
      if (index >= int(changed.grinds.size())) return;
      changed.grinds[std::size_t(index)] = grind;
      model_.set_plan(changed, done);
    });
    connect(row, &GrindRow::removed, this, [this](int index) {
      // After the click has been dealt with: the row may go.
      QTimer::singleShot(0, this, [this, index] {
        SectionPlan changed = model_.plan();
        if (index >= int(changed.grinds.size())) return;
        changed.grinds.erase(changed.grinds.begin() + index);
        model_.set_plan(changed, true);
      });
    });
    connect(row, &GrindRow::move_wanted, this, &GrindList::move);
    list_->addWidget(row);
    rows_.push_back(row);
  }
  for (std::size_t i = 0; i < rows_.size(); ++i)
    rows_[i]->show_grind(plan.grinds[i], workbench_.display().angles);
  refresh_starts();
  setEnabled(model_.blade() >= 0 && workbench_.writable());
  filling_ = false;
}

void GrindList::refresh_starts() {
  start_->clear();
  start_->addItem(tr("a blank"));
  const auto places = model_.edge().measured_places();
  int current = model_.plan().profile.empty() ? 0 : int(places.size()) + 1;
  for (std::size_t i = 0; i < places.size(); ++i) {
    start_->addItem(tr("measured, %1 mm").arg(places[i].at_mm, 0, 'f', 0));
    if (places[i].profile == model_.plan().profile) current = int(i) + 1;
  }
  start_->addItem(tr("thicknesses…"));
  start_->setCurrentIndex(current);
}

void GrindList::start_from(int index) {
  const auto places = model_.edge().measured_places();
  SectionPlan plan = model_.plan();
  if (index == 0) {
    plan.profile.clear();
  } else if (index <= int(places.size())) {
    plan.profile = places[std::size_t(index - 1)].profile;
    plan.grinds.clear();  // what was measured has been ground already
    plan.apex_um = 0;
  } else {
    auto* dialog = new ProfileDialog(plan.profile, this);
    connect(dialog, &ProfileDialog::kept, this,
            [this](const std::vector<MeasuredThickness>& profile) {
              SectionPlan typed = model_.plan();
              typed.profile = profile;
              typed.grinds.clear();
              typed.apex_um = 0;
              model_.set_plan(typed, true);
            });
    connect(dialog, &QDialog::finished, this, &GrindList::refresh_starts);
    dialog->show();
    return;
  }
  model_.set_plan(plan, true);
}

void GrindList::move(int index, int steps) {
  SectionPlan plan = model_.plan();
  const int to = std::clamp(index + steps, 0, int(plan.grinds.size()) - 1);
  if (to == index) return;
  const Grind grind = plan.grinds[std::size_t(index)];
  plan.grinds.erase(plan.grinds.begin() + index);
  plan.grinds.insert(plan.grinds.begin() + to, grind);
  model_.set_plan(plan, true);
  rows_[std::size_t(to)]->setFocus();
}

void GrindList::change_blank(bool keep) {
  if (filling_) return;
  SectionPlan plan = model_.plan();
  plan.stock_mm = value_of(stock_, plan.stock_mm);
  plan.height_mm = value_of(height_, plan.height_mm);
  plan.apex_um = value_of(apex_, plan.apex_um);
  model_.set_plan(plan, keep);
}

}  // namespace bq::ui
