#pragma once

#include <QApplication>
#include <QDeadlineTimer>
#include <QKeyEvent>
#include <QPushButton>
#include <QTest>
#include <QTimer>
#include <QWidget>
#include <functional>

namespace bq::test {

/// Lets the window work until it holds: woken by what happens, and every 10 ms. False after four
/// minutes only: a slow machine takes longer, it does not fail.
inline bool wait_for(const std::function<bool()>& holds) {
  const QDeadlineTimer end(240000);
  QTimer tick;
  tick.start(10);
  while (!holds()) {
    if (end.hasExpired()) return false;
    QCoreApplication::processEvents(QEventLoop::AllEvents | QEventLoop::WaitForMoreEvents);
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
  }
  return true;
}

/// A key that went down at this time of the window system's clock, whenever the program comes to
/// it.
inline void press_at(QWidget* widget, Qt::Key key, quint64 at_ms, const QString& text = {}) {
  QKeyEvent press(QEvent::KeyPress, key, Qt::NoModifier, text);
  press.setTimestamp(at_ms);
  QApplication::sendEvent(widget, &press);
  QKeyEvent release(QEvent::KeyRelease, key, Qt::NoModifier, text);
  release.setTimestamp(at_ms + 20);
  QApplication::sendEvent(widget, &release);
}

/// The widget of this kind with an accessible name.
template <class Widget>
Widget* named(QWidget* parent, const char* name) {
  for (auto* widget : parent->findChildren<Widget*>())
    if (widget->accessibleName() == QString::fromUtf8(name)) return widget;
  return nullptr;
}

/// The button that is shown and has this in its text.
inline QPushButton* shown_button(QWidget* parent, const char* text) {
  for (auto* one : parent->findChildren<QPushButton*>())
    if (one->text().contains(QString::fromUtf8(text)) && one->isVisible()) return one;
  return nullptr;
}

}  // namespace bq::test
