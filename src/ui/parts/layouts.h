#pragma once

#include <QLayout>
#include <QWidget>

namespace bq::ui {

/// Takes everything out of a column that is filled anew; its widgets go when they are done.
inline void empty(QLayout* column) {
  while (QLayoutItem* item = column->takeAt(0)) {
    if (QWidget* widget = item->widget()) widget->deleteLater();
    delete item;
  }
}

}  // namespace bq::ui
