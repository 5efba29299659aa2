#include "ui/parts/words.h"

namespace bq::ui {

QString percent(double share) {
  if (share > 0.9995 && share < 1) return QStringLiteral("> 99.9\u00a0%");
  return QString::number(100 * share, 'f', share > 0.995 && share < 1 ? 1 : 0) +
         QStringLiteral("\u00a0%");
}

}  // namespace bq::ui
