#pragma once

#include <string>
#include <vector>

#include "plan/plan_design.h"

namespace bq::inline plan {

/// One run in running order.
struct SheetRun {
  int order = 0;      ///< 1, 2, …
  std::string code;   ///< blind code, unique in the sheet: "KT4"
  std::string block;  ///< "" where there are no blocks
  int part = 0;       ///< 0: the base plan; 1, 2, …: its extensions
  Combination levels;
  std::string blade;  ///< "" where no blades are named
  int blade_use = 1;  ///< 1: the blade's first run of this sheet
  std::string by_operator;
  int day = 1;                                ///< working day, from 1
  double starts_at_min = 0;                   ///< into the day
  double minutes = 0;                         ///< sharpening, cutting, reading, cleaning and rests
  std::vector<std::int64_t> rest_after_cuts;  ///< counts of this run after which a rest is due
};

struct RunSheet {
  std::vector<SheetRun> runs;
  std::vector<std::int64_t> checkpoints;
  std::vector<Confounding> confounded;  ///< with blocks
  std::vector<std::string> notes;  ///< a run longer than a day, a block that does not fit its day
  int days = 0;
};

/// Puts the runs of a design and its extensions in order: dealt to blocks so that the blocks tell
/// as little about the factors as can be (exchange on the determinant of effects and blocks),
/// shuffled inside each block, blades of a steel used evenly within their resharpenings, operators
/// taking turns. Every random choice comes from the plan's seed by integer arithmetic: the same
/// plan gives the same sheet on every machine; an extension changes nothing before it. Refused:
/// blocks by operator with fewer than two operators; blocks by blade without blades; no room on the
/// blades.
Checked<RunSheet> run_sheet(const TrialPlan& plan, const PlanDesign& design,
                            const stats::Work& work = {});

/// Minutes of one run without rests: sharpening, cuts, readings, cleaning.
double run_minutes(const TrialPlan& plan);

/// Trial runs as the bench takes them: planned, without readings, in order. A run is named by its
/// blind code, or when the plan is open by `prefix` and its number. Refused as facts_of.
Checked<std::vector<Run>> planned_runs(const TrialPlan& plan, const RunSheet& sheet,
                                       const std::string& prefix);

/// The plan's costs; of runs that end when they are blunt on average, whole cuts and readings.
struct PlanBudget {
  std::int64_t cuts = 0;
  double medium_m = 0;  ///< used, with offcut
  std::int64_t readings = 0;
  double cutting_min = 0, reading_min = 0, cleaning_min = 0, sharpening_min = 0, resting_min = 0;
  [[nodiscard]] double minutes() const {
    return cutting_min + reading_min + cleaning_min + sharpening_min + resting_min;
  }
  int sharpenings = 0, resharpenings = 0;
  double metal_mm3 = 0;  ///< over all blades
  struct BladeUse {
    std::string blade, steel;
    int runs = 0, allowed = 0;  ///< allowed: 1 + resharpenings, 0 where nothing limits it
    double metal_mm3 = 0;
  };
  std::vector<BladeUse> blades;
  int days = 0;
  std::string finishes_on;  ///< ISO 8601; "" without a start date
};
/// How far a run will be cut: the chance that it is read at each checkpoint of the sheet.
struct RunEnd {
  std::vector<double> reached;
};
/// `ends`: of every run of the sheet; empty: each is cut and read to its last checkpoint. Days, and
/// the date it finishes on, are those of the sheet, which leaves room for the longest.
PlanBudget budget_of(const TrialPlan& plan, const RunSheet& sheet,
                     const std::vector<RunEnd>& ends = {});

/// The date of working day number `day` (1 …) when day 1 is the first working day on or after
/// `start`; "" for an unreadable date.
std::string working_date(const std::string& start, int day, int days_a_week);

}  // namespace bq::inline plan
