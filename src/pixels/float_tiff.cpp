#include "pixels/float_tiff.h"

#include <tiffio.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <memory>
#include <vector>

#include "lens/grey_image.h"
#include "quantity/said.h"

namespace bq::inline pixels {
namespace {

/// The file as it lies in memory; libtiff never writes to it.
struct Source {
  std::string_view bytes;
  std::size_t at = 0;
};

tmsize_t read_some(thandle_t handle, void* to, tmsize_t wanted) {
  auto& source = *static_cast<Source*>(handle);
  if (source.at >= source.bytes.size() || wanted < 0) return 0;
  const std::size_t count = std::min(std::size_t(wanted), source.bytes.size() - source.at);
  std::memcpy(to, source.bytes.data() + source.at, count);
  source.at += count;
  return tmsize_t(count);
}
tmsize_t write_none(thandle_t, void*, tmsize_t) { return 0; }
toff_t seek_to(thandle_t handle, toff_t offset, int whence) {
  auto& source = *static_cast<Source*>(handle);
  const std::size_t base = whence == SEEK_CUR   ? source.at
                           : whence == SEEK_END ? source.bytes.size()
                                                : 0;
  source.at = base + std::size_t(offset);
  return source.at;
}
int close_none(thandle_t) { return 0; }
toff_t size_of(thandle_t handle) { return static_cast<Source*>(handle)->bytes.size(); }

using File = std::unique_ptr<TIFF, decltype(&TIFFClose)>;

/// What libtiff would print is said by us, once.
File opened(Source& source) {
  TIFFSetErrorHandler(nullptr);
  TIFFSetWarningHandler(nullptr);
  // "m": not mapped into memory, it is there already.
  return {TIFFClientOpen("picture", "rm", &source, read_some, write_none, seek_to, close_none,
                         size_of, nullptr, nullptr),
          TIFFClose};
}

struct Layout {
  std::uint32_t width = 0, height = 0;
  std::uint16_t bits = 0, samples = 1, format = 0, planar = PLANARCONFIG_CONTIG;
};

Layout layout_of(TIFF* file) {
  Layout out;
  TIFFGetField(file, TIFFTAG_IMAGEWIDTH, &out.width);
  TIFFGetField(file, TIFFTAG_IMAGELENGTH, &out.height);
  TIFFGetFieldDefaulted(file, TIFFTAG_BITSPERSAMPLE, &out.bits);
  TIFFGetFieldDefaulted(file, TIFFTAG_SAMPLESPERPIXEL, &out.samples);
  TIFFGetFieldDefaulted(file, TIFFTAG_SAMPLEFORMAT, &out.format);
  TIFFGetFieldDefaulted(file, TIFFTAG_PLANARCONFIG, &out.planar);
  return out;
}

/// IEEE 754 half precision.
float half_of(std::uint16_t bits) {
  const int exponent = (bits >> 10) & 31;
  const double fraction = (bits & 1023) / 1024.0;
  const double size = exponent == 0    ? std::ldexp(fraction, -14)
                      : exponent == 31 ? std::nan("")
                                       : std::ldexp(1 + fraction, exponent - 15);
  return float((bits & 0x8000) != 0 ? -size : size);
}

float sample_of(const unsigned char* at, int bits) {
  if (bits == 64) {
    double value = 0;
    std::memcpy(&value, at, 8);
    return float(value);
  }
  if (bits == 32) {
    float value = 0;
    std::memcpy(&value, at, 4);
    return value;
  }
  std::uint16_t value = 0;
  std::memcpy(&value, at, 2);
  return half_of(value);
}

/// Mean of the colours of each pixel, rows from the top; false where the file breaks off.
bool read_all(TIFF* file, const Layout& layout, std::vector<float>& out,
              const std::function<bool()>& stop) {
  const int colours = std::min<int>(layout.samples, 3);
  const std::size_t bytes = layout.bits / 8;
  const bool apart = layout.planar == PLANARCONFIG_SEPARATE;
  const std::size_t stride = apart ? bytes : bytes * layout.samples;
  // A block holds `wide` pixels of a row; rows of pictures in strips are one block.
  const auto take = [&](const unsigned char* from, std::uint32_t x0, std::uint32_t y,
                        std::uint32_t wide, int colour) {
    for (std::uint32_t x = x0; x < std::min(layout.width, x0 + wide); ++x)
      out[std::size_t(y) * layout.width + x] +=
          sample_of(from + (x - x0) * stride + (apart ? 0 : std::size_t(colour) * bytes),
                    layout.bits) /
          float(colours);
  };
  const int planes = apart ? colours : 1;
  if (!TIFFIsTiled(file)) {
    if (TIFFScanlineSize64(file) < std::uint64_t(layout.width) * stride) return false;
    std::vector<unsigned char> row(std::size_t(TIFFScanlineSize64(file)));
    for (int plane = 0; plane < planes; ++plane)
      for (std::uint32_t y = 0; y < layout.height; ++y) {
        if (stop && y % 64 == 0 && stop()) return false;
        if (TIFFReadScanline(file, row.data(), y, std::uint16_t(plane)) < 0) return false;
        for (int colour = 0; colour < (apart ? 1 : colours); ++colour)
          take(row.data(), 0, y, layout.width, colour);
      }
    return true;
  }
  std::uint32_t wide = 0, high = 0;
  TIFFGetField(file, TIFFTAG_TILEWIDTH, &wide);
  TIFFGetField(file, TIFFTAG_TILELENGTH, &high);
  const std::uint64_t size = TIFFTileSize64(file);
  if (wide == 0 || high == 0 || size > (std::uint64_t(64) << 20) ||
      size < std::uint64_t(wide) * high * stride)
    return false;
  std::vector<unsigned char> tile(std::size_t{size});
  for (int plane = 0; plane < planes; ++plane)
    for (std::uint32_t y = 0; y < layout.height; y += high)
      for (std::uint32_t x = 0; x < layout.width; x += wide) {
        if (stop && stop()) return false;
        if (TIFFReadTile(file, tile.data(), x, y, 0, std::uint16_t(plane)) < 0) return false;
        for (std::uint32_t row = 0; row < std::min(high, layout.height - y); ++row)
          for (int colour = 0; colour < (apart ? 1 : colours); ++colour)
            take(tile.data() + std::size_t(row) * wide * stride, x, y + row, wide, colour);
      }
  return true;
}

}  // namespace

bool is_float_tiff(std::string_view bytes) {
  Source source{bytes};
  const File file = opened(source);
  return file && layout_of(file.get()).format == SAMPLEFORMAT_IEEEFP;
}

Checked<QImage> read_float_tiff(std::string_view bytes, const std::function<bool()>& stop) {
  Source source{bytes};
  const File file = opened(source);
  if (!file) return Refusal{said("its content is damaged or breaks off")};
  const Layout layout = layout_of(file.get());
  if (layout.width == 0 || layout.height == 0 || layout.samples == 0)
    return Refusal{said("its content is damaged or breaks off")};
  if (std::uint64_t(layout.width) * layout.height > std::uint64_t(kMostPixels))
    return Refusal{said("it has more than 128 million pixels")};
  if (layout.bits != 16 && layout.bits != 32 && layout.bits != 64)
    return Refusal{said("its floating-point samples have a size that is not known here")};
  std::vector<float> values(std::size_t(layout.width) * layout.height, 0.F);
  if (!read_all(file.get(), layout, values, stop))
    return Refusal{stop && stop() ? "the work was stopped"
                                  : "its content is damaged or breaks off"};
  float least = 0, most = 0;
  for (float& value : values) {
    if (!std::isfinite(value)) value = 0;
    least = std::min(least, value);
    most = std::max(most, value);
  }
  constexpr std::array<float, 6> kWhites{1, 255, 1023, 4095, 16383, 65535};
  const auto white =
      std::find_if(kWhites.begin(), kWhites.end(), [most](float level) { return level >= most; });
  const float top = white == kWhites.end() ? most : *white;
  QImage out(int(layout.width), int(layout.height), QImage::Format_Grayscale16);
  if (out.isNull()) return Refusal{said("there is not enough memory for it")};
  for (int y = 0; y < out.height(); ++y) {
    auto* row = reinterpret_cast<quint16*>(out.scanLine(y));
    const float* from = values.data() + std::size_t(y) * layout.width;
    for (int x = 0; x < out.width(); ++x)
      row[x] = quint16(std::lround(65535 * (from[x] - least) / (top - least)));
  }
  return out;
}

}  // namespace bq::inline pixels
