#include "ui/frame/damaged_dialog.h"

#include <QComboBox>
#include <QDate>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "store/project_copies.h"

namespace bq::ui {
namespace {

QLabel* paragraph(const QString& text) {
  auto* label = new QLabel(text);
  label->setTextFormat(Qt::PlainText);
  label->setWordWrap(true);
  label->setTextInteractionFlags(Qt::TextSelectableByMouse);
  return label;
}

QPushButton* way(const QString& text, QDialog* of) {
  auto* button = new QPushButton(text);
  button->setAutoDefault(false);
  QObject::connect(button, &QPushButton::clicked, of, &QDialog::accept);
  return button;
}

}  // namespace

DamagedDialog::DamagedDialog(const QString& project, const QString& sentence, QWidget* parent)
    : QDialog(parent), copies_(new QComboBox) {
  lay_out(project, sentence);
}

void DamagedDialog::lay_out(const QString& project, const QString& sentence) {
  setWindowTitle(tr("A damaged project"));
  setAttribute(Qt::WA_DeleteOnClose);
  for (const auto& copy : copies_of(project.toStdString())) {
    const QString path = QString::fromStdString(copy.string());
    const QDate day = QDate::fromString(QFileInfo(path).completeBaseName(), Qt::ISODate);
    if (day.isValid()) copies_->addItem(day.toString(QStringLiteral("d MMMM yyyy")), path);
  }
  copies_->setAccessibleName(tr("Copy of the day"));
  auto* salvage = way(tr("Take out what can be read …"), this);
  connect(salvage, &QPushButton::clicked, this, &DamagedDialog::salvage_wanted);
  auto* go_back = way(tr("Go back to this copy"), this);
  connect(go_back, &QPushButton::clicked, this,
          [this] { emit copy_wanted(copies_->currentData().toString()); });
  auto* leave = new QPushButton(tr("Leave it as it is"));
  leave->setAutoDefault(false);
  connect(leave, &QPushButton::clicked, this, &QDialog::reject);
  salvage->setObjectName(QStringLiteral("primary"));

  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(24, 20, 24, 18);
  layout->setSpacing(10);
  layout->addWidget(paragraph(sentence));
  layout->addSpacing(6);
  layout->addWidget(paragraph(
      tr("Take out what can be read: a new project is made from everything that is whole, "
         "often all of it; what is lost is named. The damaged file stays untouched.")));
  layout->addWidget(salvage, 0, Qt::AlignLeft);
  if (copies_->count() > 0) {
    layout->addSpacing(6);
    layout->addWidget(
        paragraph(tr("Or go back to a copy from the morning of a day of work. What was kept after "
                     "it is only in the damaged file, which is set aside beside the project.")));
    auto* row = new QHBoxLayout;
    row->addWidget(copies_);
    row->addWidget(go_back);
    row->addStretch();
    layout->addLayout(row);
  } else {
    go_back->deleteLater();
    copies_->deleteLater();
  }
  layout->addSpacing(6);
  layout->addWidget(leave, 0, Qt::AlignRight);
  resize(560, sizeHint().height());
  leave->setFocus();
}

}  // namespace bq::ui
