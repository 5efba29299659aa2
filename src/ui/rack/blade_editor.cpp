#include "ui/rack/blade_editor.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include "ui/frame/workbench.h"

namespace bq::ui {

BladeEditor::BladeEditor(Workbench& workbench, std::optional<std::size_t> index, QWidget* parent)
    : QDialog(parent),
      workbench_(workbench),
      index_(index),
      name_(new QLineEdit),
      note_(new QLineEdit),
      steel_(new QComboBox),
      retired_(new QCheckBox(tr("Retired: not offered for new runs"))),
      refusal_(new QLabel) {
  setAttribute(Qt::WA_DeleteOnClose);
  setModal(true);  // what is edited must not change underneath
  setWindowTitle(index ? tr("Edit blade") : tr("Add a blade"));
  setMinimumWidth(440);
  lay_out();
}

void BladeEditor::lay_out() {
  auto* form = new QFormLayout(this);
  form->setContentsMargins(20, 20, 20, 16);
  form->setSpacing(10);
  form->addRow(heading(windowTitle()));
  steel_->setEditable(true);
  for (const auto& steel : steels_of(workbench_.trial()))
    steel_->addItem(QString::fromStdString(steel));
  steel_->setCurrentText({});
  name_->setAccessibleName(tr("Name of the blade"));
  name_->setPlaceholderText(tr("as written on the blade"));
  steel_->setAccessibleName(tr("Steel"));
  note_->setAccessibleName(tr("Note"));
  form->addRow(tr("Name"), name_);
  form->addRow(tr("Steel"), steel_);
  form->addRow(tr("Note"), note_);
  form->addRow(QString(), retired_);
  refusal_->setObjectName(QStringLiteral("refusal"));
  refusal_->setWordWrap(true);
  form->addRow(refusal_);
  refusal_->hide();
  auto* buttons = new QDialogButtonBox;
  auto* good = buttons->addButton(index_ ? tr("Keep changes") : tr("Add blade"),
                                  QDialogButtonBox::AcceptRole);
  good->setObjectName(QStringLiteral("primary"));
  buttons->addButton(tr("Cancel"), QDialogButtonBox::RejectRole);
  form->addRow(buttons);
  connect(buttons, &QDialogButtonBox::accepted, this, &BladeEditor::keep);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  if (index_) {
    const Blade& blade = workbench_.trial().blades[*index_];
    name_->setText(QString::fromStdString(blade.name));
    steel_->setCurrentText(QString::fromStdString(blade.steel));
    note_->setText(QString::fromStdString(blade.note));
    retired_->setChecked(blade.retired);
  }
  name_->setFocus();
}

void BladeEditor::keep() {
  Blade blade;
  blade.name = name_->text().trimmed().toStdString();
  blade.steel = steel_->currentText().trimmed().toStdString();
  blade.note = note_->text().trimmed().toStdString();
  blade.retired = retired_->isChecked();
  const Edited edited = workbench_.edit([&](ProjectSession& session) {
    if (index_)
      session.update_blade(*index_, blade);
    else
      session.add_blade(blade);
  });
  if (edited) return accept();
  refusal_->setText(edited.refusal);
  refusal_->show();
}

}  // namespace bq::ui
