#include "ui/frame/settings_dialog.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "ui/frame/aloud.h"
#include "ui/frame/log_file.h"
#include "ui/frame/preferences.h"
#include "ui/frame/remembered.h"
#include "ui/frame/workbench.h"
#include "ui/frame/zoom.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {

QFormLayout* form_under(QWidget* part, const QString& title) {
  auto* column = new QVBoxLayout(part);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  column->addWidget(heading(title));
  auto* form = new QFormLayout;
  form->setHorizontalSpacing(14);
  form->setVerticalSpacing(8);
  column->addLayout(form);
  return form;
}

void add_row(QFormLayout* form, const QString& label, QWidget* field) {
  field->setAccessibleName(label);
  form->addRow(label, field);
}

}  // namespace

SettingsDialog::SettingsDialog(Workbench& workbench, QWidget* parent)
    : QDialog(parent),
      workbench_(workbench),
      theme_(new QComboBox),
      size_(new QComboBox),
      angles_(new QComboBox),
      force_(new QComboBox),
      length_(new QComboBox),
      still_(new QCheckBox(tr("nothing glides"))),
      tones_(new QCheckBox(tr("a tone for what was taken, a low one for what was refused"))),
      voice_(new QCheckBox(tr("read instructions and readings aloud"))),
      no_voice_(quiet_label({})) {
  setWindowTitle(tr("Settings"));
  resize(560, 0);
  auto* column = new QVBoxLayout(this);
  column->setSpacing(16);
  column->addWidget(shown_part());
  column->addWidget(heard_part());
  column->addWidget(quiet_label(
      tr("Kept for this desk in %1. Each project's limit, protocol and instruments are kept in the "
         "project; the copies of the last days lie beside it.")
          .arg(program_settings().fileName())));
  column->addStretch();
  auto* close = new QPushButton(tr("Close"));
  name_look(close, "primary");
  auto* acts = new QHBoxLayout;
  acts->addStretch();
  acts->addWidget(close);
  column->addLayout(acts);
  connect(close, &QPushButton::clicked, this, &QDialog::accept);
  connect(&workbench_, &Workbench::display_changed, this, &SettingsDialog::fill);
  fill();
}

QWidget* SettingsDialog::shown_part() {
  auto* part = new QWidget;
  auto* form = form_under(part, tr("What is shown"));
  theme_->addItem(tr("chalk (light)"), name_of(ThemeName::chalk));
  theme_->addItem(tr("slate (dark)"), name_of(ThemeName::slate));
  theme_->addItem(tr("high contrast"), name_of(ThemeName::contrast));
  for (const int percent : zoom_steps()) size_->addItem(tr("%1 %").arg(percent), percent);
  size_->setToolTip(tr("Ctrl and + or −; Ctrl and 0 for 100 %"));
  angles_->addItems({tr("per side"), tr("inclusive, both sides together")});
  for (const Unit unit : kShownForces) force_->addItem(text_of(sign_of(unit)), int(unit));
  for (const Unit unit : kShownLengths) length_->addItem(text_of(sign_of(unit)), int(unit));
  add_row(form, tr("Theme"), theme_);
  add_row(form, tr("Size"), size_);
  add_row(form, tr("Angles"), angles_);
  add_row(form, tr("Forces"), force_);
  add_row(form, tr("Lengths of readings"), length_);
  form->addRow(tr("Motion"), still_);
  for (auto* box : {theme_, angles_, force_, length_})
    connect(box, &QComboBox::activated, this, &SettingsDialog::take_display);
  connect(size_, &QComboBox::activated, this,
          [this] { emit size_wanted(size_->currentData().toInt()); });
  connect(still_, &QCheckBox::toggled, this, &SettingsDialog::take_preferences);
  return part;
}

QWidget* SettingsDialog::heard_part() {
  auto* part = new QWidget;
  auto* form = form_under(part, tr("What is heard, at the Bench and while sharpening"));
  form->addRow(tones_);
  form->addRow(voice_);
  form->addRow(no_voice_);
  connect(tones_, &QCheckBox::toggled, this, &SettingsDialog::take_preferences);
  connect(voice_, &QCheckBox::toggled, this, &SettingsDialog::take_preferences);
  return part;
}

void SettingsDialog::fill() {
  filling_ = true;
  const Display& display = workbench_.display();
  theme_->setCurrentIndex(theme_->findData(name_of(display.theme)));
  size_->setCurrentIndex(size_->findData(zoom()));
  angles_->setCurrentIndex(int(display.angles == AngleConvention::inclusive));
  force_->setCurrentIndex(force_->findData(int(display.force)));
  length_->setCurrentIndex(length_->findData(int(display.length)));
  still_->setChecked(preferences().still);
  tones_->setChecked(preferences().tones);
  voice_->setChecked(preferences().voice);
  no_voice_->setVisible(!no_voice_->text().isEmpty());
  filling_ = false;
}

void SettingsDialog::take_display() {
  Display display = workbench_.display();
  display.theme = parse_theme(theme_->currentData().toString()).value_or(display.theme);
  display.angles =
      angles_->currentIndex() == 1 ? AngleConvention::inclusive : AngleConvention::per_side;
  display.force = Unit(force_->currentData().toInt());
  display.length = Unit(length_->currentData().toInt());
  workbench_.set_display(display);
}

void SettingsDialog::take_preferences() {
  if (filling_) return;
  QString why;
  if (voice_->isChecked() && !preferences().voice && !can_speak(why)) {
    // Switched on where nothing can speak it would only seem to be.
    no_voice_->setText(why);
    filling_ = true;
    voice_->setChecked(false);
    filling_ = false;
  }
  no_voice_->setVisible(!no_voice_->text().isEmpty());
  set_preferences({tones_->isChecked(), voice_->isChecked(), still_->isChecked()});
}

}  // namespace bq::ui
