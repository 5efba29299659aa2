#include "ui/frame/application.h"

#include "ui/frame/job_news.h"

namespace bq::ui {

bool Application::notify(QObject* receiver, QEvent* event) {
  try {
    return QApplication::notify(receiver, event);
  } catch (...) {
    const QString sentence = words_of_exception();
    qWarning("thrown through the event loop: %s", qUtf8Printable(sentence));
    JobNews::of_this_program().tell(sentence);
    return true;
  }
}

}  // namespace bq::ui
