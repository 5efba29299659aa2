#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "store/list_table.h"

namespace bq::inline store {

/// Samples of force strokes as a table lists them, one a row, put together to strokes.
class StrokeSamples {
 public:
  struct Sample {
    std::string run, by_operator, number;  ///< `number`: of the stroke; "" not said
    std::int64_t cuts = 0;
    double seconds = 0, force_N = 0;
    std::uint64_t line = 0;
  };
  struct Fault {
    std::uint64_t line = 0;
    bool of_times = false;  ///< else of the whole row
    std::string what;
  };
  /// Another stroke begins with another run, count of cuts or number of the stroke, and where the
  /// time falls back.
  void take(const Sample& sample);
  /// Those that are whole: 20 to 1,000,000 samples, evenly spaced in time to a fifth of a step.
  [[nodiscard]] std::vector<ListedStroke> strokes();
  /// Of the others; after strokes().
  [[nodiscard]] const std::vector<Fault>& faults() const { return faults_; }

 private:
  void end();
  std::vector<ListedStroke> whole_;
  std::vector<Fault> faults_;
  std::optional<ListedStroke> stroke_;  ///< under way
  std::string number_;
  std::vector<double> times_;
};

}  // namespace bq::inline store
