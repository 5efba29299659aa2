#pragma once

#include <string>
#include <string_view>

#include "quantity/checked.h"

namespace bq::inline lens {

/// Largest picture file that is taken in.
inline constexpr std::size_t kLargestPictureFile = 256u << 20;

/// A picture file's kind by its first bytes: "png", "jpeg", "tiff", "bmp"; "" for anything else.
std::string picture_kind(std::string_view bytes);

/// What a picture file says of itself before a pixel of it is read.
struct PictureHeader {
  std::string kind;  ///< as picture_kind
  int width = 0, height = 0;
  std::string
      taken_at;  ///< EXIF time as ISO 8601 without a zone ("2026-03-02T10:15:00"); "" not said
};

/// Reads it from the file's first bytes (all of them for TIFF); never reads outside them. Refused
/// in whole words: another kind of file, one that breaks off, no pixels, more than kMostPixels.
Checked<PictureHeader> read_picture_header(std::string_view bytes);

}  // namespace bq::inline lens
