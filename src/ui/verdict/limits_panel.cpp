#include "ui/verdict/limits_panel.h"

#include <QCheckBox>
#include <QGridLayout>
#include <QLabel>
#include <QSlider>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "ui/parts/layouts.h"
#include "ui/parts/number_entry.h"
#include "ui/parts/words.h"
#include "ui/verdict/limit_slider.h"

namespace bq::ui {
namespace {

NumberEntry* bound(const QString& suffix, const QString& name, double most, int decimals) {
  auto* box = new NumberEntry;
  box->setRange(0, most);
  box->setDecimals(decimals);
  box->setSpecialValueText(LimitsPanel::tr("any"));
  box->setSuffix(suffix);
  box->setAccessibleName(name);
  box->setButtonSymbols(NumberEntry::NoButtons);
  box->setFixedWidth(66);
  return box;
}

}  // namespace

LimitsPanel::LimitsPanel(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      count_(quiet_label({})),
      work_box_(new QVBoxLayout),
      steels_box_(new QVBoxLayout),
      stones_box_(new QVBoxLayout),
      life_(new LimitSlider(tr("The next edge lasts at least"), tr("cuts"),
                            LimitSlider::Binds::at_least, 0, true)),
      force_(new LimitSlider(tr("A cut when blunt takes at most"), tr("N"),
                             LimitSlider::Binds::at_most, 1, false)),
      damage_(new LimitSlider(tr("Free of damage for at least"), tr("cuts"),
                              LimitSlider::Binds::at_least, 0, true)),
      minutes_(new LimitSlider(tr("A touch-up takes at most"), tr("min"),
                               LimitSlider::Binds::at_most, 1, false)),
      roughest_(new QCheckBox(tr("Held the roughest use"))),
      least_angle_(bound(QStringLiteral("°"), tr("Least apex angle per side"), 79.9, 1)),
      largest_angle_(bound(QStringLiteral("°"), tr("Largest apex angle per side"), 79.9, 1)),
      finest_(bound(tr(" µm"), tr("Finest finish"), 1000, 2)),
      coarsest_(bound(tr(" µm"), tr("Coarsest finish"), 1000, 2)),
      beyond_(bound(QStringLiteral("°"), tr("Degrees beyond the tested angles"), 20, 1)) {
  lay_out();
  listen();
}

void LimitsPanel::lay_out() {
  auto* inside = new QWidget;
  auto* layout = new QVBoxLayout(inside);
  layout->setContentsMargins(0, 0, 4, 0);
  layout->setSpacing(6);
  work_box_->setSpacing(2);
  layout->addWidget(heading(tr("What the edge must do")));
  layout->addWidget(count_);
  layout->addWidget(new QLabel(tr("Work, share of the cuts")));
  layout->addLayout(work_box_);
  for (QWidget* widget :
       {static_cast<QWidget*>(life_), static_cast<QWidget*>(force_), static_cast<QWidget*>(damage_),
        static_cast<QWidget*>(minutes_), static_cast<QWidget*>(roughest_)})
    layout->addWidget(widget);
  roughest_->setToolTip(
      tr("Only edges that a damage search found to hold, at their angle or a slimmer one."));
  damage_->setToolTip(
      tr("By the upper 95 % bound on damage in ordinary work. Edges nobody has looked at do not "
         "pass."));
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(6);
  grid->setVerticalSpacing(4);
  const auto row = [&](int at, const QString& words, QWidget* from, QWidget* to) {
    grid->addWidget(new QLabel(words), at, 0);
    grid->addWidget(from, at, 1);
    grid->addWidget(new QLabel(tr("to")), at, 2);
    grid->addWidget(to, at, 3);
  };
  row(0, tr("Apex, per side"), least_angle_, largest_angle_);
  row(1, tr("Finish"), finest_, coarsest_);
  grid->addWidget(new QLabel(tr("Beyond tested")), 2, 0);
  for (auto* box : {least_angle_, largest_angle_}) box->set_edge_angle(AngleConvention::per_side);
  for (auto* box : {finest_, coarsest_}) box->set_particle_size();
  beyond_->setSpecialValueText(tr("none"));
  grid->addWidget(beyond_, 2, 1);
  grid->setColumnStretch(4, 1);
  layout->addLayout(grid);
  layout->addWidget(new QLabel(tr("Steels at hand")));
  steels_box_->setSpacing(2);
  layout->addLayout(steels_box_);
  layout->addSpacing(4);
  layout->addWidget(heading(tr("What you wish for")));
  auto* wishes = new QGridLayout;
  wishes->setHorizontalSpacing(6);
  wishes->setVerticalSpacing(2);
  const QStringList words{tr("Long life"), tr("Low force"), tr("Little damage"),
                          tr("Quick touch-up")};
  for (int i = 0; i < 4; ++i) {
    wishes_[std::size_t(i)] = new QSlider(Qt::Horizontal);
    wishes_[std::size_t(i)]->setRange(0, 30);
    wishes_[std::size_t(i)]->setMinimumWidth(60);
    wishes_[std::size_t(i)]->setAccessibleName(tr("Weight: %1").arg(words[i]));
    wish_figures_[std::size_t(i)] = new QLabel;
    wish_figures_[std::size_t(i)]->setFixedWidth(26);
    wish_figures_[std::size_t(i)]->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    wishes->addWidget(new QLabel(words[i]), i, 0);
    wishes->addWidget(wishes_[std::size_t(i)], i, 1);
    wishes->addWidget(wish_figures_[std::size_t(i)], i, 2);
    connect(wishes_[std::size_t(i)], &QSlider::valueChanged, this, &LimitsPanel::touched);
  }
  layout->addLayout(wishes);
  layout->addWidget(new QLabel(tr("Stones at hand")));
  stones_box_->setSpacing(2);
  layout->addLayout(stones_box_);
  layout->addStretch();
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(scrolled(inside));

  for (auto* slider : {life_, force_, damage_, minutes_})
    connect(slider, &LimitSlider::moved, this, &LimitsPanel::touched);
  for (auto* box : {least_angle_, largest_angle_, finest_, coarsest_, beyond_})
    connect(box, &NumberEntry::valueChanged, this, &LimitsPanel::touched);
  connect(roughest_, &QCheckBox::toggled, this, &LimitsPanel::touched);
  keeping_.setSingleShot(true);
  keeping_.setInterval(600);
}

void LimitsPanel::listen() {
  connect(&keeping_, &QTimer::timeout, this, &LimitsPanel::keep_now);
  connect(&workbench_, &Workbench::about_to_undo, this, &LimitsPanel::keep_now);
  connect(&workbench_, &Workbench::opened, this, [this] {
    keeping_.stop();
    in_hand_ = false;
    kept_.clear();
    now_ = {};
    reload();
  });
  connect(&workbench_, &Workbench::changed, this, [this](const Touched& touched) {
    if (touched.any_part() || touched.text(kVerdictKey)) reload();
  });
  reload();
}

/// What the project keeps, where it is not what the hand has.
void LimitsPanel::reload() {
  const QString text = workbench_.has_project()
                           ? QString::fromStdString(workbench_.session().kept(kVerdictKey))
                           : QString();
  if (!in_hand_ && text != kept_) {
    kept_ = text;
    const auto read = parse_limits(text.isEmpty() ? "{}" : text.toStdString());
    now_ = read ? *read : LimitsFile{};
    emit changed();
  }
  filling_ = true;
  life_->set_value(now_.limits.least_life);
  force_->set_value(now_.limits.most_force_N);
  damage_->set_value(now_.limits.most_damage_rate
                         ? std::optional(std::round(1 / *now_.limits.most_damage_rate))
                         : std::nullopt);
  minutes_->set_value(now_.limits.most_minutes);
  roughest_->setChecked(now_.limits.hold_roughest);
  least_angle_->setValue(now_.limits.least_angle_deg.value_or(0));
  largest_angle_->setValue(now_.limits.largest_angle_deg.value_or(0));
  finest_->setValue(now_.limits.finest_finish_um.value_or(0));
  coarsest_->setValue(now_.limits.coarsest_finish_um.value_or(0));
  beyond_->setValue(now_.limits.beyond_deg);
  const std::array<double, 4> weights{now_.wishes.life, now_.wishes.force, now_.wishes.damage,
                                      now_.wishes.minutes};
  for (std::size_t i = 0; i < 4; ++i) {
    wishes_[i]->setValue(int(std::lround(10 * weights[i])));
    wish_figures_[i]->setText(QString::number(weights[i], 'f', 1));
  }
  fill_names();
  filling_ = false;
}

void LimitsPanel::fill_names() {
  const auto fill = [this](QVBoxLayout* box, std::vector<QCheckBox*>& boxes,
                           const std::vector<std::string>& names,
                           const std::vector<std::string>& chosen) {
    const bool same = names.size() == boxes.size() &&
                      std::equal(names.begin(), names.end(), boxes.begin(),
                                 [](const std::string& name, const QCheckBox* b) {
                                   return b->accessibleName().toStdString() == name;
                                 });
    if (!same) {
      empty(box);
      boxes.clear();
      for (const auto& name : names) {
        auto* check = new QCheckBox(in_label(text_of(name)));
        check->setAccessibleName(text_of(name));
        check->setToolTip(text_of(name));
        check->setSizePolicy(QSizePolicy::Ignored,
                             QSizePolicy::Fixed);  // a long name must not push the fields away
        connect(check, &QCheckBox::toggled, this, &LimitsPanel::touched);
        box->addWidget(check);
        boxes.push_back(check);
      }
    }
    for (std::size_t i = 0; i < names.size(); ++i)
      boxes[i]->setChecked(chosen.empty() ||
                           std::find(chosen.begin(), chosen.end(), names[i]) != chosen.end());
  };
  fill(steels_box_, steels_, steels_of(workbench_.trial()), now_.limits.steels);
  std::vector<std::string> shelf;
  for (const auto& abrasive : workbench_.trial().shelf)
    if (!abrasive.retired && abrasive.kind != AbrasiveKind::strop) shelf.push_back(abrasive.name);
  fill(stones_box_, stones_, shelf, now_.stones);
}

void LimitsPanel::fill_work(const std::vector<std::pair<std::string, int>>& media) {
  const bool same = media.size() == work_.size() &&
                    std::equal(media.begin(), media.end(), work_.begin(),
                               [](const auto& a, const auto& b) { return a.first == b.first; });
  filling_ = true;
  if (!same) {
    empty(work_box_);
    work_.clear();
    for (const auto& [name, runs] : media) {
      auto* row = new QWidget;
      auto* line = new QHBoxLayout(row);
      line->setContentsMargins(0, 0, 0, 0);
      auto* share = new NumberEntry;
      share->set_whole();
      share->setRange(0, 100);
      share->setSuffix(QStringLiteral(" %"));
      share->setButtonSymbols(NumberEntry::NoButtons);
      share->setFixedWidth(58);
      share->setAlignment(Qt::AlignRight);
      const QString words = name.empty() ? tr("not given") : QString::fromStdString(name);
      share->setAccessibleName(tr("Share of the cuts in %1").arg(words));
      auto* label = new QLabel(QFontMetrics(font()).elidedText(words, Qt::ElideRight, 180));
      label->setToolTip(tr("%1, %2 runs").arg(words, QString::number(runs)));
      line->addWidget(label, 1);
      line->addWidget(share);
      work_box_->addWidget(row);
      work_.emplace_back(name, share);
      connect(share, &NumberEntry::valueChanged, this, &LimitsPanel::touched);
    }
  }
  double sum = 0;
  for (const auto& part : now_.limits.mix) sum += part.share;
  const auto is_meant = [&](const std::string& chosen, std::size_t at) {
    return work_meant(media, chosen) == work_[at].first;
  };
  for (std::size_t i = 0; i < work_.size(); ++i) {
    double share = 0;
    for (const auto& part : now_.limits.mix)
      if (is_meant(part.medium, i) && sum > 0) share = 100 * part.share / sum;
    if (now_.limits.mix.empty() && is_meant(now_.limits.medium, i)) share = 100;
    if (!work_[i].second->hasFocus()) work_[i].second->setValue(int(std::lround(share)));
  }
  filling_ = false;
}

LimitsFile LimitsPanel::wanted() const { return now_; }
QString LimitsPanel::count_line() const { return count_->text(); }

void LimitsPanel::touched() {
  if (filling_) return;
  const auto given = [](const NumberEntry* box) {
    return box->value() > 0 ? std::optional(box->value()) : std::nullopt;
  };
  RecommendLimits& l = now_.limits;
  l.least_life = life_->value();
  l.most_force_N = force_->value();
  l.most_damage_rate = damage_->value() ? std::optional(1 / *damage_->value()) : std::nullopt;
  l.most_minutes = minutes_->value();
  l.hold_roughest = roughest_->isChecked();
  l.least_angle_deg = given(least_angle_);
  l.largest_angle_deg = given(largest_angle_);
  l.finest_finish_um = given(finest_);
  l.coarsest_finish_um = given(coarsest_);
  l.beyond_deg = beyond_->value();
  std::vector<WorkShare> mix;
  for (const auto& [medium, share] : work_)
    if (share->value() > 0) mix.push_back({medium, double(share->value())});
  l.medium = mix.size() == 1 ? mix.front().medium : "";
  l.mix = mix.size() > 1 ? mix : std::vector<WorkShare>{};
  const auto chosen = [](const std::vector<QCheckBox*>& boxes) {
    std::vector<std::string> out;
    for (const auto* box : boxes)
      if (box->isChecked()) out.push_back(box->accessibleName().toStdString());
    if (out.size() == boxes.size())
      out.clear();
    else if (out.empty())
      out.emplace_back();  // none at hand: nothing passes
    return out;
  };
  l.steels = chosen(steels_);
  now_.stones = chosen(stones_);
  const auto weight = [this](std::size_t i) { return wishes_[i]->value() / 10.0; };
  now_.wishes = {weight(0), weight(1), weight(2), weight(3)};
  for (std::size_t i = 0; i < 4; ++i) wish_figures_[i]->setText(QString::number(weight(i), 'f', 1));
  in_hand_ = true;
  keeping_.start();
  emit changed();
}

void LimitsPanel::change(const std::function<void(LimitsFile&)>& how) {
  how(now_);
  in_hand_ = true;
  keeping_.start();
  reload();
  emit changed();
}

void LimitsPanel::keep_now() {
  if (!in_hand_) return;
  in_hand_ = false;
  keeping_.stop();
  const std::string text = limits_json(now_);
  if (QString::fromStdString(text) == kept_ || !workbench_.writable()) return;
  kept_ = QString::fromStdString(text);
  workbench_.edit([&](ProjectSession& session) {
    session.keep(kVerdictKey, text, "the limits and wishes of the verdict");
  });
}

void LimitsPanel::hideEvent(QHideEvent* event) {
  keep_now();
  QWidget::hideEvent(event);
}

void LimitsPanel::show_verdict(const Verdict& verdict) {
  fill_work(verdict.media);
  const auto& answer = verdict.recommendation;
  if (!answer) {
    count_->setText(verdict.media.empty() ? QString() : tr("no edge can be judged"));
    return;
  }
  count_->setText(tr("%1 of %2 edges pass").arg(answer->ranked.size()).arg(answer->candidates));
  double life_low = 1e300, life_high = 0, force_low = 1e300, force_high = 0, free_low = 1e300,
         free_high = 0, min_low = 1e300, min_high = 0;
  const auto span = [](double value, double& low, double& high) {
    low = std::min(low, value);
    high = std::max(high, value);
  };
  for (const auto* edges : {&answer->ranked, &answer->refused})
    for (const auto& e : *edges) {
      span(e.life_low, life_low, life_high);
      if (e.force_blunt_N) span(*e.force_blunt_N, force_low, force_high);
      if (e.damage_rate_upper) span(1 / *e.damage_rate_upper, free_low, free_high);
      if (e.resharpening) span(e.resharpening->minutes, min_low, min_high);
    }
  const auto give = [](LimitSlider* slider, double low, double high, double room) {
    slider->setEnabled(high > 0 || slider->value());
    if (high > 0) slider->set_span(low / room, high * room);
  };
  give(life_, life_low, life_high, 1.05);
  give(force_, force_low, force_high, 1.02);
  give(damage_, free_low, free_high, 1.1);
  give(minutes_, min_low, min_high, 1.05);
  force_->setToolTip(answer->ranked.empty() && answer->refused.empty()
                         ? QString()
                         : QString::fromStdString(verdict.force_note));
}

}  // namespace bq::ui
