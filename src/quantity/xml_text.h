#pragma once

#include <string>
#include <string_view>

namespace bq::inline quantity {

/// A text as it stands in XML and HTML, in content and in quoted attributes.
inline std::string xml_text(std::string_view text) {
  std::string out;
  for (const char c : text) switch (c) {
      case '&':
        out += "&amp;";
        break;
      case '<':
        out += "&lt;";
        break;
      case '>':
        out += "&gt;";
        break;
      case '"':
        out += "&quot;";
        break;
      default:
        out += c;
    }
  return out;
}

}  // namespace bq::inline quantity
