#pragma once

#include <QObject>
#include <QString>
#include <QTimer>

#include "voice/voice.h"

class QWidget;

namespace bq::ui {

/// Whether this computer can speak; `why` says why not. Loads the voice library.
bool can_speak(QString& why);
/// For tests: what speaks and sounds instead of the library; null: the library again.
void speak_through(Speak speak, Tone tone);

/// For hands that are busy: what a station says is heard, as far as it is switched on
/// (preferences()) and the station is what one is looking at.
class Aloud : public QObject {
  Q_OBJECT
 public:
  explicit Aloud(QWidget* station);
  /// What to do now; said when it is another one than before.
  void instruct(const QString& instruction);
  /// What became of what was done: a tone, and the sentence.
  void tell(const QString& sentence, bool refused);

 private:
  void speak();
  [[nodiscard]] bool is_heard() const;

  QWidget* station_;
  QTimer soon_;  ///< what comes together is one utterance
  QString told_, instruction_, spoken_;
};

}  // namespace bq::ui
