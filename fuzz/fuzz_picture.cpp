// What a picture file says of itself, and what the project file says of pictures.
#include <cstdint>
#include <string_view>

#include "lens/grey_image.h"
#include "lens/picture_header.h"
#include "store/micrograph_json.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const std::string_view bytes(reinterpret_cast<const char*>(data), size);
  if (const auto header = bq::read_picture_header(bytes))
    if (header->width < 1 || header->height < 1 ||
        std::int64_t(header->width) * header->height > bq::kMostPixels)
      __builtin_trap();
  if (const auto micrograph = bq::parse_micrograph(bytes))
    if (!bq::parse_micrograph(bq::micrograph_json(*micrograph))) __builtin_trap();
  (void)bq::parse_scales(bytes);
  return 0;
}
