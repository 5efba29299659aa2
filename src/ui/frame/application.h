#pragma once

#include <QApplication>

namespace bq::ui {

/// The program: what is thrown through the event loop becomes a sentence in the window (JobNews),
/// not the end of the program.
class Application : public QApplication {
 public:
  using QApplication::QApplication;
  bool notify(QObject* receiver, QEvent* event) override;
};

}  // namespace bq::ui
