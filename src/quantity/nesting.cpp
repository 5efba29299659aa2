#include "quantity/nesting.h"

#include <algorithm>

namespace bq::inline quantity {

int json_nesting(std::string_view text) {
  int deep = 0, deepest = 0;
  bool quoted = false;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (quoted && c == '\\')
      ++i;
    else if (c == '"')
      quoted = !quoted;
    else if (!quoted && (c == '[' || c == '{'))
      deepest = std::max(deepest, ++deep);
    else if (!quoted && (c == ']' || c == '}'))
      --deep;
  }
  return deepest;
}

}  // namespace bq::inline quantity
