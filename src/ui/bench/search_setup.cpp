#include "ui/bench/search_setup.h"

#include <QComboBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "ui/parts/number_field.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"

namespace bq::ui {

SearchSetup::SearchSetup(QWidget* parent)
    : QWidget(parent),
      blade_(new QComboBox),
      mode_(new QComboBox),
      name_(new QLineEdit),
      use_(new QLineEdit),
      medium_(new QLineEdit),
      start_(new NumberEntry),
      step_(new NumberEntry),
      micro_(new NumberEntry),
      share_(new NumberEntry),
      rough_(new NumberEntry),
      confirm_(new NumberEntry),
      begin_(new QPushButton(tr("Begin the search"))) {
  name_->setPlaceholderText(tr("mat corners with staples"));
  name_->setAccessibleName(tr("Name of the search"));
  blade_->setAccessibleName(tr("Blade"));
  medium_->setAccessibleName(tr("Medium"));
  medium_->setPlaceholderText(tr("what is cut"));
  use_->setAccessibleName(tr("What makes it rough"));
  use_->setPlaceholderText(tr("staples, entry, exit, grain, twist: what the edge must survive"));
  mode_->setAccessibleName(tr("Way of cutting"));
  mode_->addItem(tr("how is it cut?"), -1);
  for (const CutMode mode : {CutMode::push, CutMode::slice, CutMode::chop})
    mode_->addItem(shown(mode), int(mode));
  set_up_number(micro_, 0, 60, 1, 0.5, tr("° per side, renewed each round"), tr("Micro-bevel"));
  micro_->set_edge_angle(AngleConvention::per_side);
  micro_->setSpecialValueText(tr("none"));
  set_up_number(start_, 2, 45, 1, 0.5, tr("° per side"), tr("First angle"));
  start_->set_edge_angle(AngleConvention::per_side);
  set_up_number(step_, 0.5, 15, 1, 0.5, tr("°"), tr("Step"));
  set_up_number(share_, 0.1, 5, 2, 0.1, tr(" × damaged thickness (½ to ¾ as a rule)"), tr("Bevel"));
  for (auto* box : {rough_, confirm_}) box->set_whole();
  set_up_number(rough_, 1, 1e6, 0, 10, tr(" cuts"), tr("Rough block"));
  set_up_number(confirm_, 1, 1e7, 0, 50, tr(" cuts"), tr("Long block"));
  start_->setValue(10);
  lay_out();
}

void SearchSetup::lay_out() {
  step_->setValue(2);
  share_->setValue(0.6);
  rough_->setValue(50);
  confirm_->setValue(300);
  auto* title = new QLabel(tr("How slim can it be and still hold?"));
  title->setFont(font_of(26, true));
  title->setWordWrap(true);
  auto* form = new QFormLayout;
  form->setVerticalSpacing(7);
  form->addRow(tr("name"), name_);
  form->addRow(tr("blade"), blade_);
  form->addRow(tr("medium"), medium_);
  form->addRow(tr("cut by"), mode_);
  form->addRow(tr("what makes it rough"), use_);
  form->addRow(tr("begin with"), start_);
  form->addRow(tr("micro-bevel"), micro_);
  form->addRow(tr("steeper after damage by"), step_);
  form->addRow(tr("new bevel up to"), share_);
  form->addRow(tr("rough block"), rough_);
  form->addRow(tr("long block when clean"), confirm_);
  name_look(begin_, "primary");
  begin_->setMinimumHeight(44);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 6, 0);
  column->setSpacing(10);
  column->addWidget(title);
  column->addWidget(
      quiet_label(tr("Start deliberately slim. Each block visits every awkward place; what breaks "
                     "sizes the next bevel; a clean long block ends it.")));
  column->addLayout(form);
  column->addWidget(begin_);
  column->addStretch();
  connect(begin_, &QPushButton::clicked, this, &SearchSetup::begin_asked);
}

void SearchSetup::show_blades(const Trial& trial) {
  const QString chosen = blade_->currentText();
  blade_->clear();
  for (const auto& one : trial.blades)
    if (!one.retired) blade_->addItem(text_of(one.name));
  if (blade_->findText(chosen) >= 0) blade_->setCurrentText(chosen);
}

void SearchSetup::show_search(const DamageSearch& begun) {
  name_->setText(text_of(begun.name));
  if (blade_->findText(text_of(begun.blade)) >= 0) blade_->setCurrentText(text_of(begun.blade));
  medium_->setText(text_of(begun.medium));
  use_->setText(text_of(begun.roughest_use));
  mode_->setCurrentIndex(begun.cut_mode ? mode_->findData(int(*begun.cut_mode)) : 0);
  start_->setValue(begun.start_angle_deg);
  step_->setValue(begun.step_deg);
  micro_->setValue(begun.micro_deg.value_or(0));
  share_->setValue(begun.bevel_share);
  rough_->setValue(double(begun.rough_cuts));
  confirm_->setValue(double(begun.confirm_cuts));
}

void SearchSetup::set_writable(bool writable) { begin_->setEnabled(writable); }

DamageSearch SearchSetup::asked(const DamageSearch& begun, const Trial& trial,
                                const QString& unnamed) const {
  DamageSearch made = begun;
  const QString name = name_->text().trimmed();
  made.name = (name.isEmpty() ? unnamed : name).toStdString();
  made.blade = blade_->currentText().toStdString();
  if (const Blade* blade = trial.find_blade(made.blade)) made.steel = blade->steel;
  made.medium = medium_->text().trimmed().toStdString();
  made.roughest_use = use_->text().trimmed().toStdString();
  const int mode = mode_->currentData().toInt();
  made.cut_mode = mode < 0 ? std::nullopt : std::optional(CutMode(mode));
  made.start_angle_deg = start_->value();
  made.step_deg = step_->value();
  made.micro_deg = micro_->value() > 0 ? std::optional(micro_->value()) : std::nullopt;
  made.bevel_share = share_->value();
  made.rough_cuts = std::int64_t(rough_->value());
  made.confirm_cuts = std::int64_t(confirm_->value());
  return made;
}

void SearchSetup::go_to_missing() {
  if (medium_->text().trimmed().isEmpty())
    medium_->setFocus();
  else if (mode_->currentData().toInt() < 0)
    mode_->setFocus();
  else
    use_->setFocus();
}

}  // namespace bq::ui
