#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QString>

namespace bq::ui {

/// Hears a code reader that types like a keyboard, whatever has the focus: the letters of a label's
/// code, quicker than a hand types, and Enter. Such letters reach no field; what turns out to be no
/// code is typed after all.
class CodeReader : public QObject {
  Q_OBJECT
 public:
  explicit CodeReader(QObject* window);
  /// Longest pause between two letters of a reader (80 ms).
  void set_pause(int ms) { pause_ms_ = ms; }

 signals:
  void read(const QString& code);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;
  void timerEvent(QTimerEvent* event) override;

 private:
  void type_after_all();
  QString held_;
  QElapsedTimer since_;
  int pause_ms_ = 80, timer_ = 0;
  bool typing_ = false;
};

}  // namespace bq::ui
