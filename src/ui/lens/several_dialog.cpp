#include "ui/lens/several_dialog.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <set>

#include "quantity/number.h"
#include "ui/lens/picture_list.h"
#include "ui/parts/number_field.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {

enum Field { run, blade, cuts, side, place, mark, instrument, magnification, stone, scale };

QStringList texts(const std::set<std::string>& names) {
  QStringList out;
  for (const auto& name : names)
    if (!name.empty()) out << text_of(name);
  return out;
}

}  // namespace

QComboBox* SeveralDialog::choice(const QString& name, const QStringList& items, bool editable) {
  auto* box = new QComboBox;
  box->setEditable(editable);
  box->setInsertPolicy(QComboBox::NoInsert);
  box->addItem(editable ? QString() : tr("none"), QString());
  for (const QString& item : items) box->addItem(item, item);
  box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  box->setAccessibleName(name);
  connect(box, &QComboBox::currentTextChanged, this, &SeveralDialog::show_state);
  return box;
}

SeveralDialog::SeveralDialog(LensModel& model, QWidget* parent)
    : QDialog(parent),
      model_(model),
      list_(new PictureList(model, tr("Pictures"))),
      cuts_(new NumberEntry),
      place_(new NumberEntry),
      mark_(new QLineEdit),
      says_(wrapped_label()),
      keep_(new QPushButton) {
  setWindowTitle(tr("Several pictures"));
  resize(880, 560);
  lay_out();
}

void SeveralDialog::lay_out() {
  const Trial& trial = model_.trial();
  std::set<std::string> runs, blades, stones;
  const OpticsNames optics = optics_names(trial);
  for (const auto& r : trial.runs) runs.insert(r.facts.name);
  for (const auto& b : trial.blades) blades.insert(b.name);
  for (const auto& a : trial.shelf) stones.insert(a.name);
  auto* columns = new QHBoxLayout(this);
  columns->setSpacing(18);
  columns->addWidget(list_, 3);

  auto* right = new QVBoxLayout;
  right->addWidget(quiet_label(tr("Only what is ticked is set.")));
  auto* grid = new QGridLayout;
  grid->setVerticalSpacing(6);
  grid->setColumnStretch(1, 1);
  right->addLayout(grid);
  run_ = choice(tr("run"), texts(runs), false);
  blade_ = choice(tr("blade"), texts(blades), false);
  side_ = choice(tr("side"), {tr("left"), tr("right")}, false);
  side_->setItemText(0, tr("not said"));
  instrument_ = choice(tr("instrument"), texts(optics.instruments), true);
  magnification_ = choice(tr("magnification"), texts(optics.magnifications), true);
  stone_ = choice(tr("sample piece of"), texts(stones), false);
  scale_ = choice(tr("scale"), {}, false);
  scale_->clear();
  scale_->addItem(tr("by magnification"));
  scale_->addItem(tr("as now, their own"));
  cuts_->set_whole();
  set_up_number(cuts_, -1, 1e12, 0, 10, QString(), tr("cuts"));
  cuts_->setSpecialValueText(tr("not said"));
  cuts_->setValue(-1);
  set_up_number(place_, -1, 5000, 1, 1, tr(" mm"), tr("place"));
  place_->setSpecialValueText(tr("not said"));
  place_->setValue(-1);
  mark_->setAccessibleName(tr("reference mark"));
  const std::pair<QString, QWidget*> fields[] = {{tr("run"), run_},
                                                 {tr("blade"), blade_},
                                                 {tr("after cuts"), cuts_},
                                                 {tr("side"), side_},
                                                 {tr("from the heel"), place_},
                                                 {tr("reference mark"), mark_},
                                                 {tr("instrument"), instrument_},
                                                 {tr("magnification"), magnification_},
                                                 {tr("sample piece of"), stone_},
                                                 {tr("scale"), scale_}};
  int row = 0;
  for (const auto& [name, field] : fields) {
    auto* set = new QCheckBox(name);
    connect(set, &QCheckBox::toggled, this, [this, field](bool on) {
      field->setEnabled(on);
      show_state();
    });
    field->setEnabled(false);
    grid->addWidget(set, row, 0);
    grid->addWidget(field, row++, 1);
    ticks_.push_back(set);
  }
  right->addStretch();
  says_->setMinimumHeight(54);
  right->addWidget(says_);
  auto* acts = new QHBoxLayout;
  auto* close = new QPushButton(tr("Close"));
  acts->addStretch();
  acts->addWidget(close);
  acts->addWidget(keep_);
  name_look(keep_, "primary");
  keep_->setDefault(true);
  right->addLayout(acts);
  columns->addLayout(right, 2);
  connect(close, &QPushButton::clicked, this, &QDialog::reject);
  connect(keep_, &QPushButton::clicked, this, &SeveralDialog::keep);
  connect(list_, &PictureList::changed, this, &SeveralDialog::show_state);
  connect(cuts_, &NumberEntry::valueChanged, this, &SeveralDialog::show_state);
  connect(place_, &NumberEntry::valueChanged, this, &SeveralDialog::show_state);
  connect(mark_, &QLineEdit::textChanged, this, &SeveralDialog::show_state);
  show_state();
}

Micrograph SeveralDialog::changed(Micrograph m) const {
  const auto on = [this](Field field) { return ticks_[std::size_t(field)]->isChecked(); };
  const auto picked = [](const QComboBox* box) {
    return (box->isEditable() ? box->currentText().trimmed() : box->currentData().toString())
        .toStdString();
  };
  // Before the magnification changes: what is kept as its own is what it has now.
  if (on(scale)) m.scale = scale_->currentIndex() == 0 ? std::nullopt : scale_of(model_.trial(), m);
  if (on(run)) {
    m.run = picked(run_);
    if (const Run* of = model_.trial().find_run(m.run); of && !m.run.empty()) {
      m.blade = of->facts.blade;
      m.stone.clear();
    }
  }
  if (on(blade)) m.blade = picked(blade_);
  if (on(cuts))
    m.cuts = cuts_->value() < 0 ? std::nullopt : std::optional(std::int64_t(cuts_->value()));
  if (on(side))
    m.side = side_->currentIndex() == 1   ? std::optional(EdgeSide::left)
             : side_->currentIndex() == 2 ? std::optional(EdgeSide::right)
                                          : std::nullopt;
  if (on(place)) m.at_mm = if_known(place_, std::optional<double>());
  if (on(mark)) m.mark = mark_->text().trimmed().toStdString();
  if (on(instrument)) m.instrument = picked(instrument_);
  if (on(magnification)) m.magnification = picked(magnification_);
  if (on(stone)) m.stone = picked(stone_);
  return m;
}

void SeveralDialog::show_state() {
  if (ticks_.empty()) return;
  const auto ids = list_->chosen();
  int pictures = 0, measures = 0, lost = 0;
  for (const auto id : ids)
    if (const Micrograph* m = model_.workbench().session().micrograph(id)) {
      const Micrograph after = changed(*m);
      pictures += after != *m;
      const auto now = scale_of(model_.trial(), *m), then = scale_of(model_.trial(), after);
      if (now && !then) lost += int(m->measures.size());
      if (now && then && now->um_per_px != then->um_per_px) measures += int(m->measures.size());
    }
  QString says = ids.empty() ? tr("Choose pictures at the left (Ctrl or Shift for several).")
                             : tr("%1 chosen, %2 of them change.").arg(ids.size()).arg(pictures);
  if (measures > 0) says += ' ' + tr("%1 measures change their value.").arg(measures);
  if (lost > 0) says += ' ' + tr("%1 measures lose their scale and stand in pixels.").arg(lost);
  says_->setText(says);
  keep_->setText(pictures == 0   ? tr("Set")
                 : pictures == 1 ? tr("Set for 1 picture")
                                 : tr("Set for %1 pictures").arg(pictures));
  keep_->setEnabled(pictures > 0 && model_.workbench().writable());
}

void SeveralDialog::keep() {
  std::vector<Micrograph> after;
  for (const auto id : list_->chosen())
    if (const Micrograph* m = model_.workbench().session().micrograph(id))
      if (Micrograph value = changed(*m); value != *m) after.push_back(std::move(value));
  const std::string what = "what " + std::to_string(after.size()) + " pictures show";
  const bool good = model_.workbench().edit([&](ProjectSession& s) {
    s.as_one(what, [&] {
      for (const auto& m : after) s.set_micrograph(m, what);
    });
  });
  if (!good) return;
  emit model_.workbench().told(
      tr("Set for %1 pictures. One undo takes it back.").arg(after.size()));
  list_->fill();
}

}  // namespace bq::ui
