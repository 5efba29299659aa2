#pragma once

#include <functional>
#include <vector>

namespace bq::inline instrument {

/// One stroke as a force cell saw it, with a little before and after.
struct CaughtStroke {
  std::vector<float>
      force_N;  ///< one sample every 1/rate_hz seconds, as measured (its zero is not taken off)
  double rate_hz = 1000;
  int lost = 0;  ///< lines in it that could not be read; the sample before stands in their place
  int saturated = 0;      ///< samples at the cell's capacity
  bool cut_off = false;   ///< the line fell silent before the force had come back
  bool headless = false;  ///< its beginning was not heard, so nobody knows its zero or its length
};

struct StrokeCatcherOptions {
  double rate_hz = 1000;  ///< > 0
  double start_N = 1.0;   ///< above the zero: a stroke has begun
  double stop_N = 0.5;    ///< below it for `rest_ms`: it is over
  int before_ms = 60, rest_ms = 60;
  double least_ms = 30;   ///< shorter bumps are no strokes
  double longest_s = 10;  ///< then it is ended
};

/// Cuts strokes out of a stream of forces. The zero is the mean of what lies just before a stroke;
/// it follows slow drift. A stroke that was under way when the stream began, or began again after a
/// silence, is told as `headless`; the zero is learnt anew from the rest behind it.
class StrokeCatcher {
 public:
  using Take = std::function<void(const CaughtStroke&)>;
  explicit StrokeCatcher(const StrokeCatcherOptions& options = {}) : options_(options) {}
  void sample(double force_N, bool saturated, const Take& take);
  void lost(const Take& take);    ///< a line that could not be read
  void silent(const Take& take);  ///< the stream has stopped
  [[nodiscard]] bool in_stroke() const { return in_stroke_; }
  [[nodiscard]] double zero_N() const { return zero_; }

 private:
  void begin();
  void finish(bool cut_off, const Take& take);
  void learn_zero(double force_N);
  StrokeCatcherOptions options_;
  std::vector<float> before_;  ///< the last `before_ms`
  CaughtStroke now_;
  double zero_ = 0, last_ = 0;
  long seen_ = 0;
  int below_ = 0, above_ = 0;
  int under_ = 0;         ///< samples in a row below the zero by more than a stroke's start
  double sum_below_ = 0;  ///< of the last `below_` samples
  double peak_ = 0;       ///< largest of the stroke
  bool in_stroke_ = false;
};

}  // namespace bq::inline instrument
