#include "ui/lens/stored_picture.h"

#include <QCoreApplication>

namespace bq::ui {

DecodedPicture read_stored(const PictureStore& pictures, std::int64_t id,
                           const std::function<bool()>& stop) {
  DecodedPicture out;
  try {
    if (const auto bytes = pictures.bytes(id, stop)) return decode_picture(*bytes, stop);
    out.fault = QCoreApplication::translate("Lens", "its file is not in the project");
  } catch (const StoreError& error) {
    out.fault = QString::fromUtf8(error.what());
  }
  return out;
}

}  // namespace bq::ui
