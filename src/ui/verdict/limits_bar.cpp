#include "ui/verdict/limits_bar.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QResizeEvent>

#include "ui/parts/layouts.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {

constexpr int kMostChipWords_px = 250;

}  // namespace

LimitsBar::LimitsBar(QWidget* parent)
    : QWidget(parent),
      count_(new QLabel),
      room_(new QWidget),
      chips_(new QHBoxLayout(room_)),
      open_(new QPushButton(tr("Limits and wishes"))),
      more_(new QPushButton) {
  open_->setCheckable(true);
  open_->setToolTip(tr("What the edge must do, and what you wish for."));
  more_->hide();
  chips_->setContentsMargins(0, 0, 0, 0);
  chips_->setSpacing(6);
  chips_->setSizeConstraint(QLayout::SetNoConstraint);
  room_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  room_->setFixedHeight(open_->sizeHint().height());
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(10);
  layout->addWidget(open_);
  layout->addWidget(count_);
  layout->addWidget(room_, 1);
  layout->addWidget(more_);
  connect(more_, &QPushButton::clicked, this, [this] {
    if (!open_->isChecked()) open_->click();
  });
}

void LimitsBar::show_limits(const LimitsFile& wanted, const QString& count) {
  count_->setText(count);
  empty(chips_);
  each_.clear();
  for (const auto& limit : set_limits(wanted)) {
    const QString whole = text_of(limit.words);
    const QString words = QFontMetrics(font()).elidedText(whole, Qt::ElideRight, kMostChipWords_px);
    auto* chip = new QPushButton(in_label(words) + QStringLiteral("  ×"));
    chip->setToolTip(tr("%1: press to take it back").arg(whole));
    chip->setAccessibleName(tr("Take back: %1").arg(whole));
    connect(chip, &QPushButton::clicked, this,
            [this, kind = limit.kind] { emit taken_back(kind); });
    chips_->addWidget(chip);
    each_.push_back(chip);
  }
  chips_->addStretch(1);
  fit();
}

void LimitsBar::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  fit();
}

/// As many as there is room for; the rest is a count that leads to the panel.
void LimitsBar::fit() {
  const int most =
      width() - open_->sizeHint().width() - count_->sizeHint().width() - 3 * layout()->spacing();
  const int for_more = QFontMetrics(font()).horizontalAdvance(tr("%1 more").arg(99)) + 40;
  int used = 0, hidden = 0;
  for (std::size_t i = 0; i < each_.size(); ++i) {
    const int next = each_[i]->sizeHint().width() + chips_->spacing();
    const bool last = i + 1 == each_.size();
    const bool fits = hidden == 0 && used + next + (last ? 0 : for_more) <= most;
    each_[i]->setVisible(fits);
    used += fits ? next : 0;
    hidden += !fits;
  }
  more_->setVisible(hidden > 0);
  more_->setText(tr("%1 more").arg(hidden));
}

}  // namespace bq::ui
