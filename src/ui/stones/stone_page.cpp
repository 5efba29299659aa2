#include "ui/stones/stone_page.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDate>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

#include "quantity/number.h"
#include "ui/parts/number_field.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {

QGridLayout* grid_in(QWidget* form) {
  auto* grid = new QGridLayout(form);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(8);
  grid->setVerticalSpacing(2);
  grid->setColumnStretch(0, 1);
  grid->setColumnStretch(1, 1);
  return grid;
}

}  // namespace

StonePage::StonePage(Workbench& workbench, StonesModel& model, QWidget* parent)
    : StonesPage(workbench, model, tr("A stone of the shelf"), parent),
      choice_(new QComboBox),
      kind_(new QComboBox),
      label_(new QLineEdit),
      pressure_(new QLineEdit),
      mess_(new QLineEdit),
      note_(new QLineEdit),
      new_name_(new QLineEdit),
      size_(new NumberEntry),
      rate_(new NumberEntry),
      length_(new NumberEntry),
      limit_(new NumberEntry),
      soak_(new NumberEntry),
      price_(new NumberEntry),
      usable_(new NumberEntry),
      wear_(new NumberEntry),
      substrate_(new NumberEntry),
      modulus_(new NumberEntry),
      deviation_(new NumberEntry),
      over_(new NumberEntry),
      check_every_(new NumberEntry),
      since_(new NumberEntry),
      break_in_(new NumberEntry),
      upkeep_(new NumberEntry),
      loaded_(new QCheckBox(tr("loaded"))),
      streaks_(new QCheckBox(tr("streaks"))),
      blackened_(new QCheckBox(tr("compound black"))),
      retired_(new QCheckBox(tr("retired"))),
      flattened_(new QCheckBox(tr("flattened now"))),
      state_(new QLabel),
      log_(quiet_label({})),
      shelf_(quiet_label({})),
      add_(new QPushButton(tr("Add"))),
      remove_(new QPushButton(tr("Take off the shelf"))),
      look_(new QPushButton(tr("Log this look"))),
      form_(new QWidget),
      flat_form_(new QWidget),
      strop_form_(new QWidget) {
  const auto number = [&](NumberEntry* box, double most, int decimals, const QString& suffix,
                          const QString& name, bool kept = true) {
    set_up_number(box, 0, most, decimals, 1, suffix, name);
    if (kept) connect(box, &NumberEntry::editingFinished, this, &StonePage::take);
  };
  number(size_, 5000, 2, tr(" µm"), tr("Measured particle size"));
  number(rate_, 1e5, 2, tr(" mm³/min"), tr("Rate"));
  number(length_, 5000, 0, tr(" mm"), tr("Length"));
  number(limit_, 5000, 0, tr(" µm"), tr("Flatten above"));
  number(soak_, 1440, 0, tr(" min"), tr("Soaking"));
  number(price_, 1e6, 2, {}, tr("Price of a new one"));
  number(usable_, 1e6, 2, tr(" mm"), tr("Height that can be worn away"));
  number(wear_, 1e6, 1, tr(" µm a blade"), tr("Wear per blade"));
  number(substrate_, 1e6, 1, tr(" mm"), tr("Thickness of the strop's substrate"));
  number(modulus_, 1e6, 0, tr(" MPa"), tr("Modulus of the strop's substrate"));
  number(deviation_, 5000, 0, tr(" µm"), tr("Hollow found by the straight edge"), false);
  number(over_, 5000, 0, tr(" mm"), tr("Span of the straight edge"), false);
  length_->setRange(5, 5000);
  limit_->setRange(1, 5000);
  size_->set_particle_size();
  for (NumberEntry* box : {size_, rate_, price_, usable_, wear_, substrate_, modulus_})
    box->setSpecialValueText(tr("not known"));
  const auto count = [&](NumberEntry* box, const QString& prefix, const QString& suffix,
                         const QString& name) {
    box->set_whole();
    box->setRange(0, 100000);
    box->setPrefix(prefix);
    box->setSuffix(suffix);
    box->setAccessibleName(name);
    box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    connect(box, &NumberEntry::editingFinished, this, &StonePage::take);
  };
  count(check_every_, tr("every "), tr(" blades"), tr("Check the face every so many blades"));
  count(since_, {}, tr(" blades since"), tr("Blades since the last look"));
  count(break_in_, {}, tr(" blades"), tr("Blades still to break it in"));
  count(upkeep_, {}, tr(" blades since"), tr("Blades since the strop's upkeep"));
  for (int i = 0; i < kAbrasiveKinds; ++i)
    kind_->addItem(QString::fromUtf8(name_of(AbrasiveKind(i)).data()), i);
  kind_->setAccessibleName(tr("Kind of abrasive"));
  connect(kind_, &QComboBox::activated, this, &StonePage::take);
  for (std::size_t i = 0; i < 3; ++i) {
    bites_[i] = new QComboBox;
    for (const Bite bite : {Bite::well, Bite::slowly, Bite::hardly})
      bites_[i]->addItem(QString::fromUtf8(name_of(bite).data()), int(bite));
    bites_[i]->setAccessibleName(
        tr("How it cuts steel that is %1").arg(QString::fromUtf8(name_of(CuttingClass(i)).data())));
    bites_[i]->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    connect(bites_[i], &QComboBox::activated, this, &StonePage::take);
  }
  label_->setPlaceholderText(tr("P400, JIS 1000"));
  label_->setAccessibleName(tr("Label"));
  pressure_->setPlaceholderText(tr("1 kg, by hand …"));
  pressure_->setAccessibleName(tr("Pressure the rate holds for"));
  mess_->setAccessibleName(tr("Mess"));
  mess_->setPlaceholderText(tr("mess: slurry, dust …"));
  note_->setPlaceholderText(tr("note"));
  note_->setAccessibleName(tr("Note"));
  new_name_->setPlaceholderText(tr("name of a new one"));
  new_name_->setAccessibleName(tr("Name of a new abrasive"));
  for (QLineEdit* edit : {label_, pressure_, mess_, note_})
    connect(edit, &QLineEdit::editingFinished, this, &StonePage::take);
  for (QCheckBox* box : {loaded_, streaks_, blackened_, retired_})
    connect(box, &QCheckBox::toggled, this, &StonePage::take);
  state_->setWordWrap(true);
  choice_->setAccessibleName(tr("Abrasive"));
  choice_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  connect(choice_, &QComboBox::activated, this,
          [this](int index) { choose(choice_->itemData(index).toString()); });

  auto* top = new QHBoxLayout;
  top->addWidget(choice_, 2);
  top->addWidget(new_name_, 2);
  top->addWidget(add_);
  column_->addLayout(top);
  column_->addWidget(state_);
  auto* grid = grid_in(form_);
  add_row(grid, {tr("kind"), kind_}, {tr("grit, as it is labelled"), label_});
  add_row(grid, {tr("particle size, measured"), size_}, {tr("rate"), rate_});
  add_row(grid, {tr("pressure of that rate"), pressure_}, {tr("what it leaves behind"), mess_});
  auto* bites = new QGridLayout;
  bites->setHorizontalSpacing(4);
  bites->setVerticalSpacing(2);
  const QString steels[] = {tr("cuts plain steel"), tr("alloyed"), tr("with hard phase")};
  for (int i = 0; i < 3; ++i) {
    bites->addWidget(quiet_label(steels[i]), 0, i);
    bites->addWidget(bites_[std::size_t(i)], 1, i);
    bites->setColumnStretch(i, 1);
  }
  grid->addLayout(bites, grid->rowCount(), 0, 1, 2);
  add_row(grid, {tr("length"), length_}, {tr("soaked before use"), soak_});
  add_row(grid, {tr("price of a new one"), price_}, {tr("height to be worn away"), usable_});
  add_row(grid, {tr("wears down"), wear_}, {tr("blades until broken in"), break_in_});
  add_row(grid, {{}, loaded_}, {{}, streaks_});
  add_row(grid, {{}, retired_}, {{}, note_});
  column_->addWidget(form_);
  auto* flat = grid_in(flat_form_);
  add_row(flat, {tr("flatten a face hollower than"), limit_},
          {tr("look at the face"), check_every_});
  add_row(flat, {tr("since the last look"), since_}, {});
  add_row(flat, {tr("a look now: hollow by"), deviation_}, {tr("over a span of"), over_});
  add_row(flat, {{}, flattened_}, {{}, look_});
  column_->addWidget(flat_form_);
  auto* strop = grid_in(strop_form_);
  add_row(strop, {tr("what it lies on, thick"), substrate_}, {tr("stiffness of that"), modulus_});
  add_row(strop, {tr("upkeep"), upkeep_}, {{}, blackened_});
  column_->addWidget(strop_form_);
  column_->addWidget(log_);
  column_->addWidget(remove_, 0, Qt::AlignLeft);
  column_->addWidget(heading(tr("The shelf as a whole")));
  column_->addWidget(shelf_);
  column_->addStretch(1);
  connect(look_, &QPushButton::clicked, this, &StonePage::log_look);
  connect(add_, &QPushButton::clicked, this, &StonePage::add_new);
  connect(new_name_, &QLineEdit::returnPressed, this, &StonePage::add_new);
  connect(remove_, &QPushButton::clicked, this, &StonePage::remove);
}

void StonePage::add_row(QGridLayout* grid, const Field& first, const Field& second) {
  const int row = grid->rowCount();
  int column = 0;
  for (const Field& field : {first, second}) {
    if (!field.label.isEmpty()) grid->addWidget(quiet_label(field.label), row, column);
    if (field.widget) grid->addWidget(field.widget, row + 1, column);
    ++column;
  }
}

const Abrasive* StonePage::chosen() const {
  for (const auto& a : trial().shelf)
    if (a.name == name_) return &a;
  return nullptr;
}

void StonePage::choose(const QString& name) {
  name_ = name.toStdString();
  if (isVisible()) reload();
}

void StonePage::reload() {
  if (!chosen()) name_ = trial().shelf.empty() ? std::string() : trial().shelf.front().name;
  filling_ = true;
  choice_->clear();
  for (const auto& a : trial().shelf) {
    const QString name = QString::fromStdString(a.name);
    choice_->addItem(a.retired ? tr("%1 (retired)").arg(name) : name, name);
  }
  choice_->setCurrentIndex(choice_->findData(QString::fromStdString(name_)));
  filling_ = false;
  fill();
  QStringList remarks;
  for (const auto& remark : shelf_remarks(trial().shelf))
    remarks << QString::fromStdString(remark.sentence);
  shelf_->setText(trial().shelf.empty() ? tr("Nothing on it yet: give the first one a name above.")
                  : remarks.isEmpty()   ? tr("No jump too far, nothing twice.")
                                        : remarks.join(QStringLiteral("\n")));
}

void StonePage::fill() {
  const Abrasive* a = chosen();
  for (QWidget* widget : {form_, static_cast<QWidget*>(log_), static_cast<QWidget*>(state_),
                          static_cast<QWidget*>(remove_)})
    widget->setVisible(a);
  flat_form_->setVisible(a && has_flat_face(a->kind));
  strop_form_->setVisible(a && a->kind == AbrasiveKind::strop);
  if (!a) return;
  filling_ = true;
  for (QWidget* widget : {form_, flat_form_, strop_form_, static_cast<QWidget*>(remove_)})
    widget->setEnabled(workbench().writable());
  kind_->setCurrentIndex(int(a->kind));
  const auto line = [](QLineEdit* edit, const std::string& value) {
    if (edit->text().toStdString() != value) edit->setText(QString::fromStdString(value));
  };
  line(label_, a->label);
  line(pressure_, a->rate_pressure);
  line(mess_, a->mess);
  line(note_, a->note);
  show_if_known(size_, a->measured_um);
  show_if_known(rate_, a->rate_mm3_per_min);
  show_if_known(price_, a->price);
  show_if_known(usable_, a->usable_mm);
  show_if_known(wear_, a->wear_um_per_blade);
  show_if_known(substrate_, a->substrate_mm);
  show_if_known(modulus_, a->substrate_MPa);
  show_value(length_, a->length_mm);
  show_value(limit_, a->flat_within_um);
  show_value(soak_, a->soak_min);
  check_every_->setValue(a->check_every_blades);
  since_->setValue(a->blades_since_check);
  break_in_->setValue(a->break_in_blades);
  upkeep_->setValue(a->blades_since_upkeep);
  for (std::size_t i = 0; i < 3; ++i) bites_[i]->setCurrentIndex(int(a->bites[i]));
  loaded_->setChecked(a->loaded);
  streaks_->setChecked(a->streaks);
  blackened_->setChecked(a->blackened);
  retired_->setChecked(a->retired);
  if (over_->value() <= 0) over_->setValue(a->length_mm);
  filling_ = false;
  QStringList state{QString::fromStdString(print_size(*a))};
  const FaceState face = face_state(*a);
  if (!face.sentence.empty()) state << QString::fromStdString(face.sentence);
  if (const auto rate = rate_on(*a, model().cutting_class()))
    state << tr("%1 mm³/min on this blade's steel%2")
                 .arg(QString::fromStdString(print_number(rate->mm3_per_min, 3)),
                      rate->estimated ? tr(" (estimate)") : QString());
  if (const auto price = wear_price_per_blade(*a))
    state << tr("its wear costs %1 a blade").arg(*price, 0, 'f', 2);
  state_->setText(state.join(QStringLiteral("; ")) + QStringLiteral("."));
  QStringList log;
  for (auto entry = a->flatness.rbegin(); entry != a->flatness.rend() && log.size() < 6; ++entry)
    log << tr("%1: %2 µm hollow%3")
               .arg(text_of(entry->date.substr(0, 10)),
                    QString::number(entry->deviation_um, 'f', 0),
                    entry->flattened ? tr(", then flattened") : QString());
  log_->setText(log.isEmpty() ? QString()
                              : tr("Looks at its face: ") + log.join(QStringLiteral("; ")));
  log_->setVisible(!log.isEmpty());
}

void StonePage::keep(const Abrasive& abrasive) {
  if (!workbench().edit([&](ProjectSession& session) { session.set_abrasive(abrasive); })) fill();
}

void StonePage::take() {
  const Abrasive* before = chosen();
  if (filling_ || !before) return;
  Abrasive a = *before;
  a.kind = AbrasiveKind(kind_->currentData().toInt());
  a.label = label_->text().trimmed().toStdString();
  a.rate_pressure = pressure_->text().trimmed().toStdString();
  a.mess = mess_->text().trimmed().toStdString();
  a.note = note_->text().trimmed().toStdString();
  a.measured_um = if_known(size_, a.measured_um);
  a.rate_mm3_per_min = if_known(rate_, a.rate_mm3_per_min);
  a.price = if_known(price_, a.price);
  a.usable_mm = if_known(usable_, a.usable_mm);
  a.wear_um_per_blade = if_known(wear_, a.wear_um_per_blade);
  a.substrate_mm = if_known(substrate_, a.substrate_mm);
  a.substrate_MPa = if_known(modulus_, a.substrate_MPa);
  a.length_mm = value_of(length_, a.length_mm);
  a.flat_within_um = value_of(limit_, a.flat_within_um);
  a.soak_min = value_of(soak_, a.soak_min);
  a.check_every_blades = std::max(1, check_every_->whole());
  a.blades_since_check = since_->whole();
  a.break_in_blades = break_in_->whole();
  a.blades_since_upkeep = upkeep_->whole();
  for (std::size_t i = 0; i < 3; ++i) a.bites[i] = Bite(bites_[i]->currentData().toInt());
  a.loaded = loaded_->isChecked();
  a.streaks = streaks_->isChecked();
  a.blackened = blackened_->isChecked();
  a.retired = retired_->isChecked();
  if (!(a == *before)) keep(a);
}

void StonePage::log_look() {
  const Abrasive* before = chosen();
  if (!before) return;
  Abrasive a = *before;
  a.flatness.push_back({QDate::currentDate().toString(Qt::ISODate).toStdString(),
                        deviation_->value(), over_->value(), flattened_->isChecked(), ""});
  a.blades_since_check = 0;
  keep(a);
  flattened_->setChecked(false);
}

void StonePage::add_new() {
  Abrasive a;
  a.name = new_name_->text().trimmed().toStdString();
  for (const auto& other : trial().shelf)
    if (other.name == a.name) {
      new_name_->clear();
      return choose(QString::fromStdString(a.name));
    }
  if (!workbench().edit([&](ProjectSession& session) { session.set_abrasive(a); })) return;
  new_name_->clear();
  choose(QString::fromStdString(a.name));
}

void StonePage::remove() {
  if (const Abrasive* a = chosen()) {
    const std::string name = a->name;
    workbench().edit([&](ProjectSession& session) { session.remove_abrasive(name); });
  }
}

void StonePage::hideEvent(QHideEvent* event) {
  take();  // what was typed and not yet left
  StonesPage::hideEvent(event);
}

}  // namespace bq::ui
