#include "ui/frame/log_file.h"

#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QMutex>
#include <QStringList>
#include <cstdio>

namespace bq::ui {
namespace {

constexpr qint64 kLongest = 512 * 1024;
constexpr int kRemembered = 1000;

struct Log {
  QMutex mutex;
  QFile file;
  QStringList newest;
  QtMessageHandler before = nullptr;
};

Log& the_log() {
  static Log log;
  return log;
}

/// One line a message: control characters are shown as such.
QString one_line(const QString& text) {
  QString out;
  for (const QChar c : text)
    out += c.category() == QChar::Other_Control
               ? QStringLiteral("\\x%1").arg(c.unicode(), 2, 16, QLatin1Char('0'))
               : QString(c);
  return out;
}

const char* name_of_kind(QtMsgType kind) {
  switch (kind) {
    case QtDebugMsg:
      return "detail";
    case QtInfoMsg:
      return "said";
    case QtWarningMsg:
      return "warning";
    default:
      return "fault";
  }
}

void take(QtMsgType kind, const QMessageLogContext& context, const QString& text) {
  Log& log = the_log();
  {
    const QMutexLocker lock(&log.mutex);
    const QString line = QDateTime::currentDateTime().toString(Qt::ISODateWithMs) + ' ' +
                         QLatin1String(name_of_kind(kind)) + ' ' + one_line(text);
    log.newest << line;
    if (log.newest.size() > kRemembered) log.newest.removeFirst();
    if (log.file.isOpen()) {
      if (log.file.size() > kLongest) {
        log.file.close();
        const QString older = log.file.fileName() + QStringLiteral(".1");
        QFile::remove(older);
        QFile::rename(log.file.fileName(), older);
        if (!log.file.open(QIODevice::WriteOnly | QIODevice::Append)) return;
      }
      log.file.write(line.toUtf8() + '\n');
      log.file.flush();
    }
  }
  // What was said in the window needs no second place; the rest goes where it went before.
  if (kind != QtInfoMsg && log.before) log.before(kind, context, text);
}

}  // namespace

void begin_log(const QString& folder) {
  Log& log = the_log();
  QString place = folder;
  if (place.isEmpty()) {
    place = qEnvironmentVariable("XDG_STATE_HOME");
    if (place.isEmpty()) place = QDir::homePath() + QStringLiteral("/.local/state");
    place += QStringLiteral("/brave-quarry");
  }
  const QMutexLocker lock(&log.mutex);
  log.file.close();
  if (QDir().mkpath(place)) {
    log.file.setFileName(place + QStringLiteral("/log.txt"));
    if (!log.file.open(QIODevice::WriteOnly | QIODevice::Append)) log.file.setFileName({});
  }
  const QtMessageHandler was = qInstallMessageHandler(take);
  if (was != take) log.before = was;
}

QString log_path() {
  const QMutexLocker lock(&the_log().mutex);
  return the_log().file.fileName();
}

QString log_tail(int lines) {
  const QMutexLocker lock(&the_log().mutex);
  const auto& all = the_log().newest;
  return all.mid(std::max<qsizetype>(0, all.size() - lines)).join('\n');
}

}  // namespace bq::ui
