#pragma once

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "bluntness/damage_trend.h"
#include "bluntness/life_model.h"
#include "bluntness/rough_use.h"
#include "bluntness/stroke_force.h"

namespace bq::inline bluntness {

/// A kind of work and its share of the cuts.
struct WorkShare {
  std::string medium;
  double share = 1;  ///< > 0; shares are brought to a sum of 1
};

/// What the edge must do. Absent limits do not bind.
struct RecommendLimits {
  std::string medium;          ///< empty: the one with most runs; not used where `mix` says more
  std::vector<WorkShare> mix;  ///< several kinds of work with one edge
  std::vector<std::string> steels;        ///< empty: all
  std::optional<double> least_angle_deg;  ///< per side, at the apex
  std::optional<double> largest_angle_deg;
  std::optional<double> finest_finish_um;
  std::optional<double> coarsest_finish_um;
  std::optional<double> least_life;        ///< cuts between touch-ups, for the next edge
  std::optional<double> most_force_N;      ///< of a cut when the edge counts as blunt
  std::optional<double> most_damage_rate;  ///< damaging events per cut, upper 95 % bound
  std::optional<double> most_minutes;      ///< of one resharpening
  bool hold_roughest = false;              ///< a damage search must have found that it holds
  double angle_step_deg = 1;               ///< of interpolated angles between tested ones
  double beyond_deg =
      0;  ///< so far outside the tested angles edges are offered too, marked as extrapolated
};

/// What the tester would like more of: weights of the score, 0 or more.
struct RecommendWishes {
  double life = 1, force = 0, damage = 0, minutes = 0;
};

/// One resharpening of an edge on the shelf at hand.
struct Resharpening {
  double minutes = 0, metal_mm3 = 0, receded_um = 0;
  bool estimated = false;  ///< a rate was not known
};

/// A block of cuts and whether it damaged the edge.
struct DamageFact {
  std::string steel, medium;
  AngledBlock block;
  bool roughest = false;   ///< under the roughest use (a damage search), not in ordinary work
  bool confirmed = false;  ///< the clean long block of a search
  std::optional<ApexProfile> section{};  ///< of a search: the whole of it
  bool has_micro = false;                ///< its first bevel is a micro-bevel
};

struct RankedEdge {
  std::string steel;
  double angle_deg = 0;  ///< per side, symmetric, at the apex
  std::optional<double>
      edge_deg;  ///< edge bevel behind it, where runs had one behind a micro-bevel
  std::optional<double> finish_um;
  bool tested = false;        ///< else between or beyond tested angles
  bool extrapolated = false;  ///< outside the tested angles (or finishes) in some of the work
  double life = 0;            ///< median cuts to the threshold
  double life_mean_low = 0, life_mean_high = 0;  ///< 95 % interval of the mean edge
  double life_low = 0;                           ///< 95 % lower prediction limit for the next edge
  std::optional<double> fresh_reading;           ///< median of the evidence runs, trial's unit
  std::optional<double> force_fresh_N,
      force_blunt_N;  ///< of a standard stroke, severing + parting; estimate
  /// Half-way between the two: what a day's work feels.
  [[nodiscard]] std::optional<double> force_N() const {
    return force_fresh_N && force_blunt_N ? std::optional(0.5 * (*force_fresh_N + *force_blunt_N))
                                          : std::nullopt;
  }
  std::optional<double>
      damage_rate_upper;         ///< damaging events per cut in ordinary work (damage_bound)
  long damage_seen = 0;          ///< looks behind it that found some
  std::size_t damage_looks = 0;  ///< behind it, of this steel and work at `damage_tested_deg`
  double damage_tested_deg = 0;  ///< the angle it comes from
  RoughestUse roughest = RoughestUse::not_tried;
  std::optional<double>
      stress_ratio;  ///< peak stress over the steel's limit under the side load (estimate)
  std::optional<Resharpening> resharpening;
  double score = 0;
  /// That it is the best by the score, lives varying within what is known of them; neighbours share
  /// it. 0 where life does not weigh.
  double chance_best = 0;
  bool tied = false;       ///< its life cannot be told apart from the first's (95 %)
  bool dominated = false;  ///< another edge that passes is at least as good in everything known,
                           ///< and better in something
  std::vector<std::string> reasons;
  std::vector<std::string> evidence_runs;
};

/// What is known besides the runs. Absent: not known.
struct RecommendEvidence {
  std::map<std::string, ForceSplit> force;  ///< by work: strokes of another know nothing of it
  double engaged_mm = 25, depth_mm = 5, friction = 0.3;  ///< of the strokes behind it
  std::vector<DamageFact> damage;
  std::vector<RoughUse> rough;  ///< rounds of damage searches, whole sections
  std::function<std::optional<Resharpening>(const RankedEdge&)> resharpening;
  std::function<std::optional<double>(const RankedEdge&)> stress_ratio;
  /// Parting (N/mm) `depth_mm` deep at stiffness 1, of the section that the split was fitted with;
  /// not set: a plain wedge of the edge bevel.
  std::function<std::optional<double>(const RankedEdge&)> parting_N_per_mm;
  AngleConvention angles = AngleConvention::per_side;  ///< how sentences say an edge's angle
};

struct NextBestRun {
  std::string steel;
  double angle_deg = 0;
  std::optional<double> finish_um;
  std::string medium;
  double interval_shrinks_to = 1;  ///< width of the contrast's interval after it, as a share
  /// A run that changes next to nothing is no advice; how many would is said in Enough.
  [[nodiscard]] bool helps() const { return interval_shrinks_to <= 0.95; }
  std::string reason;
};

/// Whether the first place is settled.
struct Enough {
  /// That no edge lasts kWorthwhile times as long as the first for its score.
  double chance_right = 0;
  /// Further runs, shared between the first and its strongest rival, after which that is 95 % if
  /// their lives are what they seem; 0 it is so now; empty: not after kMostMoreRuns.
  std::optional<int> more_runs;
  std::string which;     ///< "Marl Tough 14° per side and Fenland Plain 18° per side"
  std::string sentence;  ///< all that in words
};
inline constexpr double kWorthwhile = 1.1;
inline constexpr int kMostMoreRuns = 40;

struct Recommendation {
  std::vector<WorkShare> work;  ///< what was ranked for, shares summing to 1
  [[nodiscard]] const std::string& medium() const { return work.front().medium; }
  std::vector<RankedEdge> ranked;   ///< best first
  std::vector<RankedEdge> refused;  ///< candidates that a limit stopped; reasons: which limits
  int candidates = 0;               ///< before the limits
  int level_with_first = 0;         ///< whose lives cannot be told apart from the first's (95 %)
  /// What would change the first place, in sentences.
  std::vector<std::string> sensitivity;
  std::vector<std::string> remarks;  ///< limits that could not be judged, …
  std::string rule;                  ///< how it is ranked, in words
  std::optional<NextBestRun> next_best;
  std::optional<Enough> enough;  ///< empty with one edge, or where life does not weigh
  double run_to_run_sd = 0;
  std::vector<LeftOut> left_out;
};

/// Ranks tested and interpolated edges: the score is the sum of weight × ln(ratio to the best
/// candidate), of the lower 95 % prediction limit of life, the force over its life, the upper
/// damage bound and the minutes of a resharpening; what is not known of an edge counts as the worst
/// that is known. An edge of which a limited figure is not known does not pass. Edges outside the
/// tested angles of a steel are offered only with beyond_deg, marked. An edge whose section was
/// damaged under the roughest use never passes. Of the edge bevels tested
/// with a steel the slimmest that passes goes with a micro-bevel.
///
/// Several kinds of work: wear adds up, 1/L = Σ share/L of each work; intervals by the delta method
/// on ln L, the next edge's own scatter taken as the same in all work, the fewest degrees of
/// freedom. Damage bounds add up by share, so each work needs its own. Refused: a life model cannot
/// be fitted, no run is in a medium, no share is above 0.
Checked<Recommendation> recommend(const Trial& trial, const std::vector<RunFit>& fits,
                                  double threshold, const RecommendLimits& limits,
                                  const RecommendWishes& wishes = {},
                                  const RecommendEvidence& evidence = {});

/// "Marl Tough, 14°, 6 µm".
std::string name_of(const RankedEdge& edge, AngleConvention angles = AngleConvention::per_side);

}  // namespace bq::inline bluntness
