#pragma once

#include <QString>
#include <QWidget>

namespace bq::ui {

/// The words that a drawn widget writes, in reading order (line by line), as they stand there now:
/// "12°, heel, tip, 24.0°". "" where it writes none. What is not seen is left out.
QString drawn_words(QWidget* widget);

/// From here on whoever reads the screen aloud is told of the program's drawings what they show:
/// their name, and as description their own (QWidget::accessibleDescription) or the words drawn in
/// them. Once, before the first window.
void expose_drawings();

/// Whether a widget draws itself and is no control that Qt describes.
bool is_drawing(const QWidget* widget);

}  // namespace bq::ui
