#pragma once

#include <optional>
#include <set>
#include <string>
#include <vector>

#include "bluntness/damage_search.h"
#include "bluntness/start_gate.h"
#include "bluntness/stroke_force.h"
#include "rehearsal/virtual_edge.h"
#include "trial/bench_stage.h"
#include "workflow/project_session.h"

namespace bq::inline workflow {

/// The protocol that the project keeps; where it keeps none, the usual one with the pace and rests
/// of its latest plan.
BenchProtocol protocol_of(const ProjectSession& session);

/// Names of the runs whose plan is blind: at the bench they go by their code, and steel, geometry
/// and finish stay covered.
std::set<std::string> blind_runs(const std::string& plan_book);
/// What is written down when a covered run is looked up.
inline constexpr const char* kUncovered = "the blind code was uncovered";
bool was_uncovered(const Run& run);
/// A run of a blind plan that is not done and was not uncovered.
bool is_covered(const Run& run, const std::set<std::string>& blind);

/// Seconds from `earlier` to `later`, both ISO 8601 UTC; empty where one cannot be read.
std::optional<double> seconds_between(const std::string& earlier, const std::string& later);

/// The check weight has not been on the gauge for eight hours (or never), as far as the clock can
/// be believed.
bool check_due(const std::vector<BenchEvent>& checks, const std::string& now);
/// By how many percent the latest check weight was beyond the limit; empty: it was within, or was
/// left out with a reason.
std::optional<double> check_off_percent(const std::vector<BenchEvent>& checks,
                                        double limit_percent);
/// What bench_stage needs, with the start judged by its control chart. A check weight that was off
/// is due again until the gauge is put right or it is said why one goes on.
StageFacts stage_facts(const Trial& trial, std::size_t run, std::optional<double> threshold,
                       const std::string& now, double check_limit_percent);
/// A reading so far from what was to be expected that it is asked about before it is kept: eight
/// times (or an eighth of) the run's last readings that count, else of the trial's fresh ones. Says
/// of what, in words; empty: nothing odd, or nothing to compare with.
std::string odd_reading(const Trial& trial, std::size_t run, double value, Unit unit);
/// The start gate of a run in words; a covered run's does not name its steel. "" where nothing can
/// be judged.
std::string gate_sentence(const Trial& trial, std::size_t run, bool covered);

/// Check weights over time.
struct GaugeDrift {
  struct Point {
    std::string made_at;
    double off_percent = 0;
    bool beyond = false;
  };
  std::vector<Point> points;  ///< weighed ones, in order
  bool drifted = false;       ///< the latest lies beyond the limit
  std::string sentence;
  /// Readings (run, index) taken after a good check and before the next good one where a bad one
  /// lies between, or since the last good one where the latest is bad. Those that name no gauge
  /// came in with a table and are nothing the weight on this one speaks of.
  std::vector<std::pair<std::size_t, std::size_t>> doubtful;
};
GaugeDrift gauge_drift(const Trial& trial, double limit_percent);

/// Side load set on Section and the steel's leading limit; empty when one is not known.
std::optional<StressFacts> stress_facts(const Trial& trial, const std::string& steel,
                                        const std::string& section_questions);

/// What a stand-in finds before it: this run's edge in a made-up world (a recipe; where empty a
/// plain one). Refused: a world that cannot be read.
inline constexpr const char* kStandInWorldKey = "stand-in-world";
Checked<VirtualEdge> stand_in_edge(const Trial& trial, std::size_t run, const std::string& world,
                                   std::uint64_t seed);

/// Largest picture that goes with a look.
inline constexpr std::size_t kLargestPicture = 64u << 20;

}  // namespace bq::inline workflow
