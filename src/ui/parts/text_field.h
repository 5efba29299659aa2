#pragma once

#include <QLineEdit>

namespace bq::ui {

/// An entry for a line of text. `name`: what a screen reader says; `hint`: shown while it is empty.
inline QLineEdit* text_field(const QString& name, const QString& hint = {}) {
  auto* edit = new QLineEdit;
  edit->setAccessibleName(name);
  edit->setPlaceholderText(hint);
  return edit;
}

}  // namespace bq::ui
