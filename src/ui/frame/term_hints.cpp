#include "ui/frame/term_hints.h"

#include <QAbstractButton>
#include <QAbstractItemView>
#include <QApplication>
#include <QDialog>
#include <QGroupBox>
#include <QHeaderView>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QLabel>
#include <QToolTip>

#include "ui/frame/help_index.h"
#include "ui/frame/help_window.h"

namespace bq::ui {
namespace {

constexpr int kMostWords = 3;

/// What a widget says at this place; empty for those that say nothing by themselves.
QString said_by(QWidget* widget, const QPoint& at) {
  if (const auto* label = qobject_cast<QLabel*>(widget)) return label->text();
  if (const auto* button = qobject_cast<QAbstractButton*>(widget)) return button->text();
  if (const auto* box = qobject_cast<QGroupBox*>(widget)) return box->title();
  if (const auto* header = qobject_cast<QHeaderView*>(widget->parentWidget())) {
    const int section = header->logicalIndexAt(at);
    if (section >= 0 && header->model())
      return header->model()->headerData(section, header->orientation()).toString();
  }
  return {};
}

/// The hint that a widget, or a cell of a list or table, has of its own.
QString own_hint(const QWidget* widget, const QPoint& at) {
  if (const auto* view = qobject_cast<QAbstractItemView*>(widget->parentWidget());
      view && view->viewport() == widget)
    return view->indexAt(at).data(Qt::ToolTipRole).toString();
  return widget->toolTip();
}

/// Plain text in lines of a hint's width: what is no markup is not wrapped by Qt, and labels here
/// show no markup (house_rules.h).
QString in_lines(const QString& text) {
  constexpr qsizetype kLine = 56;
  QStringList out;
  for (const QString& part : text.split('\n')) {
    QString line;
    for (const QString& word : part.split(' ')) {
      if (!line.isEmpty() && line.size() + 1 + word.size() > kLine) {
        out << line;
        line.clear();
      }
      line += (line.isEmpty() ? QString() : QStringLiteral(" ")) + word;
    }
    out << line;
  }
  return out.join('\n');
}

}  // namespace

TermHints::TermHints(QWidget* window, std::function<void(QWidget*)> help)
    : QObject(window), help_(std::move(help)) {
  qApp->installEventFilter(this);
}

QString TermHints::hint_for(const QString& text) {
  QString out;
  for (const HelpTerm* term : HelpIndex::get().terms_in(text, kMostWords))
    out += (out.isEmpty() ? QString() : QStringLiteral("\n\n")) + term->word +
           QStringLiteral(": ") + term->in_short();
  return out;
}

bool TermHints::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::KeyPress && static_cast<QKeyEvent*>(event)->key() == Qt::Key_F1 &&
      watched->isWidgetType()) {
    auto* dialog = qobject_cast<QDialog*>(static_cast<QWidget*>(watched)->window());
    if (dialog && !qobject_cast<HelpWindow*>(dialog)) {
      help_(dialog);
      return true;
    }
  }
  if (event->type() != QEvent::ToolTip || !watched->isWidgetType()) return false;
  auto* widget = static_cast<QWidget*>(watched);
  const auto* help = static_cast<QHelpEvent*>(event);
  QString hint = own_hint(widget, help->pos());
  if (hint.isEmpty()) hint = hint_for(said_by(widget, help->pos()));
  if (hint.isEmpty()) return false;
  QToolTip::showText(help->globalPos(), in_lines(hint), widget);
  return true;
}

}  // namespace bq::ui
