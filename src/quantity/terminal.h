#pragma once

#include <string>
#include <string_view>

namespace bq::inline quantity {

/// Text for a terminal: control characters (C0 but line ends and tabs, DEL, C1) and marks that turn
/// the writing direction are shown as what they are ("␛", "<U+202E>"), so that a name cannot
/// colour, clear or rewrite what was printed. Everything else, broken UTF-8 included, stays.
std::string shown_controls(std::string_view text);

/// Standard output and error show control characters where they go to a terminal; into files and
/// pipes the bytes go as they are. Once, at the start of a program.
void guard_terminal();

}  // namespace bq::inline quantity
