#pragma once

#include <optional>
#include <string>

#include "bluntness/life_model.h"
#include "trial/trial.h"

namespace bq::inline bluntness {

/// How well the runs' apex angles are known, by the spread of the readings in their own logs, and
/// what that does to the slope of ln life over ln tan (DOMAIN §7).
struct AngleTolerance {
  int logs = 0;               ///< makings with two readings of one side or more
  int readings = 0;           ///< in them
  double reading_sd_deg = 0;  ///< of a single reading about its side's mean, pooled
  double plus_minus_deg = 0;  ///< 95 % half-width of a run's angle, typical
  int measured = 0;           ///< runs whose angle is their log's mean; the others' was set
  /// Of the measured angles' variation (beside the other terms) the part that is real, 0 … 1; the
  /// slope is fitted this much too flat. 1 where all angles were set: what was set scatters lives
  /// about the pattern, it does not flatten it (Berkson 1950).
  double reliability = 1;
  double slope = 0;  ///< as fitted
  /// Slope/reliability, with its interval at the model's level (both errors, first order; Fuller
  /// 1987). Empty where it cannot be told apart from noise (reliability below a half).
  struct Corrected {
    double slope = 0, low = 0, high = 0;
  };
  std::optional<Corrected> corrected;
};

/// The model has one slope over the angle: no bend, no interaction with it.
bool has_one_slope(const LifeSpec& spec);

/// Of the runs of a model with one slope over the angle. Empty without
/// such a slope, or with fewer than four spare readings in the logs.
std::optional<AngleTolerance> angle_tolerance(const Trial& trial, const LifeModel& model);

/// In words, with how much it is.
std::string tolerance_sentence(const AngleTolerance& tolerance);

}  // namespace bq::inline bluntness
