#include "ui/bench/look_panel.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "ui/parts/number_field.h"
#include "ui/theme/theme.h"

namespace bq::ui {

LookPanel::LookPanel(bool with_picture, QWidget* parent)
    : QWidget(parent),
      widest_(new NumberEntry),
      place_(new NumberEntry),
      width_(new QCheckBox(tr("width seen from the side"))),
      note_(new QLineEdit),
      picture_(new QLineEdit),
      keep_(new QPushButton(tr("Keep this look  (Enter)"))),
      back_(new QPushButton(tr("Back  (Esc)"))),
      measured_(new QComboBox),
      measured_label_(new QLabel(tr("measured"))),
      meaning_(quiet_label({})) {
  setFocusPolicy(Qt::StrongFocus);
  auto* title = new QLabel(tr("What is on the edge?"));
  title->setFont(font_of(26, true));
  name_look(keep_, "primary");
  keep_->setMinimumHeight(44);
  keep_->setFont(font_of(kHeading, true));
  connect(keep_, &QPushButton::clicked, this, &LookPanel::finish);
  connect(back_, &QPushButton::clicked, this, &LookPanel::left);
  auto* buttons = new QHBoxLayout;
  buttons->addWidget(keep_, 1);
  buttons->addWidget(back_);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(10);
  layout->addWidget(title);
  layout->addLayout(make_kinds());
  layout->addWidget(meaning_);
  layout->addLayout(make_sizes(with_picture));
  layout->addStretch();
  layout->addLayout(buttons);
  offer({});
}

QLayout* LookPanel::make_kinds() {
  auto* row = new QGridLayout;
  row->setSpacing(6);
  const QStringList names{tr("Clean"), tr("Bright spot"), tr("Bent"), tr("Broken out")};
  for (int i = 0; i < names.size(); ++i) {
    auto* kind = new QPushButton(tr("%1  %2").arg(i + 1).arg(names[i]));
    kind->setCheckable(true);
    kind->setAutoExclusive(true);
    kind->setMinimumHeight(48);
    kind->setFont(font_of(kHeading));
    connect(kind, &QPushButton::clicked, this, [this, i] { choose(DamageFound(i)); });
    row->addWidget(kind, i / 2, i % 2);
    kinds_.push_back(kind);
  }
  return row;
}

QLayout* LookPanel::make_sizes(bool with_picture) {
  set_up_number(widest_, 0, 5000, 0, 5, tr(" µm"), tr("Widest affected place"));
  widest_->setSpecialValueText(tr("not measured"));
  set_up_number(place_, -1, 2000, 1, 1, tr(" mm from the heel"), tr("Place along the edge"));
  place_->setSpecialValueText(tr("place not said"));
  place_->setValue(-1);
  width_->setToolTip(
      tr("Otherwise the thickness of the section at the widest damaged place, which sizes the next "
         "bevel."));
  note_->setPlaceholderText(tr("in words (not needed)"));
  note_->setAccessibleName(tr("Note"));
  picture_->setReadOnly(true);
  picture_->setPlaceholderText(tr("no picture"));
  picture_->setAccessibleName(tr("Picture"));
  auto* choose_picture = new QPushButton(tr("Add a picture…"));
  connect(choose_picture, &QPushButton::clicked, this, [this] {
    const QString path =
        QFileDialog::getOpenFileName(this, tr("Picture of the edge"), {},
                                     tr("Pictures (*.png *.jpg *.jpeg *.tif *.tiff *.bmp)"));
    if (!path.isEmpty()) picture_->setText(path);
  });
  auto* sizes = new QGridLayout;
  sizes->addWidget(new QLabel(tr("widest")), 0, 0);
  sizes->addWidget(widest_, 0, 1);
  sizes->addWidget(width_, 0, 2);
  sizes->addWidget(new QLabel(tr("where")), 1, 0);
  sizes->addWidget(place_, 1, 1, 1, 2);
  sizes->addWidget(new QLabel(tr("note")), 2, 0);
  sizes->addWidget(note_, 2, 1, 1, 2);
  auto* picture_label = new QLabel(tr("picture"));
  sizes->addWidget(picture_label, 3, 0);
  sizes->addWidget(picture_, 3, 1);
  sizes->addWidget(choose_picture, 3, 2);
  for (QWidget* part : {static_cast<QWidget*>(picture_label), static_cast<QWidget*>(picture_),
                        static_cast<QWidget*>(choose_picture)})
    if (!with_picture)
      part->hide();  // shown before it has a place, a part would be a window of its own
  measured_->setAccessibleName(tr("Measured in a picture"));
  measured_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  sizes->addWidget(measured_label_, 4, 0);
  sizes->addWidget(measured_, 4, 1, 1, 2);
  sizes->setColumnStretch(1, 1);
  connect(measured_, &QComboBox::activated, this, &LookPanel::take_measured);
  return sizes;
}

void LookPanel::take_measured(int at) {
  picture_row_ = 0;
  if (at < 1) return;
  const LookEvent& look = offers_[std::size_t(at - 1)].look;
  choose(look.found);
  widest_->setValue(look.widest_um.value_or(0));
  width_->setChecked(!look.is_thickness);
  place_->setValue(look.at_mm.value_or(-1));
  note_->setText(QString::fromStdString(look.note));
  picture_row_ = look.picture;
}

void LookPanel::begin(bool damage) {
  widest_->setValue(0);
  place_->setValue(-1);
  width_->setChecked(false);
  note_->clear();
  picture_->clear();
  choose(damage ? DamageFound::bright_spot : DamageFound::clean);
  setFocus();
}

void LookPanel::offer(std::vector<LensOffer> offers) {
  offers_ = std::move(offers);
  measured_->clear();
  measured_->addItem(tr("take over a width from Lens …"));
  for (const auto& one : offers_) measured_->addItem(QString::fromStdString(one.words));
  measured_->setVisible(!offers_.empty());
  measured_label_->setVisible(!offers_.empty());
  picture_row_ = 0;
}

void LookPanel::choose(DamageFound found) {
  found_ = found;
  kinds_[std::size_t(found)]->setChecked(true);
  for (std::size_t i = 0; i < kinds_.size(); ++i)
    name_look(kinds_[i], i == std::size_t(found) ? "chosen" : "");
  switch (found) {
    case DamageFound::clean:
      meaning_->setText(tr("Nothing but even wear."));
      break;
    case DamageFound::bright_spot:
      meaning_->setText(
          tr("A glint under the light where the edge should be dark: blunt or flattened there."));
      break;
    case DamageFound::bent:
      meaning_->setText(tr("The edge leans or is rolled over; the metal is still there."));
      break;
    case DamageFound::broken_out:
      meaning_->setText(tr("A piece is missing."));
      break;
  }
  for (QWidget* field : {static_cast<QWidget*>(widest_), static_cast<QWidget*>(place_),
                         static_cast<QWidget*>(width_)})
    field->setEnabled(found != DamageFound::clean);
}

void LookPanel::finish() {
  LookEvent look;
  look.found = found_;
  if (found_ != DamageFound::clean) {
    if (widest_->value() > 0) look.widest_um = widest_->value();
    if (place_->value() >= 0) look.at_mm = place_->value();
    look.is_thickness = !width_->isChecked();
  }
  look.note = note_->text().trimmed().toStdString();
  look.picture = picture_->text().isEmpty() ? picture_row_ : 0;
  emit decided(look, picture_->text());
}

void LookPanel::keyPressEvent(QKeyEvent* event) {
  if (event->isAutoRepeat()) return;
  if (event->key() >= Qt::Key_1 && event->key() <= Qt::Key_4)
    choose(DamageFound(event->key() - Qt::Key_1));
  else if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter ||
           event->key() == Qt::Key_Space)
    finish();
  else if (event->key() == Qt::Key_Escape)
    emit left();
  else
    QWidget::keyPressEvent(event);
}

}  // namespace bq::ui
