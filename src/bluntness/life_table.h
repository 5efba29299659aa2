#pragma once

#include <optional>
#include <string>
#include <utility>
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
  std::string work;         ///< what it cut and how: work_of_runs
  std::int64_t cut_to = 0;  ///< cuts made with it in all, whether read or not
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

/// The most cuts that one of these runs was made to do; 0 not known. What lies beyond is carried by
/// the pattern.
std::int64_t longest_cut(const std::vector<LifeRow>& rows);

/// The factor that names who took a run's readings, where one person took them all.
inline constexpr const char* kOperatorTerm = "operator";

/// The factor that names the batch of medium that a run began with, where the Bench was told.
inline constexpr const char* kBatchTerm = "medium batch";

/// One row per fitted run, with the operator and the batch as factors (kOperatorTerm, kBatchTerm).
/// Runs without a curve are left out and said. `fits` are those of `trial.runs`, in order.
LifeTable life_table(const Trial& trial, const std::vector<RunFit>& fits, double threshold,
                     double level = 0.95);

/// Kinds of work (work_of_runs) with the number of rows in each, most rows first.
using WorkCounts = std::vector<std::pair<std::string, int>>;
WorkCounts media_of(const LifeTable& table);

/// The kind of work that a name stands for: the work of that name; for the bare name of a medium
/// that is cut in several ways, the way with most rows; for an empty name that no run has, the work
/// with most rows. Empty where there is no such work.
std::optional<std::string> work_meant(const WorkCounts& works, const std::string& name);

/// The rows of the work that a name stands for (work_meant); the others are left out and said.
LifeTable in_medium(const LifeTable& table, const std::string& name);

}  // namespace bq::inline bluntness
