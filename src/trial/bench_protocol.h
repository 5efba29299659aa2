#pragma once

#include <optional>
#include <string>
#include <vector>

#include "quantity/measure.h"

namespace bq::inline trial {

/// How cuts are counted.
enum class CountBy { block, each };
std::string_view name_of(CountBy count);  ///< "whole block", "every cut"
std::optional<CountBy> parse_count_by(std::string_view text);

/// How this bench runs its trials; kept with the project.
struct BenchProtocol {
  std::vector<std::string> stations{"heel", "middle",
                                    "tip"};  ///< readings take them in turn; empty: not said
  bool prepare = true;  ///< ask that the edge was sharpened and its angle looked at
  bool gate = true;     ///< hold a start outside its control limits
  bool clean = true;    ///< ask for cleaning before a checkpoint's readings
  bool look = true;     ///< look for damage after a checkpoint's readings
  CountBy count_by = CountBy::block;
  double seconds_per_cut = 4;  ///< pace; 0: none shown
  bool sound = false;          ///< a tone at every beat of the pace
  double stroke_mm = 0;        ///< wished length of a stroke; 0: not said
  double rest_after_min = 20;  ///< of cutting; 0: no rests
  double rest_min = 5;
  bool stop_at_threshold = true;
  bool stop_on_damage = true;
  std::int64_t most_cuts = 0;  ///< budget of a run; 0: the plan's end only
  std::string loading_rate;    ///< of the gauge, in words: "20 mm/min"
  std::string filament_lot;
  std::string medium_batch;
  double check_nominal = 0;  ///< of the check weight; 0: none is used
  Unit check_unit = Unit::gf;
  double check_limit_percent = 2;  ///< off by more: the gauge has drifted
  int debounce_ms = 250;           ///< the same key again within this time is one press
  bool operator==(const BenchProtocol&) const = default;
  /// "20 mm/min, filament lot 7", as it is kept with every reading; "" when nothing is said.
  [[nodiscard]] std::string gauge_words() const;
};

/// What is out of range, in words; "" when it can be used.
std::string fault_of(const BenchProtocol& protocol);

/// Cuts of a run after which a rest is due, up to `last`.
std::vector<std::int64_t> rests_of(const BenchProtocol& protocol, std::int64_t last);

}  // namespace bq::inline trial
