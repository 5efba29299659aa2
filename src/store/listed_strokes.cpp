#include "store/listed_strokes.h"

#include <algorithm>
#include <cmath>
#include <utility>

#include "quantity/said.h"

namespace bq::inline store {
namespace {

/// The coarsest step of 0.01 to 0.00001 N that keeps every sample as it is written.
double step_of(const std::vector<float>& force_N) {
  for (const double step : {0.01, 0.001, 0.0001})
    if (std::all_of(force_N.begin(), force_N.end(), [step](float force) {
          return std::fabs(double(force) - step * std::round(double(force) / step)) <
                 1e-6 * std::max(1.0, std::fabs(double(force)));
        }))
      return step;
  return 0.00001;
}

}  // namespace

void StrokeSamples::take(const Sample& sample) {
  if (!stroke_ || stroke_->run != sample.run || stroke_->cuts != sample.cuts ||
      sample.number != number_ || sample.seconds <= times_.back()) {
    end();
    stroke_ = ListedStroke{sample.run, sample.by_operator, sample.cuts, {}, sample.line};
    number_ = sample.number;
  }
  times_.push_back(sample.seconds);
  stroke_->stroke.force_N.push_back(float(sample.force_N));
}

std::vector<ListedStroke> StrokeSamples::strokes() {
  end();
  return std::exchange(whole_, {});
}

void StrokeSamples::end() {
  if (!stroke_) return;
  ListedStroke whole = std::move(*stroke_);
  stroke_.reset();
  const std::vector<double> times = std::exchange(times_, {});
  constexpr std::size_t kLeastSamples = 20, kMostSamples = 1'000'000;
  if (times.size() < kLeastSamples || times.size() > kMostSamples) {
    faults_.push_back({whole.line, false,
                       said("a stroke of {times} samples: 20 to 1000000 can be read",
                            {{"times", std::to_string(times.size())}})});
    return;
  }
  const double step = (times.back() - times.front()) / double(times.size() - 1);
  for (std::size_t i = 1; i < times.size(); ++i)
    if (std::fabs(times[i] - times[i - 1] - step) > 0.2 * step) {
      faults_.push_back({whole.line + i, true,
                         said("the samples of the stroke from line {line} are not evenly spaced in "
                              "time: some are missing, or times are rounded",
                              {{"line", std::to_string(whole.line)}})});
      return;
    }
  whole.stroke.rate_hz = 1 / step;
  whole.stroke.resolution_N = step_of(whole.stroke.force_N);
  whole_.push_back(std::move(whole));
}

}  // namespace bq::inline store
