#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace bq::inline trial {

/// One of two treatments (stones, strops, finishing steps) that are compared.
struct Treatment {
  std::string name;
  std::optional<double> minutes;     ///< per blade
  std::optional<double> metal_mm3;   ///< taken off per blade
  std::optional<double> wear_um;     ///< height the abrasive lost per blade
  std::optional<double> wear_price;  ///< of that, in the bench's own money per blade
  std::string mess;                  ///< in words
  bool operator==(const Treatment&) const = default;
};

/// Two neighbouring marked sections of one blade, one for each treatment, read alike.
struct ComparisonPair {
  std::string blade;
  std::string place;  ///< "heel", "20 to 40 mm"
  double first = 0,
         second = 0;  ///< readings after the first and the second treatment; lower is sharper
  bool operator==(const ComparisonPair&) const = default;
};

/// A small trial on one blade or a few: which of two treatments, at what price?
struct Comparison {
  std::int64_t id = 0;  ///< row in the project file
  std::string made_at;  ///< UTC, ISO 8601
  std::string name;
  Treatment first, second;
  std::string unit = "gf";
  std::optional<double> price_per_hour;  ///< of the bench's time
  std::vector<ComparisonPair> pairs;
  std::string note;
  bool operator==(const Comparison&) const = default;
};

}  // namespace bq::inline trial
