#include "ui/verdict/limit_slider.h"
#include "ui/parts/number_entry.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QSlider>
#include <QVBoxLayout>
#include <cmath>

namespace bq::ui {
namespace {
constexpr int kSteps = 100;
}

LimitSlider::LimitSlider(const QString& words, const QString& unit, Binds binds, int decimals,
                         bool log, QWidget* parent)
    : QWidget(parent),
      binds_(binds),
      log_(log),
      slider_(new QSlider(Qt::Horizontal)),
      field_(new NumberEntry) {
  slider_->setRange(0, kSteps);
  slider_->setPageStep(5);
  slider_->setAccessibleName(words);
  field_->setRange(0, 1e9);
  field_->setDecimals(decimals);
  field_->setSpecialValueText(tr("any"));
  field_->setSuffix(QStringLiteral(" ") + unit);
  field_->setAccessibleName(words + QStringLiteral(", ") + unit);
  field_->setButtonSymbols(NumberEntry::NoButtons);
  field_->setAlignment(Qt::AlignRight);
  field_->setFixedWidth(92);
  slider_->setMinimumWidth(60);
  auto* row = new QHBoxLayout;
  row->setSpacing(8);
  row->addWidget(slider_, 1);
  row->addWidget(field_);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(1);
  layout->addWidget(new QLabel(words));
  layout->addLayout(row);
  connect(slider_, &QSlider::valueChanged, this, &LimitSlider::slid);
  connect(field_, &NumberEntry::valueChanged, this, &LimitSlider::typed);
  place();
}

void LimitSlider::set_span(double low, double high) {
  if (!(high > low)) high = low * 1.5 + 1e-9;
  if (low == low_ && high == high_) return;
  low_ = low;
  high_ = high;
  place();
}

double LimitSlider::value_at(int step) const {
  const double share = double(step) / kSteps;
  const double value =
      log_ && low_ > 0 ? low_ * std::pow(high_ / low_, share) : low_ + share * (high_ - low_);
  // As many figures as the field shows: what is read is what binds.
  const double unit = std::pow(10, field_->decimals());
  return (binds_ == Binds::at_least ? std::floor(value * unit) : std::ceil(value * unit)) / unit;
}

void LimitSlider::place() {
  filling_ = true;
  const int slack = binds_ == Binds::at_least ? 0 : kSteps;
  if (!value_) {
    slider_->setValue(slack);
    field_->setValue(0);
  } else {
    const double share = log_ && low_ > 0 && *value_ > 0
                             ? std::log(*value_ / low_) / std::log(high_ / low_)
                             : (*value_ - low_) / (high_ - low_);
    const int step = int(std::lround(kSteps * std::clamp(share, 0.0, 1.0)));
    slider_->setValue(step == slack ? (slack ? slack - 1 : 1) : step);
    field_->setValue(*value_);
  }
  filling_ = false;
}

void LimitSlider::set_value(std::optional<double> value) {
  value_ = value;
  place();
}

void LimitSlider::slid(int step) {
  if (filling_) return;
  const bool any = binds_ == Binds::at_least ? step == 0 : step == kSteps;
  value_ = any ? std::nullopt : std::optional(value_at(step));
  filling_ = true;
  field_->setValue(value_.value_or(0));
  filling_ = false;
  emit moved();
}

void LimitSlider::typed(double value) {
  if (filling_) return;
  value_ = value > 0 ? std::optional(value) : std::nullopt;
  // The slider follows, the field keeps what is being typed.
  filling_ = true;
  const double share = !value_            ? (binds_ == Binds::at_least ? 0 : 1)
                       : log_ && low_ > 0 ? std::log(value / low_) / std::log(high_ / low_)
                                          : (value - low_) / (high_ - low_);
  slider_->setValue(int(std::lround(kSteps * std::clamp(share, 0.0, 1.0))));
  filling_ = false;
  emit moved();
}

}  // namespace bq::ui
