#pragma once

#include <algorithm>
#include <cmath>
#include <optional>

#include "ui/parts/number_entry.h"

namespace bq::ui {

/// Makes a field for one number: its range, step and sign. It takes the width it is given, so that
/// fields side by side share a column.
inline void set_up_number(NumberEntry* box, double least, double most, int decimals, double step,
                          const QString& suffix, const QString& name) {
  box->setRange(least, most);
  box->setDecimals(decimals);
  box->setSingleStep(step);
  box->setSuffix(suffix);
  box->setAccessibleName(name);
  box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
}

/// What a field stands for: the stored number as long as the field was not touched (what is stored
/// may lie outside the field's range, or differ from it by the dust of a conversion), else what was
/// typed.
inline double value_of(const NumberEntry* box, double stored) {
  const double shown = std::clamp(stored, box->minimum(), box->maximum());
  return std::abs(box->value() - shown) <= 1e-12 * std::abs(shown) ? stored : box->value();
}

inline void show_value(NumberEntry* box, double value) { box->setValue(value); }

/// A field whose least value stands for "not known" (its special text).
inline std::optional<double> if_known(const NumberEntry* box, const std::optional<double>& stored) {
  if (box->value() <= box->minimum()) return std::nullopt;
  return value_of(box, stored.value_or(box->value()));
}
inline void show_if_known(NumberEntry* box, const std::optional<double>& value) {
  box->setValue(value.value_or(box->minimum()));
}

}  // namespace bq::ui
