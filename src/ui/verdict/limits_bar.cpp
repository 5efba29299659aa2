#include "ui/verdict/limits_bar.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QResizeEvent>
#include <cmath>

#include "quantity/number.h"
#include "ui/parts/layouts.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"
#include "workflow/sentences.h"

namespace bq::ui {
namespace {

constexpr int kMostChipWords_px = 250;

QString range_words(const std::optional<double>& from, const std::optional<double>& to,
                    const QString& unit) {
  const auto figure = [](double value) { return text_of(print_number(value, 3)); };
  if (from && to) return LimitsBar::tr("%1 to %2%3").arg(figure(*from), figure(*to), unit);
  return from ? LimitsBar::tr("from %1%2").arg(figure(*from), unit)
              : LimitsBar::tr("to %1%2").arg(figure(*to), unit);
}

QString list_words(const std::vector<std::string>& names) {
  QStringList words;
  for (const auto& name : names)
    if (!name.empty()) words << text_of(name);
  return words.isEmpty() ? LimitsBar::tr("none") : words.join(QStringLiteral(", "));
}

}  // namespace

std::vector<SetLimit> set_limits(const LimitsFile& wanted) {
  const RecommendLimits& l = wanted.limits;
  std::vector<SetLimit> out;
  const auto tr = [](const char* words) { return LimitsBar::tr(words); };
  if (!l.mix.empty()) {
    double sum = 0;
    for (const auto& part : l.mix) sum += part.share;
    QStringList parts;
    for (const auto& part : l.mix)
      parts << text_of(part.medium) + QLatin1Char(' ') + percent(sum > 0 ? part.share / sum : 0);
    out.push_back({tr("work: %1").arg(parts.join(QStringLiteral(", "))),
                   [](LimitsFile& f) { f.limits.mix.clear(); }});
  } else if (!l.medium.empty()) {
    out.push_back(
        {tr("work: %1").arg(text_of(l.medium)), [](LimitsFile& f) { f.limits.medium.clear(); }});
  }
  if (l.least_life)
    out.push_back({tr("next edge at least %1 cuts").arg(text_of(print_cuts(*l.least_life))),
                   [](LimitsFile& f) { f.limits.least_life.reset(); }});
  if (l.most_force_N)
    out.push_back({tr("blunt cut at most %1 N").arg(text_of(print_number(*l.most_force_N, 3))),
                   [](LimitsFile& f) { f.limits.most_force_N.reset(); }});
  if (l.most_damage_rate)
    out.push_back({tr("free of damage for %1 cuts")
                       .arg(text_of(print_cuts(std::round(1 / *l.most_damage_rate)))),
                   [](LimitsFile& f) { f.limits.most_damage_rate.reset(); }});
  if (l.most_minutes)
    out.push_back({tr("touch-up at most %1 min").arg(text_of(print_number(*l.most_minutes, 2))),
                   [](LimitsFile& f) { f.limits.most_minutes.reset(); }});
  if (l.hold_roughest)
    out.push_back(
        {tr("held the roughest use"), [](LimitsFile& f) { f.limits.hold_roughest = false; }});
  if (l.least_angle_deg || l.largest_angle_deg)
    out.push_back(
        {tr("apex %1").arg(range_words(l.least_angle_deg, l.largest_angle_deg, tr("° per side"))),
         [](LimitsFile& f) {
           f.limits.least_angle_deg.reset();
           f.limits.largest_angle_deg.reset();
         }});
  if (l.finest_finish_um || l.coarsest_finish_um)
    out.push_back(
        {tr("finish %1").arg(range_words(l.finest_finish_um, l.coarsest_finish_um, tr(" µm"))),
         [](LimitsFile& f) {
           f.limits.finest_finish_um.reset();
           f.limits.coarsest_finish_um.reset();
         }});
  if (l.beyond_deg > 0)
    out.push_back({tr("up to %1° beyond what was tested").arg(l.beyond_deg),
                   [](LimitsFile& f) { f.limits.beyond_deg = 0; }});
  if (!l.steels.empty())
    out.push_back({tr("steels: %1").arg(list_words(l.steels)),
                   [](LimitsFile& f) { f.limits.steels.clear(); }});
  if (!wanted.stones.empty())
    out.push_back(
        {tr("stones: %1").arg(list_words(wanted.stones)), [](LimitsFile& f) { f.stones.clear(); }});
  const RecommendWishes usual, &w = wanted.wishes;
  if (w.life != usual.life || w.force != usual.force || w.damage != usual.damage ||
      w.minutes != usual.minutes)
    out.push_back({tr("wishes weighed"), [](LimitsFile& f) { f.wishes = {}; }});
  return out;
}

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
    const QString words =
        QFontMetrics(font()).elidedText(limit.words, Qt::ElideRight, kMostChipWords_px);
    auto* chip = new QPushButton(in_label(words) + QStringLiteral("  ×"));
    chip->setToolTip(tr("%1: press to take it back").arg(limit.words));
    chip->setAccessibleName(tr("Take back: %1").arg(limit.words));
    connect(chip, &QPushButton::clicked, this,
            [this, clear = limit.clear] { emit cleared(clear); });
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
