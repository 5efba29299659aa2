#pragma once

#include <string_view>

namespace bq::inline quantity {

/// Deeper than this no file of this program goes; what is deeper is refused before it is read, for
/// it could end a program that follows it down.
inline constexpr int kDeepestJson = 100;
/// How deep the lists and objects of a JSON text lie in each other, brackets in its texts left out.
/// One look at every byte; the text need not be valid.
int json_nesting(std::string_view text);
inline bool too_deep(std::string_view text) { return json_nesting(text) > kDeepestJson; }
inline constexpr std::string_view kTooDeep = "its lists lie more than 100 deep in each other";

}  // namespace bq::inline quantity
