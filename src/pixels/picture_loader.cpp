#include "pixels/picture_loader.h"

#include <QBuffer>
#include <QColorSpace>
#include <QCoreApplication>
#include <QImageReader>
#include <cstring>

#include "pixels/float_tiff.h"

namespace bq::inline pixels {
namespace {

constexpr int kThumbnail = 480;

QString words(const char* text) { return QCoreApplication::translate("Lens", text); }

/// Cameras of 10, 12 or 14 bit fill the lower part of sixteen: what they call white is made white.
/// The levels are those of the fewest bits that hold the brightest pixel, so that pictures of one
/// camera stay alike.
void stretch(QImage& image) {
  const bool grey = image.format() == QImage::Format_Grayscale16;
  if (!grey && image.format() != QImage::Format_RGBX64) return;
  const int values = image.width() * (grey ? 1 : 4);
  quint16 most = 0;
  const auto is_colour = [grey](int i) { return grey || i % 4 != 3; };
  for (int y = 0; y < image.height(); ++y) {
    const auto* row = reinterpret_cast<const quint16*>(image.constScanLine(y));
    for (int i = 0; i < values; ++i)
      if (is_colour(i)) most = std::max(most, row[i]);
  }
  int bits = 16;
  while (bits > 8 && most < (1 << (bits - 1))) --bits;
  if (bits == 16 || most == 0) return;
  const int up = 16 - bits;
  for (int y = 0; y < image.height(); ++y) {
    auto* row = reinterpret_cast<quint16*>(image.scanLine(y));
    for (int i = 0; i < values; ++i)
      if (is_colour(i)) row[i] = quint16(row[i] << up | row[i] >> std::max(0, bits - up));
  }
}

/// Half as wide and high, means of four pixels.
QImage halved(const QImage& image) {
  const int w = std::max(1, image.width() / 2), h = std::max(1, image.height() / 2);
  QImage out(w, h, image.format());
  const int channels = image.format() == QImage::Format_Grayscale8 ? 1 : 4;
  for (int y = 0; y < h; ++y) {
    const uchar *a = image.constScanLine(std::min(2 * y, image.height() - 1)),
                *b = image.constScanLine(std::min(2 * y + 1, image.height() - 1));
    uchar* to = out.scanLine(y);
    for (int x = 0; x < w; ++x) {
      const int left = 2 * x * channels, right = std::min(2 * x + 1, image.width() - 1) * channels;
      for (int c = 0; c < channels; ++c)
        to[x * channels + c] =
            uchar((a[left + c] + a[right + c] + b[left + c] + b[right + c] + 2) / 4);
    }
  }
  return out;
}

}  // namespace

std::shared_ptr<const LensPixels> pixels_of(QImage image) {
  auto out = std::make_shared<LensPixels>();
  if (image.depth() == 64) image.convertTo(QImage::Format_RGBX64);
  stretch(image);
  const auto format = image.format();
  const bool grey = format == QImage::Format_Grayscale8 || format == QImage::Format_Grayscale16 ||
                    format == QImage::Format_Mono || format == QImage::Format_MonoLSB ||
                    (format == QImage::Format_Indexed8 && image.isGrayscale());
  image.convertTo(grey ? QImage::Format_Grayscale8 : QImage::Format_RGB32);
  if (image.isNull()) return nullptr;
  out->shown = std::move(image);
  auto made = GreyImage::make(out->shown.width(), out->shown.height());
  if (!made) return nullptr;
  out->grey = *made;
  for (int y = 0; y < out->grey.height(); ++y) {
    const uchar* from = out->shown.constScanLine(y);
    if (grey) {
      std::memcpy(out->grey.row(y), from, std::size_t(out->grey.width()));
      continue;
    }
    const auto* pixels = reinterpret_cast<const QRgb*>(from);
    for (int x = 0; x < out->grey.width(); ++x)
      out->grey.row(y)[x] = std::uint8_t(qGray(pixels[x]));
  }
  for (QImage next = out->shown; std::max(next.width(), next.height()) > 1200;) {
    next = halved(next);
    out->smaller.push_back(next);
  }
  return out;
}

namespace {

DecodedPicture finished(DecodedPicture out, QImage image) {
  if (qint64(image.width()) * image.height() > kMostPixels) {
    out.fault = words("it has more than 128 million pixels");
    return out;
  }
  out.pixels = pixels_of(std::move(image));
  if (!out.pixels) {
    out.fault = words("there is not enough memory for it");
    return out;
  }
  out.header.width = out.pixels->grey.width();
  out.header.height = out.pixels->grey.height();
  return out;
}

}  // namespace

DecodedPicture decode_picture(std::string_view bytes, const std::function<bool()>& stop) {
  DecodedPicture out;
  const auto header = read_picture_header(bytes);
  if (!header) {
    out.broken = true;
    out.fault = QString::fromStdString(header.refusal().reason);
    return out;
  }
  out.header = *header;
  static const bool limited = [] {
    QImageReader::setAllocationLimit(kDecodeLimit_MB);
    return true;
  }();
  (void)limited;
  if (header->kind == "tiff" && is_float_tiff(bytes)) {
    auto image = read_float_tiff(bytes, stop);
    if (!image) {
      out.broken = true;
      out.fault = QString::fromStdString(image.refusal().reason);
      return out;
    }
    return finished(std::move(out), *image);
  }
  QByteArray file = QByteArray::fromRawData(bytes.data(), qsizetype(bytes.size()));
  QBuffer device(&file);
  device.open(QIODevice::ReadOnly);
  QImageReader reader(&device, QByteArray::fromStdString(header->kind));
  reader.setDecideFormatFromContent(false);
  reader.setAutoTransform(true);
  QImage image = reader.read();
  if (stop && stop()) {
    out.fault = words("the work was stopped");
    return out;
  }
  if (image.isNull()) {
    out.broken = reader.error() != QImageReader::UnsupportedFormatError;
    out.fault = reader.error() == QImageReader::UnsupportedFormatError
                    ? words(
                          "pictures of this kind cannot be read here: the Debian package "
                          "qt6-image-formats-plugins is missing")
                    : words("its content is damaged or breaks off");
    return out;
  }
  return finished(std::move(out), std::move(image));
}

std::string png_of(const QImage& picture) {
  QImage image = picture;
  image.setColorSpace({});  // a grey PNG with a colour profile is one that readers complain of
  QByteArray bytes;
  QBuffer device(&bytes);
  device.open(QIODevice::WriteOnly);
  image.save(&device, "PNG");
  return bytes.toStdString();
}

std::string thumbnail_of(const LensPixels& pixels) {
  // From the smallest copy that is still large enough.
  QImage from = pixels.shown;
  for (const QImage& smaller : pixels.smaller)
    if (std::max(smaller.width(), smaller.height()) >= kThumbnail) from = smaller;
  if (std::max(from.width(), from.height()) > kThumbnail)
    from = from.scaled(kThumbnail, kThumbnail, Qt::KeepAspectRatio, Qt::SmoothTransformation);
  return png_of(from);
}

}  // namespace bq::inline pixels
