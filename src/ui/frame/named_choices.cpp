#include "ui/frame/named_choices.h"

#include <QAbstractItemView>
#include <QAccessible>
#include <QAccessibleWidget>
#include <QComboBox>
#include <QLineEdit>
#include <utility>

namespace bq::ui {
namespace {

/// A combo box as Qt tells it, but for its name.
class NamedChoice : public QAccessibleWidget {
 public:
  explicit NamedChoice(QComboBox* box) : QAccessibleWidget(box, QAccessible::ComboBox) {}

  [[nodiscard]] QString text(QAccessible::Text which) const override {
    switch (which) {
      case QAccessible::Name: {
        const QString asked = box()->accessibleName(), chosen = box()->currentText();
        if (asked.isEmpty() || chosen.isEmpty()) return asked + chosen;
        return QStringLiteral("%1: %2").arg(asked, chosen);
      }
      case QAccessible::Value:
        return box()->currentText();
      default:
        return QAccessibleWidget::text(which);
    }
  }
  [[nodiscard]] QAccessible::State state() const override {
    QAccessible::State out = QAccessibleWidget::state();
    out.expandable = true;
    out.expanded = box()->view()->isVisible();
    out.hasPopup = true;
    out.editable = box()->isEditable();
    return out;
  }
  [[nodiscard]] int childCount() const override { return box()->isEditable() ? 2 : 1; }
  [[nodiscard]] QAccessibleInterface* child(int index) const override {
    if (index == 0) return QAccessible::queryAccessibleInterface(box()->view());
    if (index != 1 || !box()->isEditable()) return nullptr;
    if (box()->lineEdit()->accessibleName().isEmpty())
      box()->lineEdit()->setAccessibleName(box()->accessibleName());
    return QAccessible::queryAccessibleInterface(box()->lineEdit());
  }
  [[nodiscard]] int indexOfChild(const QAccessibleInterface* child) const override {
    if (child->object() == box()->view()) return 0;
    return child->object() == box()->lineEdit() ? 1 : -1;
  }
  [[nodiscard]] QStringList actionNames() const override { return {showMenuAction()}; }
  void doAction(const QString& action) override {
    if (action == showMenuAction())
      box()->view()->isVisible() ? box()->hidePopup() : box()->showPopup();
  }

 private:
  [[nodiscard]] QComboBox* box() const { return static_cast<QComboBox*>(widget()); }
};

QAccessibleInterface* choice_for_readers(const QString& /*class_name*/, QObject* object) {
  auto* box = qobject_cast<QComboBox*>(object);
  return box ? new NamedChoice(box) : nullptr;
}

}  // namespace

void name_choices() {
  static bool done = false;
  if (!std::exchange(done, true)) QAccessible::installFactory(choice_for_readers);
}

}  // namespace bq::ui
