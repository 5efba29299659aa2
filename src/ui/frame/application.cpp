#include "ui/frame/application.h"

#include <sys/socket.h>
#include <unistd.h>

#include <QLibraryInfo>
#include <QLocale>
#include <QSocketNotifier>
#include <QTranslator>
#include <csignal>
#include <utility>

#include "ui/frame/job_news.h"
#include "ui/parts/words.h"

namespace bq::ui {
namespace {

/// A signal may only write to a socket; the event loop reads it.
int signal_end[2] = {-1, -1};

void on_signal(int) {
  const char byte = 1;
  [[maybe_unused]] const auto written = ::write(signal_end[0], &byte, 1);
}

}  // namespace

void Application::close_on_signals() {
  if (signal_end[0] >= 0 || ::socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, signal_end) != 0)
    return;
  auto* heard = new QSocketNotifier(signal_end[1], QSocketNotifier::Read, this);
  connect(heard, &QSocketNotifier::activated, this, [heard] {
    heard->setEnabled(false);
    QApplication::closeAllWindows();
    QApplication::quit();
  });
  struct sigaction action{};
  action.sa_handler = on_signal;
  sigemptyset(&action.sa_mask);
  action.sa_flags = SA_RESTART | SA_RESETHAND;  // the second one ends the program as ever
  for (const int signal : {SIGTERM, SIGHUP, SIGINT}) sigaction(signal, &action, nullptr);
}

void Application::speak_as_the_desk() {
  QString folder = qEnvironmentVariable("BQ_TRANSLATIONS");
  if (folder.isEmpty())
    folder = applicationDirPath() + QStringLiteral("/../share/brave-quarry/translations");
  const auto install = [this](const QString& name, const QString& where) {
    auto* words = new QTranslator(this);
    const bool there = words->load(QLocale(), name, QStringLiteral("_"), where);
    if (there) installTranslator(words);
    return there;
  };
  // Without ours there is no use in buttons of another language; ours does without Qt's.
  if (!install(QStringLiteral("brave-quarry"), folder)) return;
  say_as_the_window_does();
  install(QStringLiteral("qtbase"), QLibraryInfo::path(QLibraryInfo::TranslationsPath));
}

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
