#include "lens/grey_image.h"

#include <algorithm>
#include <cmath>

#include "quantity/said.h"

namespace bq::inline lens {

double dot(Spot a, Spot b) { return a.x * b.x + a.y * b.y; }
double length(Spot a) { return std::hypot(a.x, a.y); }

GreyImage::GreyImage(int width, int height, std::uint8_t fill)
    : width_(width), height_(height), pixels_(std::size_t(width) * std::size_t(height), fill) {}

Checked<GreyImage> GreyImage::make(int width, int height, std::uint8_t fill) {
  if (width < 1 || height < 1) return Refusal{said("a picture needs at least one pixel")};
  if (std::int64_t(width) * height > kMostPixels)
    return Refusal{said("the picture has more than 128 million pixels")};
  return GreyImage(width, height, fill);
}

double GreyImage::at(Spot p) const {
  const double x = std::clamp(p.x, 0.0, double(width_ - 1)),
               y = std::clamp(p.y, 0.0, double(height_ - 1));
  const int x0 = std::min(int(x), std::max(0, width_ - 2)),
            y0 = std::min(int(y), std::max(0, height_ - 2));
  const int x1 = std::min(x0 + 1, width_ - 1), y1 = std::min(y0 + 1, height_ - 1);
  const double fx = x - x0, fy = y - y0;
  const std::uint8_t *upper = row(y0), *lower = row(y1);
  return (1 - fy) * ((1 - fx) * upper[x0] + fx * upper[x1]) +
         fy * ((1 - fx) * lower[x0] + fx * lower[x1]);
}

GreyImage shrunk(const GreyImage& image, int longest) {
  const int side = std::max(image.width(), image.height());
  if (image.empty() || side <= longest || longest < 1) return image;
  const int w = std::max(1, int(std::lround(double(image.width()) * longest / side))),
            h = std::max(1, int(std::lround(double(image.height()) * longest / side)));
  GreyImage out = *GreyImage::make(w, h);
  std::vector<std::uint32_t> sums(static_cast<std::size_t>(w)), counts(static_cast<std::size_t>(w));
  for (int y = 0; y < h; ++y) {
    std::fill(sums.begin(), sums.end(), 0u);
    std::fill(counts.begin(), counts.end(), 0u);
    const int from = int(std::int64_t(y) * image.height() / h),
              to = std::max(from + 1, int(std::int64_t(y + 1) * image.height() / h));
    for (int sy = from; sy < to; ++sy) {
      const std::uint8_t* line = image.row(sy);
      for (int x = 0; x < w; ++x) {
        const int left = int(std::int64_t(x) * image.width() / w),
                  right = std::max(left + 1, int(std::int64_t(x + 1) * image.width() / w));
        for (int sx = left; sx < right; ++sx) sums[std::size_t(x)] += line[sx];
        counts[std::size_t(x)] += std::uint32_t(right - left);
      }
    }
    for (int x = 0; x < w; ++x)
      out.row(y)[x] = std::uint8_t((sums[std::size_t(x)] + counts[std::size_t(x)] / 2) /
                                   counts[std::size_t(x)]);
  }
  return out;
}

}  // namespace bq::inline lens
