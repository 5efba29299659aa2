#include "ui/stones/stone_page.h"

#include <QDate>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "quantity/number.h"
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

/// Two entries side by side, each under what it is called; a tick and a button say that themselves.
void add_row(QGridLayout* grid, QWidget* first, QWidget* second) {
  const int row = grid->rowCount();
  int column = 0;
  for (QWidget* entry : {first, second}) {
    if (entry) {
      if (!qobject_cast<QAbstractButton*>(entry))
        grid->addWidget(quiet_label(entry->accessibleName()), row, column);
      entry->setSizePolicy(QSizePolicy::Ignored, entry->sizePolicy().verticalPolicy());
      grid->addWidget(entry, row + 1, column);
    }
    ++column;
  }
}

}  // namespace

StonePage::StonePage(Workbench& workbench, StonesModel& model, QWidget* parent)
    : StonesPage(workbench, model, tr("A stone of the shelf"), parent),
      choice_(new QComboBox),
      new_name_(text_field(tr("Name of a new abrasive"), tr("name of a new one"))),
      fields_([this] { take(); }),
      look_fields_([] {}),
      over_(look_fields_.number<&FlatnessEntry::over_mm>(0)),
      flattened_(look_fields_.flag<&FlatnessEntry::flattened>()),
      state_(new QLabel),
      log_(quiet_label({})),
      shelf_(quiet_label({})),
      add_(new QPushButton(tr("Add"))),
      remove_(new QPushButton(tr("Take off the shelf"))),
      log_look_(new QPushButton(tr("Log this look"))),
      form_(new QWidget),
      flat_form_(new QWidget),
      strop_form_(new QWidget) {
  state_->setWordWrap(true);
  choice_->setAccessibleName(tr("Abrasive"));
  choice_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  auto* top = new QHBoxLayout;
  top->addWidget(choice_, 2);
  top->addWidget(new_name_, 2);
  top->addWidget(add_);
  column_->addLayout(top);
  column_->addWidget(state_);
  lay_out_stone();
  lay_out_face();
  lay_out_strop();
  for (QWidget* part : {form_, flat_form_, strop_form_, static_cast<QWidget*>(log_)})
    column_->addWidget(part);
  column_->addWidget(remove_, 0, Qt::AlignLeft);
  column_->addWidget(heading(tr("The shelf as a whole")));
  column_->addWidget(shelf_);
  column_->addStretch(1);
  listen();
}

void StonePage::listen() {
  connect(choice_, &QComboBox::activated, this,
          [this](int index) { choose(choice_->itemData(index).toString()); });
  connect(log_look_, &QPushButton::clicked, this, &StonePage::log_look);
  connect(add_, &QPushButton::clicked, this, &StonePage::add_new);
  connect(new_name_, &QLineEdit::returnPressed, this, &StonePage::add_new);
  connect(remove_, &QPushButton::clicked, this, &StonePage::remove);
}

void StonePage::lay_out_stone() {
  using A = Abrasive;
  auto* grid = grid_in(form_);
  NumberEntry* size = fields_.number<&A::measured_um>(2);
  size->set_particle_size();
  add_row(grid, fields_.word<&A::kind>(), fields_.text<&A::label>(tr("P400, JIS 1000")));
  add_row(grid, size, fields_.number<&A::rate_mm3_per_min>(2));
  add_row(grid, fields_.text<&A::rate_pressure>(tr("1 kg, by hand …")),
          fields_.text<&A::mess>(tr("slurry, dust …")));
  grid->addLayout(bites(), grid->rowCount(), 0, 1, 2);
  add_row(grid, fields_.number<&A::length_mm>(0), fields_.number<&A::soak_min>(0));
  add_row(grid, fields_.number<&A::price>(2), fields_.number<&A::usable_mm>(2));
  add_row(grid, fields_.number<&A::wear_um_per_blade>(1, 1, tr(" µm a blade")),
          fields_.number<&A::break_in_blades>(0, 1, tr(" blades")));
  add_row(grid, fields_.flag<&A::loaded>(), fields_.flag<&A::streaks>());
  add_row(grid, fields_.text<&A::note>(), fields_.flag<&A::retired>());
}

QGridLayout* StonePage::bites() {
  auto* out = new QGridLayout;
  out->setHorizontalSpacing(4);
  out->setVerticalSpacing(2);
  const QString steels[] = {tr("cuts plain steel"), tr("alloyed"), tr("with hard phase")};
  for (std::size_t i = 0; i < 3; ++i) {
    auto* box = new QComboBox;
    for (const Bite bite : {Bite::well, Bite::slowly, Bite::hardly})
      box->addItem(shown(bite), int(bite));
    box->setAccessibleName(tr("How it cuts steel that is %1").arg(shown(CuttingClass(i))));
    box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    connect(box, &QComboBox::activated, this, &StonePage::take);
    fields_.bind([box, i](const Abrasive& a) { box->setCurrentIndex(int(a.bites[i])); },
                 [box, i](Abrasive& a) { a.bites[i] = Bite(box->currentIndex()); });
    out->addWidget(quiet_label(steels[i]), 0, int(i));
    out->addWidget(box, 1, int(i));
    out->setColumnStretch(int(i), 1);
  }
  return out;
}

void StonePage::lay_out_face() {
  using A = Abrasive;
  auto* grid = grid_in(flat_form_);
  NumberEntry* every = fields_.number<&A::check_every_blades>(0, 1, tr(" blades"));
  every->setPrefix(tr("every "));
  add_row(grid, fields_.number<&A::flat_within_um>(0), every);
  add_row(grid, fields_.number<&A::blades_since_check>(0, 1, tr(" blades since")), nullptr);
  add_row(grid, look_fields_.number<&FlatnessEntry::deviation_um>(0), over_);
  add_row(grid, flattened_, log_look_);
}

void StonePage::lay_out_strop() {
  using A = Abrasive;
  auto* grid = grid_in(strop_form_);
  add_row(grid, fields_.number<&A::substrate_mm>(1), fields_.number<&A::substrate_MPa>(0));
  add_row(grid, fields_.number<&A::blades_since_upkeep>(0, 1, tr(" blades since")),
          fields_.flag<&A::blackened>());
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
  choice_->clear();
  for (const auto& a : trial().shelf) {
    const QString name = QString::fromStdString(a.name);
    choice_->addItem(a.retired ? tr("%1 (retired)").arg(name) : name, name);
  }
  choice_->setCurrentIndex(choice_->findData(QString::fromStdString(name_)));
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
  for (QWidget* widget : {form_, flat_form_, strop_form_, static_cast<QWidget*>(remove_)})
    widget->setEnabled(workbench().writable());
  fields_.show(*a);
  if (over_->value() <= 0) over_->setValue(a->length_mm);
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
  if (!before) return;
  const Abrasive a = fields_.taken(*before);
  if (!(a == *before)) keep(a);
}

void StonePage::log_look() {
  const Abrasive* before = chosen();
  if (!before) return;
  Abrasive a = *before;
  FlatnessEntry look = look_fields_.taken({});
  look.date = QDate::currentDate().toString(Qt::ISODate).toStdString();
  a.flatness.push_back(look);
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
