#pragma once

#include <cstdint>
#include <vector>

namespace bq::inline report {

/// A page as pixels: 32 bits each, 0xffRRGGBB, rows without padding.
struct PageImage {
  int width = 0, height = 0;
  std::vector<std::uint32_t> pixels;
};

}  // namespace bq::inline report
