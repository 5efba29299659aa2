#include "ui/stones/knock_panel.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "workflow/stones_study.h"

namespace bq::ui {

KnockPanel::KnockPanel(QWidget* parent)
    : QWidget(parent),
      before_(new QComboBox),
      after_(new QComboBox),
      see_(new QPushButton(tr("See both in Lens"))) {
  auto* lines = new QVBoxLayout(this);
  lines->setContentsMargins(0, 0, 0, 0);
  lines->setSpacing(5);
  const auto line = [&](const QString& words, QComboBox* pictures, QPushButton* button) {
    auto* label = new QLabel(words);
    label->setWordWrap(true);
    lines->addWidget(label);
    auto* row = new QHBoxLayout;
    pictures->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    button->setFocusPolicy(Qt::TabFocus);
    row->addWidget(pictures, 1);
    row->addWidget(button);
    lines->addLayout(row);
    connect(pictures, &QComboBox::currentIndexChanged, this, &KnockPanel::allow);
  };
  auto* take = new QPushButton(tr("Take one in Lens"));
  line(tr("1  A picture of the place as it is:"), before_, take);
  line(tr("2  Press the apex on hardwood there and rock it %1 times, no more; the blade fixed, the "
          "hand behind the edge.\n3  The same place again:")
           .arg(kKnocks),
       after_, see_);
  before_->setAccessibleName(tr("Picture before the knock"));
  after_->setAccessibleName(tr("Picture after the knock"));
  connect(take, &QPushButton::clicked, this, &KnockPanel::lens_wanted);
  connect(see_, &QPushButton::clicked, this,
          [this] { emit pictures_wanted(chosen(before_), chosen(after_)); });
}

std::int64_t KnockPanel::chosen(const QComboBox* box) const {
  return box->currentData().toLongLong();
}

void KnockPanel::allow() {
  see_->setEnabled(chosen(before_) > 0 && chosen(after_) > 0 && chosen(before_) != chosen(after_));
}

void KnockPanel::offer(const std::vector<Micrograph>& pictures, const std::string& blade,
                       std::optional<double> at_mm) {
  for (QComboBox* box : {before_, after_}) {
    const QSignalBlocker quiet(box);
    const qlonglong now = chosen(box);
    box->clear();
    box->addItem(tr("no picture yet"), 0);
    for (const auto& picture : pictures) {
      if (picture.blade != blade) continue;
      if (at_mm && (!picture.at_mm || std::abs(*picture.at_mm - *at_mm) > kSamePlace_mm)) continue;
      QString words = tr("picture %1").arg(picture.id);
      if (picture.at_mm) words += tr(", %1 mm").arg(*picture.at_mm, 0, 'f', 0);
      if (picture.cuts) words += tr(", %1 cuts").arg(*picture.cuts);
      if (!picture.magnification.empty())
        words += QStringLiteral(", ") + QString::fromStdString(picture.magnification);
      box->addItem(words, qlonglong(picture.id));
    }
    box->setCurrentIndex(std::max(0, box->findData(now)));
  }
  allow();
}

QString KnockPanel::note() const {
  QString out = tr("knock test, %1 rocks").arg(kKnocks);
  if (see_->isEnabled()) out += tr(", pictures %1 and %2").arg(chosen(before_)).arg(chosen(after_));
  return out;
}

}  // namespace bq::ui
