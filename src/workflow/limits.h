#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "quantity/checked.h"
#include "workflow/verdict.h"

namespace bq::inline workflow {

/// What the tester wants of the edge, as written in a limits file and as the project keeps it.
struct LimitsFile {
  RecommendLimits limits;
  RecommendWishes wishes;
  std::vector<std::string> stones;  ///< abrasives at hand; empty: the whole shelf
  std::string threshold;            ///< as typed, "" when absent
  std::vector<std::string> notes;   ///< keys that are not known here and were not used
};

/// Reads {"threshold": "450 gf", "medium": "…", "mix": [{"medium": "…", "share": 0.7}, …],
/// "steels": […], "stones": […], "least_angle_deg": 12, "largest_angle_deg": 20,
/// "finest_finish_um": 1, "coarsest_finish_um": 15, "least_life": 500, "most_force_N": 30,
/// "most_damage_rate": 0.002, "most_minutes": 10, "hold_roughest": false, "angle_step_deg": 1,
/// "beyond_deg": 0, "wishes": {"life": 1, "force": 0, "damage": 0, "minutes": 0}}; every key may be
/// absent. Refused, naming the field: not JSON, a value of the wrong kind or out of range.
Checked<LimitsFile> parse_limits(std::string_view json);
/// The same as a text that parse_limits reads back.
std::string limits_json(const LimitsFile& file);

/// One thing that is asked of the edge.
enum class LimitKind {
  work,
  life,
  force,
  damage,
  minutes,
  roughest,
  angle,
  finish,
  beyond,
  steels,
  stones,
  wishes
};
struct SetLimit {
  LimitKind kind = LimitKind::work;
  std::string words;  ///< "next edge at least 500 cuts"; angles per side
};
/// All that is set, in this order. What holds by default (the work with most runs, all steels, all
/// stones, life alone wished for) is not told.
std::vector<SetLimit> set_limits(const LimitsFile& wanted);
/// As if it had not been set.
void take_back(LimitsFile& wanted, LimitKind kind);

/// Where a project keeps what was asked on Verdict.
inline constexpr const char* kVerdictKey = "verdict-limits";

}  // namespace bq::inline workflow
