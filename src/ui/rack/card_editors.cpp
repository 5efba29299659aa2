#include "ui/rack/card_editors.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFile>
#include <QFileDialog>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>

#include "quantity/measure.h"
#include "quantity/number.h"
#include "trial/edge_map.h"
#include "trial/edge_record_fields.h"
#include "ui/frame/workbench.h"
#include "ui/parts/number_entry.h"
#include "ui/parts/record_form.h"
#include "ui/parts/words.h"

namespace bq::ui {
namespace {

/// An empty field is "not known".
Checked<std::optional<double>> number_in(const QLineEdit* edit) {
  const std::string text = edit->text().trimmed().toStdString();
  if (text.empty()) return std::optional<double>();
  const auto number = parse_number(text);
  if (!number)
    return Refusal{edit->accessibleName().toStdString() + ": " + number.refusal().reason};
  return std::optional<double>(*number);
}

void put_in(QLineEdit* edit, std::optional<double> value) {
  if (value) edit->setText(QString::fromStdString(print_number(*value, 6)));
}

/// Words that are kept as files write them, in whatever language they are shown.
void offer(QComboBox* box, std::initializer_list<std::pair<const char*, QString>> words) {
  for (const auto& [word, text] : words) box->addItem(text, QString::fromLatin1(word));
}

}  // namespace

CardDialog::CardDialog(Workbench& workbench, const QString& title, QWidget* parent)
    : QDialog(parent), workbench_(workbench), form_(new QFormLayout(this)), refusal_(new QLabel) {
  setAttribute(Qt::WA_DeleteOnClose);
  setModal(true);
  setWindowTitle(title);
  setMinimumWidth(460);
  form_->setContentsMargins(20, 20, 20, 16);
  form_->setSpacing(10);
  form_->addRow(heading(title));
  refusal_->setObjectName(QStringLiteral("refusal"));
  refusal_->setWordWrap(true);
}

void CardDialog::finish_form() {
  form_->addRow(refusal_);
  refusal_->hide();
  auto* buttons = new QDialogButtonBox;
  buttons->addButton(tr("Keep"), QDialogButtonBox::AcceptRole)
      ->setObjectName(QStringLiteral("primary"));
  buttons->addButton(tr("Cancel"), QDialogButtonBox::RejectRole);
  form_->addRow(buttons);
  connect(buttons, &QDialogButtonBox::accepted, this, [this] { keep(); });
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
}

void CardDialog::finish(const Edited& edited) {
  if (edited)
    accept();
  else
    refuse(edited.refusal);
}

void CardDialog::refuse(const QString& sentence) {
  refusal_->setText(sentence);
  refusal_->show();
}

SteelCardEditor::SteelCardEditor(Workbench& workbench, const QString& steel, QWidget* parent)
    : CardDialog(workbench, tr("Steel card: %1").arg(steel), parent),
      steel_(steel),
      hardness_(
          text_field(label_of<&SteelCard::hardness_hrc>(), range_of<&SteelCard::hardness_hrc>())),
      phase_(text_field(label_of<&SteelCard::hard_phase_percent>(), tr("% by volume"))),
      bend_(text_field(label_of<&SteelCard::bend_strength_MPa>(),
                       tr("MPa; empty: by the toughness class"))),
      note_(text_field(tr("Note"), QString())),
      behaviour_(new QComboBox),
      toughness_(new QComboBox) {
  offer(behaviour_, {{"", tr("not said")},
                     {"ductile", tr("ductile")},
                     {"between", tr("between")},
                     {"brittle", tr("brittle")}});
  behaviour_->setAccessibleName(tr("Behaviour when deburred"));
  offer(toughness_, {{"", tr("not said")},
                     {"tough", tr("tough")},
                     {"middling", tr("middling")},
                     {"brittle", tr("brittle")}});
  toughness_->setAccessibleName(tr("Toughness class"));
  form_->addRow(tr("Hardness, HRC"), hardness_);
  form_->addRow(tr("Hard phase, %"), phase_);
  form_->addRow(tr("When deburred"), behaviour_);
  form_->addRow(tr("Toughness"), toughness_);
  form_->addRow(tr("Bend strength, MPa"), bend_);
  form_->addRow(tr("Note"), note_);
  if (const SteelCard* card = workbench.trial().steel_card(steel.toStdString())) {
    put_in(hardness_, card->hardness_hrc);
    put_in(phase_, card->hard_phase_percent);
    put_in(bend_, card->bend_strength_MPa);
    behaviour_->setCurrentIndex(std::max(0, behaviour_->findData(text_of(card->behaviour))));
    toughness_->setCurrentIndex(std::max(0, toughness_->findData(text_of(card->toughness))));
    note_->setText(QString::fromStdString(card->note));
  }
  finish_form();
}

void SteelCardEditor::keep() {
  SteelCard card;
  card.name = steel_.toStdString();
  for (const auto& [edit, target] :
       {std::pair(hardness_, &card.hardness_hrc), std::pair(phase_, &card.hard_phase_percent),
        std::pair(bend_, &card.bend_strength_MPa)}) {
    const auto value = number_in(edit);
    if (!value) return refuse(QString::fromStdString(value.refusal().reason) + ".");
    *target = *value;
  }
  card.behaviour = behaviour_->currentData().toString().toStdString();
  card.toughness = toughness_->currentData().toString().toStdString();
  card.note = note_->text().trimmed().toStdString();
  finish(workbench_.edit([&](ProjectSession& session) { session.set_steel_card(card); }));
}

MediumCardEditor::MediumCardEditor(Workbench& workbench, const QString& medium, QWidget* parent)
    : CardDialog(workbench, tr("Medium card: %1").arg(medium), parent),
      medium_(medium),
      form_text_(text_field(tr("Form"), tr("thickness, width, how it comes"))),
      note_(text_field(tr("Note"), QString())) {
  form_->addRow(tr("Form"), form_text_);
  form_->addRow(tr("Note"), note_);
  if (const MediumCard* card = workbench.trial().medium_card(medium.toStdString())) {
    form_text_->setText(QString::fromStdString(card->form));
    note_->setText(QString::fromStdString(card->note));
  }
  finish_form();
}

void MediumCardEditor::keep() {
  const MediumCard card{medium_.toStdString(), form_text_->text().trimmed().toStdString(),
                        note_->text().trimmed().toStdString()};
  finish(workbench_.edit([&](ProjectSession& session) { session.set_medium_card(card); }));
}

FindingEditor::FindingEditor(Workbench& workbench, int blade, IntakeCheck check, QWidget* parent)
    : CardDialog(workbench, tr("Intake: %1").arg(shown(check)), parent),
      blade_(blade),
      check_(check),
      result_(new QComboBox),
      at_(text_field(tr("Place"), tr("mm from the heel; empty: everywhere"))),
      size_(text_field(tr("Size"), tr("mm"))),
      note_(text_field(tr("Note"), QString())) {
  form_->addRow(quiet_label(QString::fromUtf8(meaning_of(check).data())));
  result_->addItems({tr("good"), tr("trouble")});
  result_->setAccessibleName(tr("Result of the check"));
  form_->addRow(tr("Found"), result_);
  form_->addRow(tr("Place"), at_);
  form_->addRow(tr("Size"), size_);
  form_->addRow(tr("Note"), note_);
  const auto now =
      edge_now(workbench.trial().blades[std::size_t(blade)]).findings[std::size_t(check)];
  if (now) {
    result_->setCurrentIndex(now->trouble ? 1 : 0);
    put_in(at_, now->at_mm);
    put_in(size_, now->size_mm);
    note_->setText(QString::fromStdString(now->note));
  }
  finish_form();
}

void FindingEditor::keep() {
  FindingRecord record;
  record.check = check_;
  record.trouble = result_->currentIndex() == 1;
  record.note = note_->text().trimmed().toStdString();
  for (const auto& [edit, target] :
       {std::pair(at_, &record.at_mm), std::pair(size_, &record.size_mm)}) {
    const QString text = edit->text().trimmed();
    if (text.isEmpty()) continue;
    const auto length = parse_length(text.toStdString(), Unit::mm);
    if (!length)
      return refuse(edit->accessibleName() + ": " +
                    QString::fromStdString(length.refusal().reason) + ".");
    if (length->mm() < 0) return refuse(edit->accessibleName() + tr(" must not be negative."));
    *target = length->mm();
  }
  finish(workbench_.edit([&](ProjectSession& session) {
    session.add_records(std::size_t(blade_), {record}, "an intake check");
  }));
}

OutlineEditor::OutlineEditor(Workbench& workbench, int blade, QWidget* parent)
    : CardDialog(workbench, tr("Outline of the edge"), parent),
      blade_(blade),
      preset_(new QComboBox),
      length_(new NumberEntry),
      read_(quiet_label(tr("A table has x and y in mm, x from the heel; of a drawing the first "
                           "path is taken, 1 unit as 1 mm."))),
      pasted_(new QPlainTextEdit) {
  for (int i = 0; i < 5; ++i) preset_->addItem(shown(ProfilePreset(i)));
  preset_->setAccessibleName(tr("Shape of the outline"));
  length_->setRange(5, 1000);
  length_->setDecimals(1);
  length_->setSuffix(tr(" mm"));
  length_->setAccessibleName(tr("Length of the edge"));
  const EdgeNow now = edge_now(workbench.trial().blades[std::size_t(blade)]);
  length_->setValue(now.length_mm());
  auto* file = new QPushButton(tr("From a table or drawing…"));
  form_->addRow(tr("Shape"), preset_);
  form_->addRow(tr("Length"), length_);
  form_->addRow(QString(), file);
  pasted_->setPlaceholderText(
      tr("or paste points here, x and y in mm, one to a line; or path data: M 0 0 L 40 0 C …"));
  pasted_->setAccessibleName(tr("Points or path data of the outline"));
  pasted_->setFixedHeight(70);
  pasted_->setTabChangesFocus(true);
  form_->addRow(QString(), pasted_);
  form_->addRow(read_);
  connect(file, &QPushButton::clicked, this, &OutlineEditor::read_file);
  connect(preset_, &QComboBox::activated, this, [this] { from_file_ = {}; });
  finish_form();
}

void OutlineEditor::read_file() {
  const QString path = QFileDialog::getOpenFileName(
      this, tr("Outline"), {}, tr("Tables and drawings (*.csv *.txt *.tsv *.svg)"));
  if (path.isEmpty()) return;
  QFile file(path);
  if (!file.open(QIODevice::ReadOnly))
    return refuse(tr("%1 cannot be read: %2.").arg(path, file.errorString()));
  if (file.size() > 4 << 20) return refuse(tr("%1 is larger than 4 MB.").arg(path));
  const std::string text = file.readAll().toStdString();
  const bool drawing = path.endsWith(QLatin1String(".svg"), Qt::CaseInsensitive);
  const auto points = drawing ? outline_from_svg(text, 1) : outline_from_table(text);
  if (!points)
    return refuse(tr("%1: %2.").arg(path, QString::fromStdString(points.refusal().reason)));
  if (const auto outline = EdgeOutline::through(*points); !outline)
    return refuse(tr("%1: %2.").arg(path, QString::fromStdString(outline.refusal().reason)));
  from_file_ = {drawing ? "drawing" : "table", *points};
  refusal_->hide();
  read_->setText(tr("%1 points were read.").arg(points->size()));
}

void OutlineEditor::keep() {
  OutlineRecord record = from_file_;
  if (const std::string text = pasted_->toPlainText().trimmed().toStdString(); !text.empty()) {
    const bool path = text.front() == 'M' || text.front() == 'm' || text.front() == '<';
    const auto points = path ? outline_from_svg(text, 1) : outline_from_table(text);
    if (!points)
      return refuse(
          tr("The outline was not kept: %1.").arg(QString::fromStdString(points.refusal().reason)));
    if (const auto made = EdgeOutline::through(*points); !made)
      return refuse(
          tr("The outline was not kept: %1.").arg(QString::fromStdString(made.refusal().reason)));
    record = {path ? "drawing" : "points", *points};
  }
  if (record.points.empty()) {
    const auto preset = ProfilePreset(preset_->currentIndex());
    record = {std::string(name_of(preset)), preset_outline(preset, length_->value())};
  }
  finish(workbench_.edit([&](ProjectSession& session) {
    session.add_records(std::size_t(blade_), {record}, "the outline");
  }));
}

}  // namespace bq::ui
