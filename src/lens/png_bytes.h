#pragma once

#include <string>

#include "lens/grey_image.h"

namespace bq::inline lens {

/// The picture as a PNG file (8 bit grey, libpng). Empty for an empty picture.
std::string png_bytes(const GreyImage& image);

}  // namespace bq::inline lens
