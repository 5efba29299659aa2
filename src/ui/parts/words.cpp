#include "ui/parts/words.h"

#include <QCoreApplication>

namespace bq::ui {

QString runs_with_readings(qint64 runs, qint64 readings) {
  const auto words = [](const char* text) {
    return QCoreApplication::translate("bq::ui::words", text);
  };
  return words("%1 with %2")
      .arg(runs == 1 ? words("1 run") : words("%1 runs").arg(runs),
           readings == 1 ? words("1 reading") : words("%1 readings").arg(readings));
}

QString percent(double share) {
  if (share > 0.9995 && share < 1) return QStringLiteral("> 99.9\u00a0%");
  return QString::number(100 * share, 'f', share > 0.995 && share < 1 ? 1 : 0) +
         QStringLiteral("\u00a0%");
}

}  // namespace bq::ui
