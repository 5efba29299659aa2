#include "ui/frame/house_rules.h"

#include <QAbstractSlider>
#include <QAbstractSpinBox>
#include <QApplication>
#include <QComboBox>
#include <QEvent>
#include <QLabel>
#include <QMessageBox>
#include <QScrollBar>

namespace bq::ui {
namespace {

bool changes_by_wheel(const QObject* widget) {
  return qobject_cast<const QComboBox*>(widget) || qobject_cast<const QAbstractSpinBox*>(widget) ||
         (qobject_cast<const QAbstractSlider*>(widget) && !qobject_cast<const QScrollBar*>(widget));
}

class HouseRules : public QObject {
 public:
  using QObject::QObject;

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override {
    if (event->type() == QEvent::Polish) {
      // Tooltips are labels too.
      if (auto* label = qobject_cast<QLabel*>(watched);
          label && label->textFormat() == Qt::AutoText)
        label->setTextFormat(Qt::PlainText);
      if (auto* box = qobject_cast<QMessageBox*>(watched); box && box->textFormat() == Qt::AutoText)
        box->setTextFormat(Qt::PlainText);
      return false;
    }
    if (event->type() == QEvent::Wheel && changes_by_wheel(watched) &&
        !static_cast<QWidget*>(watched)->hasFocus()) {
      event->ignore();  // goes on to what scrolls around it
      return true;
    }
    return false;
  }
};

}  // namespace

void set_house_rules() {
  static const QObject* set_for = nullptr;
  if (!qApp || set_for == qApp) return;
  set_for = qApp;
  qApp->installEventFilter(new HouseRules(qApp));
}

}  // namespace bq::ui
