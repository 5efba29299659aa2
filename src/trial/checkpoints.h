#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "trial/trial.h"

namespace bq::inline trial {

/// The readings of one run at one count of cuts, excluded ones left out.
struct Checkpoint {
  std::int64_t cuts = 0;
  std::vector<double> values;        ///< in the unit asked for
  std::vector<std::size_t> indices;  ///< into Run::readings
  [[nodiscard]] double median() const;
  [[nodiscard]] double mean() const;
  /// Coefficient of variation, SD/mean with n − 1; 0 for a single value.
  [[nodiscard]] double cv() const;
};

/// Checkpoints in rising order of cuts.
std::vector<Checkpoint> checkpoints_of(const Run& run, Unit unit);
/// Median of the readings at so many cuts, excluded ones left out; empty where there is none.
std::optional<double> median_at(const Run& run, std::int64_t cuts, Unit unit);

/// A reading that lies far from its checkpoint's median.
struct Suspect {
  std::size_t reading_index = 0;  ///< into Run::readings
  double pooled_sds = 0;          ///< |ln y − ln median| / pooled SD
  std::string reason;             ///< in words
};

/// Readings further than 3.5 pooled SDs (of ln y within checkpoints, over the run) from their
/// checkpoint's median; checkpoints with fewer than 3 readings are not judged (DOMAIN §5).
/// The pooled SD is robust: the 68 % point of the absolute deviations from the checkpoint medians,
/// with the small-sample factor √(m/(m−1)), so that the suspect itself does not hide in it.
std::vector<Suspect> suspects_of(const Run& run);

/// Least pooled SD used by suspects_of: no gauge repeats better than 0.5 %.
inline constexpr double kLeastPooledSd = 0.005;

}  // namespace bq::inline trial
