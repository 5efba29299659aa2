#pragma once

#include <QDoubleSpinBox>
#include <cmath>
#include <optional>

namespace bq::ui {

/// Makes a field for one number: its range, step and sign. It takes the width it is given, so that
/// fields side by side share a column.
inline void set_up_number(QDoubleSpinBox* box, double least, double most, int decimals, double step,
                          const QString& suffix, const QString& name) {
  box->setRange(least, most);
  box->setDecimals(decimals);
  box->setSingleStep(step);
  box->setSuffix(suffix);
  box->setAccessibleName(name);
  box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
}

/// What a field stands for: the stored number as long as the field shows it rounded, else what was
/// typed. A field never rounds away what nobody touched.
inline double value_of(const QDoubleSpinBox* box, double stored) {
  return std::abs(box->value() - stored) <= 0.5001 * std::pow(10.0, -box->decimals())
             ? stored
             : box->value();
}

/// Shows a number without moving the cursor of a field that shows it already.
inline void show_value(QDoubleSpinBox* box, double value) {
  if (value_of(box, value) != value) box->setValue(value);
}

/// A field whose least value stands for "not known" (its special text).
inline std::optional<double> if_known(const QDoubleSpinBox* box,
                                      const std::optional<double>& stored) {
  if (box->value() <= box->minimum()) return std::nullopt;
  return value_of(box, stored.value_or(box->value()));
}
inline void show_if_known(QDoubleSpinBox* box, const std::optional<double>& value) {
  if (value)
    show_value(box, *value);
  else
    box->setValue(box->minimum());
}

}  // namespace bq::ui
