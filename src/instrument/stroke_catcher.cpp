#include "instrument/stroke_catcher.h"

#include <algorithm>

namespace bq::inline instrument {

void StrokeCatcher::learn_zero(double force_N) {
  zero_ = force_N;
  seen_ = 1;
  under_ = 0;
}

void StrokeCatcher::begin() {
  in_stroke_ = true;
  now_ = {};
  now_.rate_hz = options_.rate_hz;
  now_.headless = before_.empty();
  now_.force_N = before_;
  below_ = above_ = 0;
  sum_below_ = 0;
  peak_ = zero_;
}

void StrokeCatcher::finish(bool cut_off, const Take& take) {
  now_.cut_off = cut_off;
  const bool long_enough = above_ * 1000.0 / options_.rate_hz >= options_.least_ms;
  in_stroke_ = false;
  const double rest = below_ > 0 ? sum_below_ / below_ : zero_;
  if (zero_ - rest > options_.start_N) {
    // It fell farther than it had risen: what was taken for the zero lay within a stroke.
    if (zero_ - rest > peak_ - zero_) now_.headless = true;
    learn_zero(rest);
  }
  // What came last is the "before" of the next one.
  const auto keep = std::min(now_.force_N.size(), std::size_t(std::max(0, below_)));
  before_.assign(now_.force_N.end() - std::ptrdiff_t(keep), now_.force_N.end());
  if (long_enough) take(now_);
}

void StrokeCatcher::sample(double force_N, bool saturated, const Take& take) {
  last_ = force_N;
  const double rest_samples = options_.rest_ms * options_.rate_hz / 1000;
  if (!in_stroke_) {
    // The zero follows what rests: at once in the beginning, then over about half a second.
    ++seen_;
    under_ = zero_ - force_N > options_.start_N ? under_ + 1 : 0;
    if (seen_ == 1 || under_ >= rest_samples) {
      learn_zero(force_N);
      before_.clear();
    } else if (force_N - zero_ <= options_.start_N) {
      zero_ += (force_N - zero_) / double(std::min<long>(seen_, long(options_.rate_hz / 2) + 1));
    }
    if (force_N - zero_ <= options_.start_N) {
      before_.push_back(float(force_N));
      if (before_.size() > std::size_t(options_.before_ms * options_.rate_hz / 1000))
        before_.erase(before_.begin());
      return;
    }
    begin();
  }
  now_.force_N.push_back(float(force_N));
  now_.saturated += saturated;
  peak_ = std::max(peak_, force_N);
  if (force_N - zero_ < options_.stop_N) {
    ++below_;
    sum_below_ += force_N;
  } else {
    below_ = 0;
    sum_below_ = 0;
    ++above_;
  }
  if (below_ >= rest_samples)
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
