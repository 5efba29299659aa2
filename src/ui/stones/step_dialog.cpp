#include "ui/stones/step_dialog.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QLineEdit>
#include <QSpinBox>
#include <QVBoxLayout>

#include "ui/theme/theme.h"

namespace bq::ui {

StepDialog::StepDialog(Workbench& workbench, StonesModel& model, QWidget* parent)
    : QDialog(parent), workbench_(workbench), work_(new QComboBox), abrasive_(new QComboBox), side_(new QComboBox), left_(new QDoubleSpinBox), right_(new QDoubleSpinBox),
      from_(new QDoubleSpinBox), to_(new QDoubleSpinBox), passes_(new QSpinBox), pressure_(new QLineEdit), substrate_(new QLineEdit), note_(new QLineEdit) {
  setWindowTitle(tr("Add a step"));
  static const std::pair<StepWork, const char*> kWorks[] = {
      {StepWork::local, QT_TR_NOOP("rework one stretch")},  {StepWork::grind, QT_TR_NOOP("grind the whole edge")}, {StepWork::deburr, QT_TR_NOOP("deburr")},
      {StepWork::micro_bevel, QT_TR_NOOP("renew the micro-bevel")}, {StepWork::strop, QT_TR_NOOP("strop")},       {StepWork::straighten, QT_TR_NOOP("straighten the blade")},
      {StepWork::recurve, QT_TR_NOOP("mend a recurve")}};
  for (const auto& [work, text] : kWorks) work_->addItem(tr(text), int(work));
  abrasive_->addItem(tr("none"), QString());
  for (const auto& a : workbench.trial().shelf)
    if (!a.retired) abrasive_->addItem(QString::fromStdString(a.name + ", " + print_size(a)), QString::fromStdString(a.name));
  side_->addItem(tr("both sides"), int(GrindSide::both));
  side_->addItem(tr("left only"), int(GrindSide::left));
  side_->addItem(tr("right only"), int(GrindSide::right));
  for (QDoubleSpinBox* box : {left_, right_}) {
    box->setRange(0, 79.9);
    box->setDecimals(1);
    box->setSuffix(tr("° per side"));
    box->setSpecialValueText(tr("no angle held"));
  }
  for (QDoubleSpinBox* box : {from_, to_}) {
    box->setRange(0, 2000);
    box->setDecimals(0);
    box->setSuffix(tr(" mm from the heel"));
  }
  if (model.input()) {
    left_->setValue(model.input()->wish.edge.left_deg);
    right_->setValue(model.input()->wish.edge.right_deg);
  }
  to_->setValue(20);
  passes_->setRange(0, 100000);
  passes_->setSpecialValueText(tr("not said"));
  pressure_->setPlaceholderText(tr("light, weight of the hand …"));
  substrate_->setPlaceholderText(tr("bare leather on wood …"));
  auto* form = new QFormLayout;
  form->addRow(tr("What"), work_);
  form->addRow(tr("On"), abrasive_);
  form->addRow(tr("Side"), side_);
  form->addRow(tr("Left angle"), left_);
  form->addRow(tr("Right angle"), right_);
  form->addRow(tr("From"), from_);
  form->addRow(tr("To"), to_);
  form->addRow(tr("Passes"), passes_);
  form->addRow(tr("Pressure"), pressure_);
  form->addRow(tr("Strop"), substrate_);
  form->addRow(tr("Note"), note_);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
  buttons->button(QDialogButtonBox::Ok)->setText(tr("Add before this step"));
  connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  auto* layout = new QVBoxLayout(this);
  layout->addLayout(form);
  layout->addWidget(buttons);
  connect(work_, &QComboBox::currentIndexChanged, this, &StepDialog::show_wanted);
  show_wanted();
}

void StepDialog::show_wanted() {
  const auto work = StepWork(work_->currentData().toInt());
  const bool angled = work != StepWork::straighten && work != StepWork::recurve;
  for (QWidget* widget : {static_cast<QWidget*>(left_), static_cast<QWidget*>(right_), static_cast<QWidget*>(side_)}) widget->setEnabled(angled);
  from_->setEnabled(work == StepWork::local);
  to_->setEnabled(work == StepWork::local);
  substrate_->setEnabled(work == StepWork::strop);
  abrasive_->setEnabled(work != StepWork::straighten);
}

SharpeningStep StepDialog::step() const {
  SharpeningStep out;
  out.work = StepWork(work_->currentData().toInt());
  if (abrasive_->isEnabled()) out.abrasive = abrasive_->currentData().toString().toStdString();
  for (const auto& a : workbench_.trial().shelf)
    if (a.name == out.abrasive) out.size_um = size_um(a);
  if (side_->isEnabled()) {
    out.side = GrindSide(side_->currentData().toInt());
    out.angles = {left_->value(), right_->value()};
  }
  if (from_->isEnabled()) {
    out.from_mm = std::min(from_->value(), to_->value());
    out.to_mm = std::max(from_->value(), to_->value());
  }
  if (passes_->value() > 0) out.passes = passes_->value();
  out.pressure = pressure_->text().trimmed().toStdString();
  if (substrate_->isEnabled()) out.substrate = substrate_->text().trimmed().toStdString();
  out.note = note_->text().trimmed().toStdString();
  return out;
}

}  // namespace bq::ui
