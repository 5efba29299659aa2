#include "lens/png_bytes.h"

#include <png.h>

namespace bq::inline lens {

std::string png_bytes(const GreyImage& image) {
  if (image.empty()) return {};
  png_image out{};
  out.version = PNG_IMAGE_VERSION;
  out.width = png_uint_32(image.width());
  out.height = png_uint_32(image.height());
  out.format = PNG_FORMAT_GRAY;
  out.flags = PNG_IMAGE_FLAG_FAST;
  std::string bytes(std::size_t(PNG_IMAGE_PNG_SIZE_MAX(out)), '\0');
  png_alloc_size_t size = bytes.size();
  if (!png_image_write_to_memory(&out, bytes.data(), &size, 0, image.row(0), 0, nullptr)) return {};
  bytes.resize(size);
  return bytes;
}

}  // namespace bq::inline lens
