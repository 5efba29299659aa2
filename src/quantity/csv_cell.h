#pragma once

#include <string>
#include <string_view>

namespace bq::inline quantity {

/// A cell of a table as it is written: quoted where it must be (RFC 4180). A text that a
/// spreadsheet would run (it begins with = + - @, and is no plain number) gets an apostrophe before
/// it, which keeps it a text there; so does one that begins with an apostrophe and one of these.
std::string csv_cell(std::string_view text);

/// The text that such a cell stands for: without the apostrophe that csv_cell put there.
std::string_view unguarded(std::string_view cell);

}  // namespace bq::inline quantity
