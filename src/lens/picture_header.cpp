#include "lens/picture_header.h"

#include <cstdint>
#include <optional>

#include "lens/grey_image.h"
#include "quantity/said.h"

namespace bq::inline lens {
namespace {

/// Numbers of a file at places that may not be there.
struct Bytes {
  std::string_view all;
  bool big_end = true;
  [[nodiscard]] std::optional<std::uint32_t> number(std::size_t at, int count) const {
    if (at > all.size() || all.size() - at < std::size_t(count)) return std::nullopt;
    std::uint32_t out = 0;
    for (int i = 0; i < count; ++i)
      out = out << 8 | std::uint8_t(all[at + std::size_t(big_end ? i : count - 1 - i)]);
    return out;
  }
};

/// "2026:03:02 10:15:00" as ISO 8601; "" for anything else.
std::string iso_time(std::string_view text) {
  static constexpr std::string_view kShape = "dddd:dd:dd dd:dd:dd";
  if (text.size() < kShape.size()) return "";
  std::string out(text.substr(0, kShape.size()));
  for (std::size_t i = 0; i < kShape.size(); ++i)
    if (kShape[i] == 'd' ? out[i] < '0' || out[i] > '9' : out[i] != kShape[i]) return "";
  out[4] = out[7] = '-';
  out[10] = 'T';
  return out.starts_with("0000") ? "" : out;
}

struct Directory {
  std::optional<std::uint32_t> width, height, exif;
  std::string time;
};

/// One directory of a TIFF structure (that of EXIF too).
Directory directory_at(const Bytes& file, std::size_t at, int depth = 0) {
  Directory out;
  const auto count = file.number(at, 2);
  if (!count) return out;
  for (std::uint32_t i = 0; i < *count && i < 512; ++i) {
    const std::size_t entry = at + 2 + 12 * std::size_t(i);
    const auto tag = file.number(entry, 2), type = file.number(entry + 2, 2),
               values = file.number(entry + 4, 4);
    if (!tag || !type || !values) break;
    const auto value = *type == 3 ? file.number(entry + 8, 2) : file.number(entry + 8, 4);
    if (!value) break;
    if (*tag == 0x100) out.width = value;
    if (*tag == 0x101) out.height = value;
    if (*tag == 0x8769) out.exif = value;
    // The moment of exposure wins over that of the last change.
    if ((*tag == 0x132 && out.time.empty()) || *tag == 0x9003)
      if (*type == 2 && *values >= 19 && *value <= file.all.size())
        if (const auto time = iso_time(file.all.substr(*value, 20)); !time.empty()) out.time = time;
  }
  if (out.exif && depth == 0)
    if (const auto inner = directory_at(file, *out.exif, 1); !inner.time.empty())
      out.time = inner.time;
  return out;
}

Directory read_tiff(std::string_view bytes) {
  Bytes file{bytes, bytes.starts_with("MM")};
  const auto first = file.number(4, 4);
  return first ? directory_at(file, *first) : Directory{};
}

Checked<PictureHeader> sized(PictureHeader header, std::optional<std::uint32_t> width,
                             std::optional<std::uint32_t> height) {
  if (!width || !height)
    return Refusal{said("the picture breaks off before it says how large it is")};
  if (*width == 0 || *height == 0) return Refusal{said("the picture has no pixels")};
  if (std::uint64_t(*width) * *height > std::uint64_t(kMostPixels) || *width > 100'000 ||
      *height > 100'000)
    return Refusal{
        said("the picture says that it has {width} × {height} pixels; up to 128 million are taken",
             {{"width", std::to_string(*width)}, {"height", std::to_string(*height)}})};
  header.width = int(*width);
  header.height = int(*height);
  return header;
}

Checked<PictureHeader> read_png(std::string_view bytes) {
  const Bytes file{bytes};
  PictureHeader out{"png", 0, 0, ""};
  if (bytes.size() < 24 || bytes.substr(12, 4) != "IHDR")
    return Refusal{said("the PNG file breaks off or is damaged at its start")};
  for (std::size_t at = 8; at + 12 <= bytes.size();) {
    const auto length = *file.number(at, 4);
    const auto name = bytes.substr(at + 4, 4);
    if (name == "eXIf" && at + 8 + length <= bytes.size())
      out.taken_at = read_tiff(bytes.substr(at + 8, length)).time;
    if (name == "IDAT" || name == "IEND" || length > bytes.size()) break;
    at += 12 + std::size_t(length);
  }
  return sized(out, file.number(16, 4), file.number(20, 4));
}

Checked<PictureHeader> read_jpeg(std::string_view bytes) {
  const Bytes file{bytes};
  PictureHeader out{"jpeg", 0, 0, ""};
  for (std::size_t at = 2; at + 4 <= bytes.size();) {
    if (std::uint8_t(bytes[at]) != 0xff) break;
    const auto marker = std::uint8_t(bytes[at + 1]);
    if (marker == 0xff) {
      ++at;
      continue;
    }
    if (marker == 0xd9 || marker == 0xda) break;
    if (marker == 0x01 || (marker >= 0xd0 && marker <= 0xd8)) {
      at += 2;
      continue;
    }
    const auto length = *file.number(at + 2, 2);
    if (length < 2) break;
    const auto part = bytes.substr(at + 4, length - 2);
    if (marker == 0xe1 && part.starts_with(std::string_view("Exif\0\0", 6)))
      out.taken_at = read_tiff(part.substr(6)).time;
    if (marker >= 0xc0 && marker <= 0xcf && marker != 0xc4 && marker != 0xc8 && marker != 0xcc) {
      // In what follows the first scan its end cannot stand by chance: decoders fill up what is
      // missing with grey and say nothing.
      const auto scan = bytes.find("\xff\xda", at);
      if (scan == std::string_view::npos || bytes.find("\xff\xd9", scan) == std::string_view::npos)
        return Refusal{said("the JPEG picture breaks off before its end")};
      return sized(out, file.number(at + 7, 2), file.number(at + 5, 2));
    }
    at += 2 + std::size_t(length);
  }
  return Refusal{said("the JPEG file breaks off before it says how large it is")};
}

}  // namespace

std::string picture_kind(std::string_view bytes) {
  using namespace std::string_view_literals;
  if (bytes.starts_with("\x89PNG\r\n\x1a\n"sv)) return "png";
  if (bytes.starts_with("\xff\xd8\xff"sv)) return "jpeg";
  if (bytes.starts_with("II*\0"sv) || bytes.starts_with("MM\0*"sv)) return "tiff";
  if (bytes.starts_with("BM"sv) && bytes.size() > 26) return "bmp";
  return "";
}

Checked<PictureHeader> read_picture_header(std::string_view bytes) {
  const std::string kind = picture_kind(bytes);
  if (kind == "png") return read_png(bytes);
  if (kind == "jpeg") return read_jpeg(bytes);
  if (kind == "tiff") {
    const Directory directory = read_tiff(bytes);
    return sized({kind, 0, 0, directory.time}, directory.width, directory.height);
  }
  if (kind == "bmp") {
    const Bytes file{bytes, false};
    auto height = file.number(22, 4);
    if (height && *height > 0x7fffffffu) height = 0u - *height;  // rows from the top
    return sized({kind, 0, 0, ""}, file.number(18, 4), height);
  }
  return Refusal{said("it is no PNG, JPEG, TIFF or BMP picture")};
}

}  // namespace bq::inline lens
