#include "ui/lens/lens_panels.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>
#include <set>

#include "quantity/number.h"
#include "ui/lens/picture_choice.h"
#include "ui/lens/several_dialog.h"
#include "ui/parts/number_field.h"
#include "ui/parts/words.h"

namespace bq::ui {
namespace {

/// Fills a box without saying that something was chosen.
void fill(QComboBox* box, const QStringList& items, const QString& now, const QString& none) {
  const QSignalBlocker quiet(box);
  box->clear();
  box->addItem(none, QString());
  for (const QString& item : items) box->addItem(item, item);
  if (!now.isEmpty() && box->findData(now) < 0) box->addItem(now, now);
  box->setCurrentIndex(std::max(0, box->findData(now)));
}

}  // namespace

QVBoxLayout* panel_column(QWidget* panel) {
  auto* layout = new QVBoxLayout(panel);
  layout->setContentsMargins(0, 6, 0, 0);
  layout->setSpacing(8);
  return layout;
}

PlacePanel::PlacePanel(LensModel& model, QWidget* parent)
    : QWidget(parent),
      model_(model),
      file_(wrapped_label()),
      checked_(quiet_label({})),
      blade_(new QComboBox),
      run_(new QComboBox),
      side_(new QComboBox),
      magnification_(new QComboBox),
      stone_(new QComboBox),
      cuts_(new NumberEntry),
      place_(new NumberEntry),
      mark_(new QLineEdit),
      note_(new QLineEdit),
      instrument_(new QComboBox),
      several_(new QPushButton(tr("Several pictures …"))),
      take_out_(new QPushButton(tr("Take this picture out"))) {
  lay_out();
  listen_to_choices();
  listen_to_entries();
  listen_to_optics();
  connect(take_out_, &QPushButton::clicked, &model_, &LensModel::take_out);
  connect(&model_, &LensModel::changed, this, &PlacePanel::show_state);
  connect(&model_, &LensModel::picture_changed, this, &PlacePanel::show_state);
  show_state();
}

void PlacePanel::lay_out() {
  auto* layout = panel_column(this);
  layout->addWidget(file_);
  auto* grid = new QGridLayout;
  grid->setVerticalSpacing(6);
  int row = 0;
  const auto add = [&](const QString& name, QWidget* field) {
    auto* label = new QLabel(name);
    label->setBuddy(field);
    grid->addWidget(label, row, 0);
    grid->addWidget(field, row++, 1);
    if (auto* box = qobject_cast<QComboBox*>(field))
      box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    field->setAccessibleName(name);
  };
  cuts_->set_whole();
  set_up_number(cuts_, -1, 1e12, 0, 10, QString(), tr("cuts"));
  cuts_->setSpecialValueText(tr("not said"));
  set_up_number(place_, -1, 5000, 1, 1, tr(" mm"), tr("place"));
  place_->setSpecialValueText(tr("not said"));
  magnification_->setEditable(true);
  magnification_->setInsertPolicy(QComboBox::NoInsert);
  mark_->setPlaceholderText(tr("scribed cross 2"));
  add(tr("run"), run_);
  add(tr("blade"), blade_);
  add(tr("after cuts"), cuts_);
  add(tr("side"), side_);
  add(tr("from the heel"), place_);
  add(tr("reference mark"), mark_);
  instrument_->setEditable(true);
  instrument_->setInsertPolicy(QComboBox::NoInsert);
  instrument_->lineEdit()->setPlaceholderText(tr("the only one"));
  add(tr("instrument"), instrument_);
  add(tr("magnification"), magnification_);
  add(tr("or sample piece of"), stone_);
  add(tr("note"), note_);
  grid->setColumnStretch(1, 1);
  layout->addLayout(grid);
  checked_->setMinimumHeight(20);
  layout->addWidget(checked_);
  layout->addStretch();
  layout->addWidget(several_);
  connect(several_, &QPushButton::clicked, this, [this] {
    SeveralDialog dialog(model_, this);
    dialog.exec();
  });
  layout->addWidget(take_out_);
}

void PlacePanel::listen_to_choices() {
  const auto picked = [](const QComboBox* box) {
    return box->currentData().toString().toStdString();
  };
  connect(run_, &QComboBox::activated, this, [this, picked] {
    model_.set_facts(
        [&](Micrograph& m) {
          m.run = picked(run_);
          const Run* run = model_.trial().find_run(m.run);
          if (run && !m.run.empty()) {
            m.blade = run->facts.blade;
            m.cuts = run->cuts_done;
            m.stone.clear();
          }
        },
        tr("the run of a picture"));
  });
  connect(blade_, &QComboBox::activated, this, [this, picked] {
    model_.set_facts([&](Micrograph& m) { m.blade = picked(blade_); },
                     tr("the blade of a picture"));
  });
  connect(side_, &QComboBox::activated, this, [this](int at) {
    model_.set_facts(
        [&](Micrograph& m) {
          m.side = at == 1   ? std::optional(EdgeSide::left)
                   : at == 2 ? std::optional(EdgeSide::right)
                             : std::nullopt;
        },
        tr("the side of a picture"));
  });
  connect(stone_, &QComboBox::activated, this, [this, picked] {
    model_.set_facts([&](Micrograph& m) { m.stone = picked(stone_); },
                     tr("the stone of a picture"));
  });
}

void PlacePanel::listen_to_entries() {
  connect(cuts_, &NumberEntry::editingFinished, this, [this] {
    if (!showing_)
      model_.set_facts(
          [&](Micrograph& m) {
            m.cuts =
                cuts_->value() < 0 ? std::nullopt : std::optional(std::int64_t(cuts_->value()));
          },
          tr("the cuts of a picture"));
  });
  connect(place_, &NumberEntry::editingFinished, this, [this] {
    if (!showing_)
      model_.set_facts([&](Micrograph& m) { m.at_mm = if_known(place_, m.at_mm); },
                       tr("the place of a picture"));
  });
  connect(mark_, &QLineEdit::editingFinished, this, [this] {
    model_.set_facts([&](Micrograph& m) { m.mark = mark_->text().trimmed().toStdString(); },
                     tr("the mark of a picture"));
  });
  connect(note_, &QLineEdit::editingFinished, this, [this] {
    model_.set_facts([&](Micrograph& m) { m.note = note_->text().trimmed().toStdString(); },
                     tr("the note of a picture"));
  });
}

void PlacePanel::listen_to_optics() {
  const auto magnify = [this] {
    model_.set_facts(
        [&](Micrograph& m) {
          m.magnification = magnification_->currentText().trimmed().toStdString();
        },
        tr("the magnification of a picture"));
  };
  connect(magnification_->lineEdit(), &QLineEdit::editingFinished, this, magnify);
  connect(magnification_, &QComboBox::activated, this, magnify);
  const auto of_instrument = [this] {
    model_.set_facts(
        [&](Micrograph& m) { m.instrument = instrument_->currentText().trimmed().toStdString(); },
        tr("the instrument of a picture"));
  };
  connect(instrument_->lineEdit(), &QLineEdit::editingFinished, this, of_instrument);
  connect(instrument_, &QComboBox::activated, this, of_instrument);
}

void PlacePanel::show_state() {
  const Micrograph* m = model_.current();
  setEnabled(m != nullptr);
  if (!m) {
    file_->setText(tr("No picture."));
    return;
  }
  showing_ = true;
  const QString pixels = tr("%1 × %2 pixels, %3 MB")
                             .arg(m->width)
                             .arg(m->height)
                             .arg(text_of(print_number(double(m->size) / 1e6, 3)));
  file_->setText(
      tr("%1\n%2%3")
          .arg(text_of(m->name), pixels,
               m->taken_at.empty()
                   ? QString()
                   : tr("\ntaken %1").arg(text_of(m->taken_at).replace('T', ' ').remove('Z'))));
  checked_->setText(
      tr("in the project as it came, checksum %1…").arg(text_of(m->sha256.substr(0, 12))));
  QStringList runs, blades, magnifications, stones, instruments;
  for (const auto& run : model_.trial().runs) runs << text_of(run.facts.name);
  for (const auto& blade : model_.trial().blades) blades << text_of(blade.name);
  const OpticsNames optics = optics_names(model_.trial());
  for (const auto& name : optics.instruments) instruments << text_of(name);
  for (const auto& name : optics.magnifications) magnifications << text_of(name);
  for (const auto& abrasive : model_.trial().shelf) stones << text_of(abrasive.name);
  fill(run_, runs, text_of(m->run), tr("none"));
  fill(blade_, blades, text_of(m->blade), tr("none"));
  fill(stone_, stones, text_of(m->stone), tr("none: an edge"));
  {
    const QSignalBlocker one(side_), two(magnification_), three(cuts_), four(place_);
    if (side_->count() == 0) side_->addItems({tr("not said"), tr("left"), tr("right")});
    side_->setCurrentIndex(m->side ? (*m->side == EdgeSide::left ? 1 : 2) : 0);
    if (!magnification_->lineEdit()->hasFocus()) {
      magnification_->clear();
      magnification_->addItems(magnifications);
      magnification_->setCurrentText(text_of(m->magnification));
    }
    const QSignalBlocker five(instrument_);
    if (!instrument_->lineEdit()->hasFocus()) {
      instrument_->clear();
      instrument_->addItems(instruments);
      instrument_->setCurrentText(text_of(m->instrument));
    }
    if (!cuts_->hasFocus()) cuts_->setValue(m->cuts ? double(*m->cuts) : -1);
    if (!place_->hasFocus()) place_->setValue(m->at_mm.value_or(-1));
  }
  if (!mark_->hasFocus()) mark_->setText(text_of(m->mark));
  if (!note_->hasFocus()) note_->setText(text_of(m->note));
  showing_ = false;
}

OverlayPanel::OverlayPanel(LensModel& model, QWidget* parent)
    : QWidget(parent),
      model_(model),
      other_(new PictureChoice),
      state_(wrapped_label()),
      receded_(new QPushButton(tr("How far did the edge fall back?  (J)"))),
      fell_back_(wrapped_label()),
      legend_(quiet_label({})),
      marks_(new QPushButton(tr("Show marks in both  (P)"))),
      lay_(new QPushButton(tr("Lay over each other"))) {
  listen();
}

void OverlayPanel::listen() {
  auto* layout = panel_column(this);
  layout->addWidget(quiet_label(tr("This picture with")));
  other_->setAccessibleName(tr("The other picture"));
  other_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  layout->addWidget(other_);
  layout->addWidget(marks_);
  layout->addWidget(lay_);
  layout->addWidget(state_);
  auto* row = new QGridLayout;
  row->setSpacing(4);
  const std::pair<CompareMode, QString> modes[] = {{CompareMode::none, tr("This picture")},
                                                   {CompareMode::wipe, tr("Wipe")},
                                                   {CompareMode::blink, tr("Blink")},
                                                   {CompareMode::difference, tr("Difference")}};
  int i = 0;
  for (const auto& [mode, name] : modes) {
    auto* button = new QPushButton(name);
    button->setCheckable(true);
    connect(button, &QPushButton::clicked, this, [this, which = mode] {
      model_.set_mode(which);
      show_state();
    });
    modes_[mode] = button;
    row->addWidget(button, i / 2, i % 2);
    ++i;
  }
  layout->addLayout(row);
  layout->addWidget(legend_);
  layout->addWidget(receded_);
  layout->addWidget(fell_back_);
  connect(receded_, &QPushButton::clicked, &model_, &LensModel::measure_along);
  layout->addStretch();
  connect(other_, &QComboBox::activated, this, [this] { model_.compare_with(other_->chosen()); });
  connect(marks_, &QPushButton::clicked, this, [this] {
    model_.set_tool(model_.tool() == LensTool::marks ? LensTool::look : LensTool::marks);
  });
  connect(lay_, &QPushButton::clicked, &model_, &LensModel::lay_over);
  connect(&model_, &LensModel::changed, this, &OverlayPanel::show_state);
  connect(&model_, &LensModel::picture_changed, this, &OverlayPanel::show_state);
  show_state();
}

void OverlayPanel::show_state() {
  const Micrograph* m = model_.current();
  setEnabled(m != nullptr);
  if (!m) return;
  {
    // Those of the same place first; the rest may be of it too and not be tied yet.
    const auto& all = model_.trial().micrographs;
    const auto near = pictures_of_place(model_.trial(), *m);
    const std::set<std::size_t> here(near.begin(), near.end());
    std::vector<std::int64_t> ids;
    for (const std::size_t i : near)
      if (all[i].id != m->id) ids.push_back(all[i].id);
    const std::size_t of_place = ids.size();
    for (std::size_t i = 0; i < all.size(); ++i)
      if (!here.contains(i) && all[i].stone.empty() == m->stone.empty()) ids.push_back(all[i].id);
    other_->offer(
        tr("no other picture"), std::move(ids), of_place,
        [this](std::int64_t id) {
          const Micrograph* o = model_.workbench().has_project()
                                    ? model_.workbench().session().micrograph(id)
                                    : nullptr;
          if (!o) return QString();
          return o->cuts ? tr("%1 cuts: %2").arg(QString::number(*o->cuts), text_of(o->name))
                         : text_of(o->name);
        },
        model_.other() ? model_.other()->id : 0);
  }
  const SamePlace* laid = model_.laid();
  marks_->setEnabled(model_.other() != nullptr);
  marks_->setText(laid ? tr("Show the marks anew  (P)") : tr("Show marks in both  (P)"));
  lay_->setVisible(model_.tool() == LensTool::marks);
  lay_->setEnabled(std::min(model_.marks_here().size(), model_.marks_there().size()) >= 2);
  if (!model_.other()) {
    state_->setText(
        tr("Choose a picture of the same place, or click one in the strip with Ctrl held."));
  } else if (!laid) {
    state_->setText(
        tr("Show two or three marks that are in both pictures (crosses, corners of deep "
           "scratches), as far apart as you can."));
  } else {
    QString text =
        tr("Laid over by %1 marks: shifted by %2 and %3 px, turned by %4°, scale %5.")
            .arg(laid->marks.size())
            .arg(text_of(print_fixed(laid->map.dx, 1)), text_of(print_fixed(laid->map.dy, 1)),
                 text_of(print_fixed(laid->map.turn_deg(), 2)),
                 text_of(print_fixed(laid->map.scale(), 4)));
    text += laid->marks.size() > 2
                ? tr(" The marks lie %1 px off on average.")
                      .arg(text_of(print_fixed(laid->residual_px, 2)))
                : tr(" With two marks nothing is left over to check it: look at it.");
    state_->setText(text);
  }
  receded_->setEnabled(laid && model_.other_pixels() && model_.pixels() &&
                       !model_.measuring_along());
  const auto along = model_.along();
  const bool of_these =
      along && along->receded && model_.other() && m->along->recession->since == model_.other()->id;
  fell_back_->setVisible(of_these);
  if (of_these) fell_back_->setText(text_of(words_of(*along).back()));
  for (auto& [mode, button] : modes_) {
    button->setEnabled(laid || mode == CompareMode::none);
    button->setChecked(model_.mode() == mode);
  }
  legend_->setText(
      model_.mode() == CompareMode::wipe ? tr("Drag the handle, or press , and . to move it.")
      : model_.mode() == CompareMode::difference
          ? (model_.difference().isNull() ? tr("Working out the difference …")
                                          : tr("Mid grey: the same. Light: brighter in the other "
                                               "picture; dark: darker there."))
          : QString());
}

}  // namespace bq::ui
