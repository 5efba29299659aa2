#pragma once

#include <Eigen/Core>
#include <cstdint>
#include <optional>
#include <vector>

#include "quantity/checked.h"
#include "stats/parallel.h"

namespace bq::stats {

/// What to choose runs from, and under which limits.
struct DesignQuestion {
  Eigen::MatrixXd candidates;       ///< N × p model rows
  int runs = 0;                     ///< to choose, >= 1
  int most_repeats = 1;             ///< how often one candidate may be chosen, >= 1
  std::vector<int> group;           ///< of each candidate, 0 … groups − 1; empty: all are one group
  std::vector<int> group_capacity;  ///< most runs of each group; empty: no limit
  Eigen::MatrixXd fixed;            ///< rows that are in the design anyway (0 × p or m × p)
  /// Prior precision of each column (0: to be estimated). Columns of secondary interest get a small
  /// one, so that they are mixed with the others as little as possible (DuMouchel & Jones 1994).
  Eigen::VectorXd prior;
  std::uint64_t seed = 1;
  int starts = 20;          ///< random starts; fewer for very many candidates, see work_limit
  double work_limit = 4e9;  ///< multiplications; one start is always made
};

struct OptimalDesign {
  std::vector<int> chosen;     ///< candidate indices, rising, repeated where run again
  double log_determinant = 0;  ///< of XᵀX + fixedᵀfixed + prior; −∞ when singular
  int starts_made = 0;
  bool stopped = false;  ///< the stop token ended it: the best so far
};

/// D-optimal exact design by exchange (Fedorov 1972; each point in turn against every candidate,
/// until nothing gains more than 1e-9), from several seeded random starts. The same seed gives the
/// same design on every machine. Refused: no candidate, fewer places than runs.
Checked<OptimalDesign> d_optimal(const DesignQuestion& question, const Work& work = {});

/// ln det of XᵀX for these rows of `candidates`; −∞ when singular.
double log_determinant(const Eigen::MatrixXd& candidates, const std::vector<int>& chosen);

/// The largest canonical correlation, squared, between the column spaces of A and B, both taken
/// after the mean is removed (and `given`'s columns, where there are any): 1 when some contrast of
/// A cannot be told from one of B, 0 when they are orthogonal. Rows are runs. 0 where A or B has
/// nothing left.
double shared_share(const Eigen::MatrixXd& A, const Eigen::MatrixXd& B,
                    const Eigen::MatrixXd& given = {});

}  // namespace bq::stats
