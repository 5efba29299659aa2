#include "pixels/cut_picture.h"

#include <algorithm>

#include "pixels/picture_loader.h"

namespace bq::inline pixels {

std::string cut_picture(std::string_view file, const PicturePart& part, int longest) {
  const DecodedPicture decoded = decode_picture(file);
  if (!decoded.pixels) return {};
  QImage out = decoded.pixels->shown.copy(part.x, part.y, part.width, part.height);
  if (std::max(out.width(), out.height()) > longest)
    out = out.scaled(longest, longest, Qt::KeepAspectRatio, Qt::SmoothTransformation);
  return png_of(out);
}

}  // namespace bq::inline pixels
