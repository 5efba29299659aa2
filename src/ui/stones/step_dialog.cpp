#include "ui/stones/step_dialog.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "trial/edge_map.h"
#include "ui/parts/number_field.h"
#include "ui/theme/theme.h"

namespace bq::ui {

StepDialog::StepDialog(Workbench& workbench, StonesModel& model, const SharpeningStep* change,
                       QWidget* parent)
    : QDialog(parent),
      workbench_(workbench),
      form_(new QFormLayout),
      start_(change ? *change : SharpeningStep{}),
      work_(new QComboBox),
      abrasive_(new QComboBox),
      side_(new QComboBox),
      left_(new NumberEntry),
      right_(new NumberEntry),
      from_(new NumberEntry),
      to_(new NumberEntry),
      passes_(new NumberEntry),
      pressure_(new QLineEdit),
      substrate_(new QLineEdit),
      note_(new QLineEdit) {
  lay_out(model, change);
  show_wanted();
}

void StepDialog::lay_out(const StonesModel& model, const SharpeningStep* change) {
  setWindowTitle(change ? tr("Change this step") : tr("Add a step"));
  static const std::pair<StepWork, const char*> kWorks[] = {
      {StepWork::local, QT_TR_NOOP("rework one stretch")},
      {StepWork::grind, QT_TR_NOOP("grind the whole edge")},
      {StepWork::deburr, QT_TR_NOOP("deburr")},
      {StepWork::micro_bevel, QT_TR_NOOP("renew the micro-bevel")},
      {StepWork::strop, QT_TR_NOOP("strop")},
      {StepWork::straighten, QT_TR_NOOP("straighten the blade")},
      {StepWork::recurve, QT_TR_NOOP("mend a recurve")}};
  for (const auto& [work, text] : kWorks) work_->addItem(tr(text), int(work));
  abrasive_->addItem(tr("none"), QString());
  for (const auto& a : workbench_.trial().shelf)
    if (!a.retired)
      abrasive_->addItem(QString::fromStdString(a.name + ", " + print_size(a)),
                         QString::fromStdString(a.name));
  side_->addItem(tr("both sides"), int(GrindSide::both));
  side_->addItem(tr("left only"), int(GrindSide::left));
  side_->addItem(tr("right only"), int(GrindSide::right));
  left_->setAccessibleName(tr("Angle on the left, per side"));
  right_->setAccessibleName(tr("Angle on the right, per side"));
  from_->setAccessibleName(tr("Stretch from, from the heel"));
  to_->setAccessibleName(tr("Stretch to, from the heel"));
  for (NumberEntry* box : {left_, right_}) {
    box->setRange(0, 79.9);
    box->setDecimals(1);
    box->setSuffix(tr("° per side"));
    box->set_edge_angle(AngleConvention::per_side);
    box->setSpecialValueText(tr("no angle held"));
  }
  for (NumberEntry* box : {from_, to_}) {
    box->setRange(0, 2000);
    box->setDecimals(0);
    box->setSuffix(tr(" mm from the heel"));
  }
  if (model.input()) {
    left_->setValue(model.input()->wish.edge.left_deg);
    right_->setValue(model.input()->wish.edge.right_deg);
  }
  to_->setValue(20);
  if (!change) propose_place(model);
  passes_->setAccessibleName(tr("Strokes, both sides together"));
  passes_->set_whole();
  passes_->setRange(0, 100000);
  passes_->setSpecialValueText(tr("not said"));
  pressure_->setPlaceholderText(tr("light, weight of the hand …"));
  substrate_->setPlaceholderText(tr("bare leather on wood …"));
  form_->addRow(tr("What"), work_);
  form_->addRow(tr("On"), abrasive_);
  form_->addRow(tr("Side"), side_);
  form_->addRow(tr("Left angle"), left_);
  form_->addRow(tr("Right angle"), right_);
  form_->addRow(tr("From"), from_);
  form_->addRow(tr("To"), to_);
  form_->addRow(tr("Strokes, both sides"), passes_);
  form_->addRow(tr("Pressure"), pressure_);
  form_->addRow(tr("Strop"), substrate_);
  form_->addRow(tr("Note"), note_);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
  buttons->button(QDialogButtonBox::Ok)
      ->setText(change ? tr("Change it") : tr("Add before this step"));
  connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  auto* layout = new QVBoxLayout(this);
  layout->addLayout(form_);
  layout->addWidget(buttons);
  if (change) {
    work_->setCurrentIndex(work_->findData(int(change->work)));
    abrasive_->setCurrentIndex(
        std::max(0, abrasive_->findData(QString::fromStdString(change->abrasive))));
    side_->setCurrentIndex(side_->findData(int(change->side)));
    left_->setValue(change->angles.left_deg);
    right_->setValue(change->angles.right_deg);
    if (change->from_mm) from_->setValue(*change->from_mm);
    if (change->to_mm) to_->setValue(*change->to_mm);
    passes_->setValue(change->passes.value_or(0));
    pressure_->setText(QString::fromStdString(change->pressure));
    substrate_->setText(QString::fromStdString(change->substrate));
    note_->setText(QString::fromStdString(change->note));
  }
  connect(work_, &QComboBox::currentIndexChanged, this, &StepDialog::show_wanted);
}

void StepDialog::propose_place(const StonesModel& model) {
  const Sharpening* hand = model.hand() ? &model.hand()->sharpening : nullptr;
  const auto at = hand ? current_step(*hand) : std::nullopt;
  // The stone in the hand, at the worst place that is known.
  if (at)
    abrasive_->setCurrentIndex(
        std::max(0, abrasive_->findData(QString::fromStdString(hand->steps[*at].abrasive))));
  constexpr double kAnyTolerance_deg = 0.5, kAround_mm = 10;
  if (const Blade* blade = model.blade_facts())
    if (const auto worst = describe_edge(edge_now(*blade), kAnyTolerance_deg).worst_at_mm) {
      from_->setValue(std::max(0.0, *worst - kAround_mm));
      to_->setValue(*worst + kAround_mm);
    }
}

void StepDialog::show_wanted() {
  const auto work = StepWork(work_->currentData().toInt());
  const bool angled = work != StepWork::straighten && work != StepWork::recurve;
  for (QWidget* widget :
       {static_cast<QWidget*>(left_), static_cast<QWidget*>(right_), static_cast<QWidget*>(side_)})
    widget->setEnabled(angled);
  from_->setEnabled(work == StepWork::local);
  to_->setEnabled(work == StepWork::local);
  substrate_->setEnabled(work == StepWork::strop);
  abrasive_->setEnabled(work != StepWork::straighten);
  // Only what this work has is asked.
  for (QWidget* widget :
       {static_cast<QWidget*>(left_), static_cast<QWidget*>(right_), static_cast<QWidget*>(side_),
        static_cast<QWidget*>(from_), static_cast<QWidget*>(to_), static_cast<QWidget*>(substrate_),
        static_cast<QWidget*>(abrasive_)})
    form_->setRowVisible(widget, widget->isEnabled());
  adjustSize();
}

SharpeningStep StepDialog::step() const {
  SharpeningStep out = start_;
  out.work = StepWork(work_->currentData().toInt());
  const std::string abrasive =
      abrasive_->isEnabled() ? abrasive_->currentData().toString().toStdString() : std::string();
  if (abrasive != start_.abrasive) {
    out.abrasive = abrasive;
    out.size_um.reset();
    for (const auto& a : workbench_.trial().shelf)
      if (a.name == out.abrasive) out.size_um = size_um(a);
  }
  out.side = side_->isEnabled() ? GrindSide(side_->currentData().toInt()) : GrindSide::both;
  out.angles = side_->isEnabled() ? BevelAngles{value_of(left_, start_.angles.left_deg),
                                                value_of(right_, start_.angles.right_deg)}
                                  : BevelAngles{};
  out.from_mm.reset();
  out.to_mm.reset();
  if (from_->isEnabled()) {
    out.from_mm = std::min(from_->value(), to_->value());
    out.to_mm = std::max(from_->value(), to_->value());
  }
  out.passes = passes_->value() > 0 ? std::optional(passes_->whole()) : std::nullopt;
  out.pressure = pressure_->text().trimmed().toStdString();
  out.substrate =
      substrate_->isEnabled() ? substrate_->text().trimmed().toStdString() : std::string();
  out.note = note_->text().trimmed().toStdString();
  return out;
}

}  // namespace bq::ui
