#pragma once

#include <QDoubleSpinBox>

namespace bq::ui {

/// Makes a field for one number: its range, step and sign. It takes the width it is given, so that
/// fields side by side share a column.
inline void set_up_number(QDoubleSpinBox* box, double least, double most, int decimals, double step, const QString& suffix, const QString& name) {
  box->setRange(least, most);
  box->setDecimals(decimals);
  box->setSingleStep(step);
  box->setSuffix(suffix);
  box->setAccessibleName(name);
  box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
}

}  // namespace bq::ui
