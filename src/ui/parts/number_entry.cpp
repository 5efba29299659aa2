#include "ui/parts/number_entry.h"

#include <QAccessible>
#include <QApplication>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStyleOptionSpinBox>
#include <QTimer>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {

/// Swallows the press that took the focus from a field whose text was refused, when it is aimed at
/// a button.
class OneClickHeldBack : public QObject {
 public:
  explicit OneClickHeldBack(QObject* parent) : QObject(parent) { qApp->installEventFilter(this); }

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override {
    switch (event->type()) {
      case QEvent::MouseButtonPress:
      case QEvent::MouseButtonDblClick:
        return qobject_cast<QPushButton*>(watched) != nullptr;
      case QEvent::MouseButtonRelease: {
        qApp->removeEventFilter(this);
        deleteLater();
        return qobject_cast<QPushButton*>(watched) != nullptr;
      }
      default:
        return false;
    }
  }
};

}  // namespace

NumberEntry::NumberEntry(QWidget* parent) : QAbstractSpinBox(parent) {
  setFocusPolicy(Qt::StrongFocus);  // not by the wheel
  QAbstractSpinBox::setKeyboardTracking(false);
  connect(lineEdit(), &QLineEdit::textEdited, this, &NumberEntry::typed);
  show_text();
}

QString NumberEntry::shown(double value) const {
  if (!special_.isEmpty() && value <= asked_.least) return special_;
  return prefix_ + QString::fromStdString(print_asked(value, decimals_)) + suffix_;
}

void NumberEntry::show_text() {
  typing_ = false;
  const QString text = shown(value_);
  if (lineEdit()->text() != text) {
    lineEdit()->setText(text);
    if (!hasFocus()) lineEdit()->setCursorPosition(0);
  }
}

void NumberEntry::setValue(double value) {
  if (!std::isfinite(value)) value = asked_.least;
  value = std::clamp(value, asked_.least, asked_.most);
  const bool differs = value != value_;
  value_ = value;
  if (!typing_) {
    committed_ = value;
    if (differs) clear_refusal();
    show_text();
  }
  if (differs) emit valueChanged(value_);
}

void NumberEntry::setRange(double least, double most) {
  asked_.least = least;
  asked_.most = std::max(least, most);
  updateGeometry();
  setValue(value_);
}

void NumberEntry::setDecimals(int decimals) {
  decimals_ = decimals;
  updateGeometry();
  if (!typing_) show_text();
}

void NumberEntry::setSuffix(const QString& suffix) {
  suffix_ = suffix;
  asked_.beside = suffix.toStdString();
  updateGeometry();
  if (!typing_) show_text();
}

void NumberEntry::setPrefix(const QString& prefix) {
  prefix_ = prefix;
  updateGeometry();
  if (!typing_) show_text();
}

void NumberEntry::setSpecialValueText(const QString& text) {
  special_ = text;
  updateGeometry();
  if (!typing_) show_text();
}

Checked<double> NumberEntry::read() const {
  QString text = lineEdit()->text().trimmed();
  if (!special_.isEmpty() && (text.isEmpty() || text == special_)) return asked_.least;
  if (!prefix_.isEmpty() && text.startsWith(prefix_.trimmed()))
    text = text.mid(prefix_.trimmed().size());
  return read_asked(text.toStdString(), asked_);
}

void NumberEntry::typed() {
  if (!typing_) committed_ = value_;
  typing_ = true;
  clear_refusal();
  if (!live_) return;
  if (const auto number = read()) take(*number);
}

void NumberEntry::take(double value) {
  if (value == value_) return;
  value_ = value;
  emit valueChanged(value);
}

bool NumberEntry::commit() {
  if (!typing_) return true;
  const QString text = lineEdit()->text().trimmed();
  const auto number = read();
  if (number) {
    // What the value's takers do to this field now, they do to a field at rest.
    typing_ = false;
    committed_ = *number;
    take(*number);
    show_text();
    return true;
  }
  take(committed_);
  refusal_ = tr("“%1” was not taken: %2. %3 stays.")
                 .arg(text.left(40), QString::fromStdString(number.refusal().reason),
                      shown(committed_).trimmed());
  say(refusal_);
  emit refused(refusal_);
  return false;
}

void NumberEntry::stepBy(int steps) {
  commit();
  const double moved = value_ + steps * step_;
  // Steps land on figures, not on the dust of adding.
  const double clean = std::strtod(print_number(moved, 12).c_str(), nullptr);
  setValue(clean);
  lineEdit()->selectAll();
}

QAbstractSpinBox::StepEnabled NumberEntry::stepEnabled() const {
  if (isReadOnly()) return StepNone;
  StepEnabled out = StepNone;
  if (value_ < asked_.most) out |= StepUpEnabled;
  if (value_ > asked_.least) out |= StepDownEnabled;
  return out;
}

void NumberEntry::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape && typing_) {
    take(committed_);
    clear_refusal();
    show_text();
    lineEdit()->selectAll();
    event->accept();
    return;
  }
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
    if (!commit()) {
      lineEdit()->selectAll();
      event->accept();  // no dialog takes this Enter for its own
      return;
    }
  }
  QAbstractSpinBox::keyPressEvent(event);
}

void NumberEntry::focusInEvent(QFocusEvent* event) {
  QAbstractSpinBox::focusInEvent(event);
  if (refused_text_.isEmpty()) return;
  committed_ = value_;
  lineEdit()->setText(refused_text_);
  refused_text_.clear();
  typing_ = true;
  lineEdit()->selectAll();
}

void NumberEntry::focusOutEvent(QFocusEvent* event) {
  const bool passing = event->reason() == Qt::PopupFocusReason ||
                       event->reason() == Qt::ActiveWindowFocusReason ||
                       event->reason() == Qt::MenuBarFocusReason;
  if (!passing) {
    const QString text = lineEdit()->text();
    if (!commit()) {
      show_text();
      refused_text_ = text;
      if (event->reason() == Qt::MouseFocusReason) new OneClickHeldBack(qApp);
    }
  }
  QAbstractSpinBox::focusOutEvent(event);
}

void NumberEntry::wheelEvent(QWheelEvent* event) {
  if (!hasFocus()) {
    event->ignore();
    return;
  }
  QAbstractSpinBox::wheelEvent(event);
}

void NumberEntry::hideEvent(QHideEvent* event) {
  clear_refusal();
  QAbstractSpinBox::hideEvent(event);
}

bool NumberEntry::event(QEvent* event) {
  // The base class would write its own text at these.
  if (event->type() == QEvent::LocaleChange) return QWidget::event(event);
  return QAbstractSpinBox::event(event);
}

void NumberEntry::say(const QString& sentence) {
  if (!bubble_) {
    bubble_ = new QLabel(window());
    bubble_->setObjectName(QStringLiteral("caution"));
    bubble_->setTextFormat(Qt::PlainText);
    bubble_->setWordWrap(true);
    bubble_->setAttribute(Qt::WA_TransparentForMouseEvents);
    bubble_->setAutoFillBackground(true);
  }
  bubble_->setText(sentence);
  const int width = std::min(340, window()->width() - 16);
  bubble_->setFixedWidth(width);
  bubble_->adjustSize();
  QPoint place = mapTo(window(), QPoint(0, height() + 4));
  place.setX(std::clamp(place.x(), 8, std::max(8, window()->width() - width - 8)));
  if (place.y() + bubble_->height() > window()->height())
    place.setY(mapTo(window(), QPoint(0, 0)).y() - bubble_->height() - 4);
  bubble_->move(place);
  bubble_->show();
  // It has been read by then, or it never will be; what it covers is wanted again.
  QTimer::singleShot(15000, bubble_, [bubble = bubble_] {
    if (bubble) bubble->hide();
  });
  bubble_->raise();
  setAccessibleDescription(sentence);
  QAccessibleEvent alert(this, QAccessible::Alert);
  QAccessible::updateAccessibility(&alert);
}

void NumberEntry::clear_refusal() {
  refusal_.clear();
  refused_text_.clear();
  setAccessibleDescription({});
  if (bubble_) bubble_->deleteLater();
  bubble_.clear();
}

QSize NumberEntry::sizeHint() const {
  ensurePolished();
  const QFontMetrics metrics = fontMetrics();
  int width = metrics.horizontalAdvance(special_);
  for (const double end : {asked_.least, asked_.most}) {
    const QString text =
        prefix_ + QString::fromStdString(print_asked(end, decimals_)).left(12) + suffix_;
    width = std::max(width, metrics.horizontalAdvance(text));
  }
  QStyleOptionSpinBox option;
  initStyleOption(&option);
  const QSize inside(width + 4, lineEdit()->sizeHint().height());
  return style()->sizeFromContents(QStyle::CT_SpinBox, &option, inside, this);
}

}  // namespace bq::ui
