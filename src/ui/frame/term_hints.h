#pragma once

#include <QObject>
#include <functional>

class QWidget;

namespace bq::ui {

/// Explains the words of the field where they stand: whatever label, button or heading is pointed
/// at and has no hint of its own shows what its words mean. F1 inside a dialog asks for the page of
/// that dialog.
class TermHints : public QObject {
  Q_OBJECT
 public:
  /// Listens to the whole program as long as `window` lives.
  TermHints(QWidget* window, std::function<void(QWidget* dialog)> help);
  /// The hint of a text, as rich text; empty where no word of the field is in it.
  static QString hint_for(const QString& text);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  std::function<void(QWidget*)> help_;
};

}  // namespace bq::ui
