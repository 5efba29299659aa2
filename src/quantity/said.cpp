#include "quantity/said.h"

#include <atomic>

namespace bq::inline quantity {

namespace {

std::atomic<Catalogue> in_use = nullptr;

const std::string* text_at(std::initializer_list<InPlace> places, std::string_view name) {
  for (const auto& place : places)
    if (place.name == name) return &place.text;
  return nullptr;
}

}  // namespace

std::string said(const char* sentence, std::initializer_list<InPlace> places) {
  const Catalogue catalogue = in_use.load(std::memory_order_relaxed);
  std::string found = catalogue && *sentence ? catalogue(sentence) : std::string(sentence);
  if (places.size() == 0) return found;
  std::string out;
  std::string_view left = found;
  while (!left.empty()) {
    const std::size_t open = left.find('{');
    const std::size_t close = left.find('}', open);
    out += left.substr(0, open);
    if (open == left.npos || close == left.npos) {
      if (open != left.npos) out += left.substr(open);
      break;
    }
    if (const auto* text = text_at(places, left.substr(open + 1, close - open - 1)))
      out += *text;
    else
      out += left.substr(open, close - open + 1);
    left.remove_prefix(close + 1);
  }
  return out;
}

void say_by(Catalogue catalogue) { in_use = catalogue; }

}  // namespace bq::inline quantity
