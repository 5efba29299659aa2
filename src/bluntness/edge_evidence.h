#pragma once

#include <map>
#include <optional>
#include <utility>
#include <vector>

#include "bluntness/recommendation.h"

/// What the runs say of one edge.
namespace bq::inline bluntness::candidates {

inline constexpr double kSameAngle_deg = 0.05;  ///< closer than that is the same setting

inline std::optional<double> finish_um(const LifeRow& row) {
  return row.facts.finish ? std::optional(row.facts.finish->mean_um()) : std::nullopt;
}

struct Evidence {
  std::vector<const LifeRow*> rows;
  bool tested = false;                               ///< they are at it
  std::optional<std::pair<double, double>> between;  ///< tested angles on either side
};

/// The runs that speak for an edge: those at it, else those that bracket its angle at the same
/// finish, else those of the steel.
Evidence evidence_for(const std::vector<LifeRow>& rows, const RankedEdge& edge);

/// Median of what these runs read before the first cut, in the trial's unit; empty: none was read.
std::optional<double> fresh_reading(const Evidence& evidence,
                                    const std::map<std::string, const RunFit*>& fits);

}  // namespace bq::inline bluntness::candidates
