#include "instrument/line_framing.h"

namespace bq::inline instrument {

void LineFramer::begin() {
  held_.clear();
  unsure_ = true;
  skipping_ = false;
}

void LineFramer::feed(std::string_view bytes, const Take& take) {
  while (!bytes.empty()) {
    const std::size_t at = bytes.find(end_);
    const std::string_view part = bytes.substr(0, at);
    if (!skipping_ && held_.size() + part.size() > kLongest + 1) {
      held_.append(part.substr(0, kLongest - std::min(held_.size(), kLongest)));
      skipping_ = true;
    } else if (!skipping_) {
      held_.append(part);
    }
    if (at == std::string_view::npos) return;
    bytes.remove_prefix(at + 1);
    std::string_view line = held_;
    // The "\r" of "\r\n", and the "\n" that follows where lines end in "\r".
    if (end_ == '\n' && line.ends_with('\r')) line.remove_suffix(1);
    if (end_ == '\r' && line.starts_with('\n')) line.remove_prefix(1);
    if (skipping_ || line.size() > kLongest)
      take({line.substr(0, kLongest), false, "the line is too long"});
    else if (unsure_ && !line.empty())
      take({line, false, "its beginning may be missing"});
    else if (!line.empty())
      take({line, true, {}});
    held_.clear();
    unsure_ = skipping_ = false;
  }
}

void LineFramer::quiet(const Take& take) {
  if (!held_.empty())
    take({std::string_view(held_).substr(0, kLongest), false, "the line was never finished"});
  held_.clear();
  unsure_ = skipping_ = false;
}

}  // namespace bq::inline instrument
