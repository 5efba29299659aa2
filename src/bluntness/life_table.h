#pragma once

#include <string>
#include <vector>

#include "bluntness/cuts_to_threshold.h"
#include "bluntness/run_fits.h"
#include "stats/censored_regression.h"
#include "trial/trial.h"

namespace bq::inline bluntness {

/// What one run says about life to the threshold. The run is the unit of replication.
struct LifeRow {
  RunFacts facts;
  CutsToThreshold cuts;
  std::string work;  ///< what it cut and how: work_of_runs
  /// ln of the cuts to the threshold as bounds for the regression.
  [[nodiscard]] stats::Bounds log_bounds() const;
};

/// A run that could not take part, with the reason.
struct LeftOut {
  std::string run;
  std::string reason;
};

struct LifeTable {
  std::vector<LifeRow> rows;
  std::vector<LeftOut> left_out;
  [[nodiscard]] int right_censored() const;
  [[nodiscard]] int left_censored() const;
};

/// One row per fitted run. Runs without a curve are left out and said. `fits` are those of
/// `trial.runs`, in order.
LifeTable life_table(const Trial& trial, const std::vector<RunFit>& fits, double threshold,
                     double level = 0.95);

/// The rows of one kind of work (work_of_runs). The bare name of a medium that is cut in several
/// ways stands for the way with most rows; the others are left out and said.
LifeTable in_medium(const LifeTable& table, const std::string& medium);

/// The kinds of work of a table with the number of rows in each, most rows first.
std::vector<std::pair<std::string, int>> media_of(const LifeTable& table);

}  // namespace bq::inline bluntness
