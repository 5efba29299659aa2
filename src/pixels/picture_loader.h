#pragma once

#include <QImage>
#include <QString>
#include <functional>
#include <memory>
#include <string_view>
#include <vector>

#include "lens/grey_image.h"
#include "lens/picture_header.h"

namespace bq::inline pixels {

/// A picture ready to be shown at any size and measured. Immutable once made, so that workers and
/// the window may share it.
struct LensPixels {
  QImage shown;                 ///< 8 bit grey or 32 bit colour
  std::vector<QImage> smaller;  ///< each half of the one before, down to about a screen
  GreyImage grey;               ///< what is measured
};

/// What may be asked of memory for one picture, in MB (QImageReader's own limit): 128 million
/// pixels in colour.
inline constexpr int kDecodeLimit_MB = 520;

struct DecodedPicture {
  std::shared_ptr<const LensPixels> pixels;  ///< empty: see fault
  PictureHeader header;
  bool broken = false;  ///< its content breaks off or is damaged: it may still be being written
  QString fault;        ///< a whole sentence without the file's name: "it breaks off …"
};
/// Reads a whole picture file; for workers. Its header is looked at first: what is too large or no
/// picture is never decoded.
DecodedPicture decode_picture(std::string_view bytes, const std::function<bool()>& stop = {});

/// Grey and smaller copies of an image (pasted, or decoded).
std::shared_ptr<const LensPixels> pixels_of(QImage image);
/// At most 480 px on its longer side, as PNG bytes.
std::string thumbnail_of(const LensPixels& pixels);
/// PNG bytes of an image, for what is pasted.
std::string png_of(const QImage& image);

}  // namespace bq::inline pixels
