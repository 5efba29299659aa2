#pragma once

#include <Eigen/Core>
#include <vector>

#include "bluntness/life_model.h"

/// Inside of recommend(): what every tested edge does besides the pattern.
namespace bq::inline bluntness::ranking {

/// The pattern's coefficients together with one deviation for each tested edge, drawn toward the
/// pattern: normal with an SD that is averaged over (edges of one bench that follow the pattern
/// hold each other to it, edges that do not are left free).
struct EdgeDeviations {
  Eigen::VectorXd mean;        ///< coefficients, then deviations of ln life
  Eigen::MatrixXd covariance;  ///< of them
  /// The row of an edge: its design row, then its own deviation; between tested edges of its steel
  /// and finish the two neighbours', beyond them the nearest's; none where there are none.
  [[nodiscard]] Eigen::VectorXd row(const LifePoint& edge, const Eigen::VectorXd& design) const;

  struct Cell {
    std::string steel;
    double log_tangent = 0, log_finish = 0;  ///< 0 where the runs do not say it
  };
  std::vector<Cell> cells;                                     ///< tested edges
  bool on_steel = false, on_angle = false, on_finish = false;  ///< what tells edges apart here
};

/// Of a model's runs; a run that did not reach the limit stands where it is expected beyond its
/// cuts. No cells where the runs are too few (no edge was tested twice and none is left over beside
/// the coefficients) or more than 150 edges were tested: then the pattern stands alone.
EdgeDeviations edge_deviations(const LifeModel& model);

}  // namespace bq::inline bluntness::ranking
