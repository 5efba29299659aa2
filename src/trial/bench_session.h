#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "trial/trial.h"

namespace bq::inline trial {

/// One round of a damage search: a block of rough cuts with one geometry, and what was seen after
/// it.
struct SearchRound {
  double edge_angle_deg = 0;      ///< per side, of the bevel at the apex (without a micro-bevel)
  double bevel_thickness_um = 0;  ///< of the section where that bevel ends; 0: the whole edge bevel
  std::int64_t cuts = 0;          ///< made in this block
  bool confirmation = false;      ///< a long block after a clean one
  LookEvent look;
  std::string done_at;  ///< UTC
  std::string by_operator;
  /// The edge bevel that an added one stands on, per side; 0: what the rounds before left.
  double base_deg = 0;
  std::optional<double> micro_deg{};  ///< of the micro-bevel on all that, per side
  double micro_um = 60;               ///< width of its face
  std::optional<double> finish_um{};  ///< particle size
  bool operator==(const SearchRound&) const = default;
};

/// The search for the slimmest geometry that holds under the roughest use (DOMAIN §9).
struct DamageSearch {
  std::string name;
  std::string blade, steel, medium;
  std::string roughest_use;         ///< in words: "staples at the mat's edge, twist at the corner"
  double start_angle_deg = 10;      ///< per side, deliberately slim
  double step_deg = 2;              ///< steeper after damage where the stress scan says nothing
  double bevel_share = 0.6;         ///< thickness of the new bevel over that of the widest damage
  std::int64_t rough_cuts = 50;     ///< of a block
  std::int64_t confirm_cuts = 300;  ///< of the long block after a clean one
  std::vector<SearchRound> rounds;
  bool ended = false;
  std::string note;
  std::optional<CutMode> cut_mode{};  ///< of the roughest use
  std::optional<double> micro_deg{};  ///< renewed every round, per side; empty: none
  double micro_um = 60;
  bool operator==(const DamageSearch&) const = default;
};

/// One freehand stroke as the angle gauge saw it.
struct SteadyStroke {
  int samples = 0;
  double mean_deg = 0, sd_deg = 0;  ///< over the stroke
  double tail_deg = 0;              ///< its 95 % point
  bool operator==(const SteadyStroke&) const = default;
};

/// A session with the steadiness meter.
struct SteadinessSession {
  std::string by_operator, blade;
  double target_deg = 15;  ///< per side
  double rate_hz = 50;
  std::vector<float> trace_deg;  ///< every sample, strokes and lifts
  std::vector<SteadyStroke> strokes;
  std::string note;
  bool operator==(const SteadinessSession&) const = default;
};

/// A session at the bench that is no run of a trial.
struct BenchSession {
  std::int64_t id = 0;
  std::string made_at;  ///< UTC, ISO 8601
  std::variant<DamageSearch, SteadinessSession> data;
  bool operator==(const BenchSession&) const = default;
};

}  // namespace bq::inline trial
