#pragma once

#include <QImage>
#include <functional>
#include <string_view>

#include "quantity/checked.h"

namespace bq::inline pixels {

/// Whether a TIFF file's first picture keeps its brightness as floating-point numbers.
bool is_float_tiff(std::string_view bytes);

/// Its first picture as 16-bit grey (of colours the mean). Black is 0, or the darkest pixel where
/// that is below 0; white is the least of 1, 255, 1023, 4095, 16383 and 65535 that no pixel passes,
/// else the brightest one, so that pictures of one camera stay alike; what is no number is black.
/// Refused in whole words: a file that breaks off, more than kMostPixels, samples of an odd size.
Checked<QImage> read_float_tiff(std::string_view bytes, const std::function<bool()>& stop = {});

}  // namespace bq::inline pixels
