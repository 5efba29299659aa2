#include "instrument/stroke_catcher.h"

#include <algorithm>

namespace bq::inline instrument {

void StrokeCatcher::finish(bool cut_off, const Take& take) {
  now_.cut_off = cut_off;
  const bool long_enough = above_ * 1000.0 / options_.rate_hz >= options_.least_ms;
  in_stroke_ = false;
  // What came last is the "before" of the next one.
  const auto keep = std::min(now_.force_N.size(), std::size_t(std::max(0, below_)));
  before_.assign(now_.force_N.end() - std::ptrdiff_t(keep), now_.force_N.end());
  if (long_enough) take(now_);
}

void StrokeCatcher::sample(double force_N, bool saturated, const Take& take) {
  last_ = force_N;
  const auto most_before = std::size_t(options_.before_ms * options_.rate_hz / 1000);
  if (!in_stroke_) {
    // The zero follows what rests: at once in the beginning, then over about half a second.
    ++seen_;
    if (force_N - zero_ <= options_.start_N || seen_ == 1)
      zero_ += (force_N - zero_) / double(std::min<long>(seen_, long(options_.rate_hz / 2) + 1));
    if (force_N - zero_ > options_.start_N) {
      in_stroke_ = true;
      now_ = {};
      now_.rate_hz = options_.rate_hz;
      now_.force_N = before_;
      below_ = above_ = 0;
    } else {
      before_.push_back(float(force_N));
      if (before_.size() > most_before) before_.erase(before_.begin());
      return;
    }
  }
  now_.force_N.push_back(float(force_N));
  now_.saturated += saturated;
  if (force_N - zero_ < options_.stop_N)
    ++below_;
  else {
    below_ = 0;
    ++above_;
  }
  if (below_ >= options_.rest_ms * options_.rate_hz / 1000)
    finish(false, take);
  else if (double(now_.force_N.size()) > options_.longest_s * options_.rate_hz)
    finish(true, take);
}

void StrokeCatcher::lost(const Take& take) {
  if (!in_stroke_) return;
  ++now_.lost;
  sample(last_, false, take);
}

void StrokeCatcher::silent(const Take& take) {
  if (in_stroke_) finish(last_ - zero_ >= options_.stop_N, take);
  before_.clear();
}

}  // namespace bq::inline instrument
