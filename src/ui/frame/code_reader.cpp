#include "ui/frame/code_reader.h"

#include <QApplication>
#include <QKeyEvent>
#include <QTimerEvent>
#include <QWidget>

#include "ui/parts/words.h"
#include "workflow/label_codes.h"

namespace bq::ui {

CodeReader::CodeReader(QObject* window) : QObject(window) { qApp->installEventFilter(this); }

bool CodeReader::eventFilter(QObject* watched, QEvent* event) {
  // Once, where the press arrives first: it goes on from the window to the widget with the focus.
  if (event->type() != QEvent::KeyPress || typing_ || !watched->isWidgetType() ||
      watched != QApplication::focusWidget())
    return QObject::eventFilter(watched, event);
  const auto* key = static_cast<QKeyEvent*>(event);
  const bool quick = !held_.isEmpty() && since_.isValid() && since_.elapsed() <= pause_ms_;
  if (!held_.isEmpty() && !quick) type_after_all();
  const QString prefix = text_of(kLabelPrefix);
  if (!held_.isEmpty() && (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter)) {
    if (held_.size() > prefix.size() + 2) {
      const QString code = held_;
      held_.clear();
      killTimer(std::exchange(timer_, 0));
      emit read(code);
      return true;
    }
    type_after_all();
    return QObject::eventFilter(watched, event);
  }
  // A shift that the reader presses for its capitals is no letter and ends nothing.
  if (key->text().isEmpty()) return QObject::eventFilter(watched, event);
  const QString typed = held_ + key->text();
  const QString next = typed.toUpper();
  const bool one_case = typed == next || typed == typed.toLower();  // a reader's code is
  const bool plain =
      !(key->modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier));
  const bool fits =
      plain && one_case && key->text().size() == 1 && key->text()[0].isLetterOrNumber() &&
      (next.size() <= prefix.size() ? prefix.startsWith(next) : next.startsWith(prefix)) &&
      next.size() <= 40;
  if (!fits) {
    if (!held_.isEmpty()) type_after_all();
    return QObject::eventFilter(watched, event);
  }
  held_ += key->text();
  since_.start();
  if (timer_) killTimer(timer_);
  timer_ = startTimer(pause_ms_ + 20);
  return true;
}

void CodeReader::timerEvent(QTimerEvent* event) {
  if (event->timerId() == timer_) type_after_all();
}

void CodeReader::type_after_all() {
  if (timer_) killTimer(std::exchange(timer_, 0));
  const QString held = std::exchange(held_, {});
  QWidget* field = QApplication::focusWidget();
  if (!field) return;
  typing_ = true;
  for (const QChar letter : held) {
    const int key = letter.toUpper().unicode();
    const Qt::KeyboardModifiers how = letter.isUpper() ? Qt::ShiftModifier : Qt::NoModifier;
    QKeyEvent press(QEvent::KeyPress, key, how, QString(letter)),
        release(QEvent::KeyRelease, key, how, QString(letter));
    QApplication::sendEvent(field, &press);
    QApplication::sendEvent(field, &release);
  }
  typing_ = false;
}

}  // namespace bq::ui
