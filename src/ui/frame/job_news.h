#pragma once

#include <QObject>
#include <QString>

namespace bq::ui {

/// The exception in hand as a sentence for a person: what happened, what was kept. Call it in a
/// catch block.
QString words_of_exception();

/// Where work that failed on a thread, and anything that was thrown through the event loop, says
/// so.
class JobNews : public QObject {
  Q_OBJECT
 public:
  static JobNews& of_this_program();
  void tell(const QString& sentence) { emit failed(sentence); }

 signals:
  void failed(const QString& sentence);
};

}  // namespace bq::ui
