#pragma once

#include <string_view>

namespace bq::inline report {

/// The program's typeface as a file's bytes, under a family name for papers (made by
/// cmake/make_typeface.py).
std::string_view typeface_bytes(bool bold);

/// Family that papers are set in, for Pango: the program's typeface, whatever is installed here;
/// the first call makes it known to this process.
const char* paper_typeface();

}  // namespace bq::inline report
