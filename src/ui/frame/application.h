#pragma once

#include <QApplication>

namespace bq::ui {

/// The program: what is thrown through the event loop becomes a sentence in the window (JobNews),
/// not the end of the program.
class Application : public QApplication {
 public:
  using QApplication::QApplication;
  bool notify(QObject* receiver, QEvent* event) override;
  /// The end of the session, a hang-up, Ctrl+C in the terminal: the windows are closed as by hand,
  /// so that what is in hand is kept and the project is one whole file. Once for a program.
  void close_on_signals();
  /// The window's words in the desk's language, where a catalogue of it was made
  /// (scripts/translation): in BQ_TRANSLATIONS, or where the program is installed. Before the first
  /// window.
  void speak_as_the_desk();
};

}  // namespace bq::ui
