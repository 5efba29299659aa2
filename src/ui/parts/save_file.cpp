#include "ui/parts/save_file.h"

#include <QSaveFile>

namespace bq::ui {

bool write_whole(const QString& path, const std::string& bytes, QString* why) {
  QSaveFile file(path);
  const bool whole = file.open(QIODevice::WriteOnly) &&
                     file.write(bytes.data(), qint64(bytes.size())) == qint64(bytes.size()) &&
                     file.commit();
  if (why && !whole) *why = file.errorString();
  return whole;
}

}  // namespace bq::ui
