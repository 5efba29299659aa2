#pragma once

#include <cstdint>
#include <vector>

#include "quantity/checked.h"

namespace bq::inline lens {

/// A point of a picture in pixels: x to the right, y downward; (0, 0) is the centre of the first
/// pixel.
struct Spot {
  double x = 0, y = 0;
  bool operator==(const Spot&) const = default;
};
inline Spot operator+(Spot a, Spot b) { return {a.x + b.x, a.y + b.y}; }
inline Spot operator-(Spot a, Spot b) { return {a.x - b.x, a.y - b.y}; }
inline Spot operator*(double k, Spot a) { return {k * a.x, k * a.y}; }
double dot(Spot a, Spot b);
double length(Spot a);
/// A quarter turn: (x, y) becomes (-y, x).
inline Spot turned(Spot a) { return {-a.y, a.x}; }

/// Largest picture that is taken in, in pixels; with the working copies (four bytes a pixel shown,
/// one measured, a third more for smaller copies) one picture needs at most 0.9 GB.
inline constexpr std::int64_t kMostPixels = 128'000'000;

/// Brightness of a picture, one byte a pixel, rows from the top. All measuring is done on it.
class GreyImage {
 public:
  GreyImage() = default;
  /// Refused: no pixels, or more than kMostPixels.
  static Checked<GreyImage> make(int width, int height, std::uint8_t fill = 0);

  [[nodiscard]] int width() const { return width_; }
  [[nodiscard]] int height() const { return height_; }
  [[nodiscard]] bool empty() const { return pixels_.empty(); }
  [[nodiscard]] const std::uint8_t* row(int y) const {
    return pixels_.data() + std::size_t(y) * std::size_t(width_);
  }
  [[nodiscard]] std::uint8_t* row(int y) {
    return pixels_.data() + std::size_t(y) * std::size_t(width_);
  }
  [[nodiscard]] bool contains(Spot p) const {
    return p.x >= 0 && p.y >= 0 && p.x <= width_ - 1 && p.y <= height_ - 1;
  }
  /// Brightness between pixels, bilinear; outside the picture that of its rim.
  [[nodiscard]] double at(Spot p) const;

 private:
  GreyImage(int width, int height, std::uint8_t fill);
  int width_ = 0, height_ = 0;
  std::vector<std::uint8_t> pixels_;
};

/// The picture made smaller by averaging, so that its longer side is at most `longest`; unchanged
/// where it is.
GreyImage shrunk(const GreyImage& image, int longest);

}  // namespace bq::inline lens
