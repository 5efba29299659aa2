#pragma once

#include <map>
#include <string>
#include <vector>

#include "bluntness/stroke_force.h"
#include "quantity/checked.h"
#include "trial/trial.h"

namespace bq::inline workflow {

/// What every estimate of a stroke's force takes: edge engaged, depth of the cut, friction.
inline constexpr double kEngaged_mm = 25, kCutDepth_mm = 5, kStrokeFriction = 0.3;

/// The force strokes of one kind of work. Force belongs to one medium and one way of cutting:
/// strokes of another never enter the fit (DOMAIN §8).
struct WorkForce {
  std::string work;  ///< work_of_runs
  std::vector<StrokePoint> points;
  Checked<ForceSplit> split;  ///< or why its severing and parting cannot be told apart
};

/// Every kind of work with strokes that have nothing wrong with them, most points first. A point is
/// a checkpoint's mean force against the gauge's median there; parting is that of the run's section
/// (section_with). Runs without geometry are left out.
std::vector<WorkForce> forces_of(const Trial& trial);

/// Those that could be taken apart, by work.
std::map<std::string, ForceSplit> splits_of(const std::vector<WorkForce>& forces);

/// The split of one work in words, or why there is none; `unit` of the readings.
std::string sentence_of(const WorkForce& force, Unit unit);
/// The splits of these works in words, or what is missing.
std::string force_sentence(const std::vector<WorkForce>& forces, Unit unit,
                           const std::vector<std::string>& works);
/// The same of every work that has strokes.
std::string force_sentence(const Trial& trial);

}  // namespace bq::inline workflow
