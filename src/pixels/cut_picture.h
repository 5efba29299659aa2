#pragma once

#include <string>
#include <string_view>

#include "report/micrograph_drawing.h"

namespace bq::inline pixels {

/// A part of a picture file as PNG, at most `longest` px on its longer side; "" where it cannot be
/// read. For workers.
std::string cut_picture(std::string_view file, const PicturePart& part, int longest);

}  // namespace bq::inline pixels
