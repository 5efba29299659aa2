#pragma once

#include <Eigen/Core>
#include <map>
#include <string>
#include <vector>

#include "plan/trial_plan.h"
#include "stats/parallel.h"

namespace bq::inline plan {

/// One combination of a plan: how often it is run, or why not.
struct Candidate {
  Combination levels;
  std::string excluded;  ///< reason; "" when it may be run
  int count = 0;         ///< runs in the base plan
};

/// Two terms of which one cannot, or hardly, be told from the other in this design.
struct Confounding {
  std::string first, second;  ///< terms: "apex_angle", "steel:finish_um", "block"
  double share = 0;           ///< squared canonical correlation, 0 … 1
  std::string sentence;
};
/// From this share on two terms count as the same, and as partly mixed.
inline constexpr double kSameShare = 0.999, kMixedShare = 0.25;

struct PlanDesign {
  std::vector<Candidate> candidates;  ///< all combinations, in order of combination_at
  int runs = 0;
  /// Determinant per run against that of all allowed combinations run alike, in % per coefficient;
  /// above 100 where corners alone tell more. Empty when the model cannot be estimated from all of
  /// them.
  std::optional<double> d_efficiency_percent;
  std::vector<Confounding> confounded;  ///< of the base plan, largest first, without blocks
  std::vector<std::string> balance;     ///< in words: levels that are run more often than others
  std::vector<std::string> warnings;    ///< one run each, few degrees of freedom, effects left out
  int coefficients = 0;                 ///< of the model with the wished interactions
};

/// A numeric level as the life model has it: ln tan of an angle, ln of a size, a user factor's
/// number as it is.
double coded_level(const PlanFactor& factor, const FactorValue& value);

/// Columns of a plan's model for some combinations: a constant, numeric factors as their centred
/// logarithm (angles ln tan, as the life model has them) scaled to ±1 over the levels, others as
/// effect contrasts, then the wished interactions.
struct ModelColumns {
  struct Term {
    std::string name;
    int first = 0, width = 0;
  };
  Eigen::MatrixXd rows;     ///< n × p
  std::vector<Term> terms;  ///< without the constant, interactions named "a:b"
};
ModelColumns model_columns(const TrialPlan& plan, const std::vector<Combination>& runs,
                           const std::vector<std::pair<std::string, std::string>>& interactions);

/// Chooses the base runs (without extensions). Full: every allowed combination. Fraction:
/// `design.runs` different ones, main effects first and two-factor interactions as little mixed
/// with them as can be. Best: `design.runs` runs D-optimal for the main effects and the wished
/// interactions, combinations repeated where that tells more. Then each `replicates` times.
/// Deterministic in the plan's seed. Refused with all sentences of faults_of; too many
/// combinations; nothing left by the exclusions; fewer combinations than coefficients; more runs of
/// a steel than its blades' resharpenings allow; stopped.
Checked<PlanDesign> design_plan(const TrialPlan& plan, const stats::Work& work = {});

/// Further runs for the extensions, in order: each extension's combinations.
Checked<std::vector<std::vector<Combination>>> extend_design(const TrialPlan& plan,
                                                             const PlanDesign& design,
                                                             const stats::Work& work = {});

/// Runs each steel may have by its blades (0 resharpenings: one run); empty where no blades are
/// named.
std::map<std::string, int> places_by_steel(const TrialPlan& plan);

/// What is mixed with what, given the runs and the block each is in ("" everywhere: no blocks).
std::vector<Confounding> confounding_of(const TrialPlan& plan, const std::vector<Combination>& runs,
                                        const std::vector<std::string>& blocks);

}  // namespace bq::inline plan
