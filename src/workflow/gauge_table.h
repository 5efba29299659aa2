#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "quantity/measure.h"
#include "stats/gauge_study.h"
#include "trial/trial.h"

namespace bq::inline workflow {

/// A gauge study that came in as a table, kept with the project under this key.
inline constexpr const char* kGaugeStudyKey = "gauge-study";
struct KeptGaugeStudy {
  std::vector<stats::GaugeReading> readings;
  Unit unit = Unit::gf;
};
std::string gauge_study_json(const KeptGaugeStudy& study);
/// Refused with the field's path: no unit, a reading that is not above 0, more than 100,000.
Checked<KeptGaugeStudy> parse_gauge_study(std::string_view json);

/// What "is my gauge good enough?" is answered from, in the trial's unit: the study that is kept;
/// without one (or where it is in a unit of another kind) the trial's own readings of places that
/// several operators read (operator_readings).
std::vector<stats::GaugeReading> gauge_readings_of(const std::string& kept, const Trial& trial);

}  // namespace bq::inline workflow
