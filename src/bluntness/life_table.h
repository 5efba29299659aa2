#pragma once

#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "bluntness/carried_life.h"
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
  /// Of a run that was stopped before the limit: its life carried on to it, where that can be
  /// known (carry_lives).
  std::optional<CarriedLife> carried{};
  /// What its own curve leaves open of an uncensored row, on average over the table; the scatter
  /// about the model holds that much of every row.
  double usual_log_variance = 0;
  /// ln of the cuts to the threshold as bounds for the regression. A life that was carried on lies
  /// in an interval of the same SD.
  [[nodiscard]] stats::Bounds log_bounds() const;
};

/// A run that could not take part, with the reason.
struct LeftOut {
  std::string run;
  std::string reason;
  bool other_medium = false;  ///< it says nothing of this work, and nothing is wrong with it
};

/// How lives of a kind of work were carried on, or why not.
struct CarriedWork {
  std::string work;
  CarriedLives lives;  ///< `of` is empty: it stands in the rows
};

/// Readings and lives in one model: lives of runs that were stopped are carried on to the limit; or
/// in two steps: such a run is "more than its cuts".
enum class LifeMethod { joint, two_stage };
std::string_view name_of(LifeMethod method);  ///< "joint", "two-stage"
std::optional<LifeMethod> parse_life_method(std::string_view text);

struct LifeTable {
  std::vector<LifeRow> rows;
  std::vector<LeftOut> left_out;
  std::vector<CarriedWork> carried;  ///< of the kinds of work in which runs were stopped
  [[nodiscard]] int carried_on() const;
  [[nodiscard]] int right_censored() const;
  [[nodiscard]] int left_censored() const;
};

/// The most cuts that one of these runs was made to do; 0 not known. What lies beyond is carried by
/// the pattern.
std::int64_t longest_cut(const std::vector<LifeRow>& rows);

/// Why no life was seen: no run reached the limit, all were past it from the start, or both. ""
/// some were seen to end.
std::string no_life_seen(const std::vector<LifeRow>& rows);

/// The factor that names who took a run's readings, where one person took them all.
inline constexpr const char* kOperatorTerm = "operator";

/// The factor that names the batch of medium that a run began with, where the Bench was told.
inline constexpr const char* kBatchTerm = "medium batch";

/// One row per fitted run, with the operator and the batch as factors (kOperatorTerm, kBatchTerm).
/// Runs without a curve are left out and said. `fits` are those of `trial.runs`, in order.
LifeTable life_table(const Trial& trial, const std::vector<RunFit>& fits, double threshold,
                     double level = 0.95, LifeMethod method = LifeMethod::joint);
/// What was done with the runs that were stopped, in words; "" nothing.
std::string carried_sentence(const LifeTable& table);

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
