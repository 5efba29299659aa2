#include "lens/picture_header.h"

#include <gtest/gtest.h>

#include "lens/grey_image.h"
#include "lens/png_bytes.h"
#include "stats/random.h"

namespace bq {
namespace {

using namespace std::string_literals;

std::string little(std::uint32_t value, int count) {
  std::string out;
  for (int i = 0; i < count; ++i) out += char(value >> (8 * i) & 0xff);
  return out;
}

/// A TIFF structure with a width, a height, and an EXIF directory that says when.
std::string tiff(std::uint32_t width, std::uint32_t height,
                 const std::string& time = "2026:03:02 10:15:00") {
  std::string out = "II*\0"s + little(8, 4) + little(3, 2);
  const auto entry = [&](int tag, int type, int count, std::uint32_t value) {
    out += little(std::uint32_t(tag), 2) + little(std::uint32_t(type), 2) +
           little(std::uint32_t(count), 4) + little(value, 4);
  };
  entry(0x100, 4, 1, width);
  entry(0x101, 4, 1, height);
  entry(0x8769, 4, 1, 50);
  out += little(0, 4);  // no next directory: 50 bytes so far
  out += little(1, 2);
  entry(0x9003, 2, 20, 68);
  out += little(0, 4);
  return out + time + '\0';
}

std::string jpeg(int width, int height) {
  const std::string exif = "Exif\0\0"s + tiff(1, 1);
  const auto big = [](int value) { return std::string{char(value >> 8), char(value & 0xff)}; };
  return "\xff\xd8\xff\xe1"s + big(int(exif.size()) + 2) + exif + "\xff\xc0"s + big(11) + "\x08"s +
         big(height) + big(width) + "\x01\x01\x11\x00"s + "\xff\xda"s + big(8) + "scans of it"s +
         "\xff\xd9"s;
}

std::string bmp(std::uint32_t width, std::uint32_t height) {
  return "BM"s + std::string(12, '\0') + little(40, 4) + little(width, 4) + little(height, 4) +
         std::string(28, '\0');
}

std::string png() { return png_bytes(*GreyImage::make(320, 200, 77)); }

TEST(PictureHeader, SaysKindSizeAndTime) {
  const auto of = [](const std::string& bytes) {
    const auto header = read_picture_header(bytes);
    return header ? header->kind + " " + std::to_string(header->width) + "x" +
                        std::to_string(header->height) + " " + header->taken_at
                  : header.refusal().reason;
  };
  EXPECT_EQ(of(png()), "png 320x200 ");
  EXPECT_EQ(of(jpeg(640, 480)), "jpeg 640x480 2026-03-02T10:15:00");
  EXPECT_EQ(of(tiff(800, 600)), "tiff 800x600 2026-03-02T10:15:00");
  EXPECT_EQ(of(bmp(64, 48)), "bmp 64x48 ");
  EXPECT_EQ(of(bmp(64, 0u - 48u)), "bmp 64x48 ") << "rows from the top";
  EXPECT_EQ(of(tiff(8, 8, "no time at all, sorry")), "tiff 8x8 ");
}

TEST(PictureHeader, RefusesWhatIsNoneOrTooLarge) {
  for (const std::string& bytes :
       {""s, "GIF89a"s, png().substr(0, 20), jpeg(640, 480).substr(0, 30),
        jpeg(640, 480).substr(0, jpeg(640, 480).size() - 2), tiff(0, 5), tiff(40'000, 40'000),
        bmp(0xffffffff, 2), bmp(200'000, 1), bmp(3, 3).substr(0, 20)}) {
    const auto header = read_picture_header(bytes);
    EXPECT_FALSE(header);
    if (!header) {
      EXPECT_GT(header.refusal().reason.size(), 20u);
    }
  }
}

// The sanitizer build shows that nothing outside the bytes is read.
TEST(PictureHeader, NeverReadsOutsideDamagedFiles) {
  stats::Random random(3);
  int taken = 0;
  for (int i = 0; i < 40'000; ++i) {
    std::string bytes = i % 4 == 0   ? png()
                        : i % 4 == 1 ? jpeg(640, 480)
                        : i % 4 == 2 ? tiff(800, 600)
                                     : bmp(64, 48);
    for (int k = 0; k < 1 + int(random.below(6)); ++k)
      bytes[random.below(std::min<std::size_t>(bytes.size(), 120))] = char(random.below(256));
    if (random.below(3) == 0) bytes.resize(random.below(bytes.size()));
    const auto header = read_picture_header(std::string(bytes));
    if (!header) continue;
    ++taken;
    EXPECT_GT(header->width, 0);
    EXPECT_LE(std::int64_t(header->width) * header->height, kMostPixels);
  }
  EXPECT_GT(taken, 1000);
}

}  // namespace
}  // namespace bq
