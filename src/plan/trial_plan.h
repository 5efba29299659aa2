#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "plan/hold_search.h"
#include "quantity/checked.h"
#include "trial/trial.h"

namespace bq::inline plan {

/// What a factor is. The built-in ones know their physics; a user factor is plain.
enum class FactorKind {
  steel,
  apex_angle,
  edge_angle,
  micro_width,
  finish,
  medium,
  cut_mode,
  finishing_step,
  user
};
inline constexpr int kBuiltInFactors = 8;
/// "steel", "apex_angle", …: the key in plan files; a user factor goes by its own name.
std::string_view key_of(FactorKind kind);
FactorKind kind_of_factor(std::string_view key);
/// In words, with the unit: "apex angle (° per side)".
std::string words_of(FactorKind kind);
/// The same without the unit, from a factor's key or name: "apex angle", "finish", "hand"; "a with
/// b" for "a:b".
std::string plain_name(const std::string& term);
/// Levels are numbers (degrees per side, µm); steel, medium, cut mode and step are words, a user
/// factor may be either.
bool is_numeric(FactorKind kind);

struct PlanFactor {
  FactorKind kind = FactorKind::user;
  std::string name;                 ///< key_of(kind), or the user's own name
  std::vector<FactorValue> levels;  ///< at least two, all different
  /// Stated for the rehearsal: life of each level as a multiple of the first one's, besides what
  /// the geometry does by itself. As long as `levels`.
  std::vector<double> life_ratio;
  bool operator==(const PlanFactor&) const = default;
  [[nodiscard]] bool numeric() const;  ///< every level is a number
};

/// One level of each factor, by index.
using Combination = std::vector<int>;

/// A condition on a combination: these factors at these levels.
using LevelMatch = std::vector<std::pair<std::string, FactorValue>>;

/// Combinations that match are not run.
struct Exclusion {
  LevelMatch when;
  std::string reason;  ///< "" none given
  bool operator==(const Exclusion&) const = default;
};
/// "This steel only at these angles": where `when` holds, `factor` takes these levels only.
struct OnlyRule {
  LevelMatch when;
  std::string factor;
  std::vector<FactorValue> levels;
  bool operator==(const OnlyRule&) const = default;
};
/// Least apex angle that lasts, from Section or the damage search; "" as steel holds for all.
struct DurableLimit {
  std::string steel;
  double least_apex_deg = 0;  ///< per side
  bool operator==(const DurableLimit&) const = default;
};

enum class DesignKind { full, fraction, best };
std::string_view name_of(DesignKind kind);  ///< "full", "fraction", "best"
std::optional<DesignKind> parse_design_kind(std::string_view text);

struct DesignChoice {
  DesignKind kind = DesignKind::full;
  int runs =
      0;  ///< distinct combinations of a fraction, runs of "best" (before replicates); 0 in full
  int replicates = 1;
  std::vector<std::pair<std::string, std::string>> interactions;  ///< to be estimated
  bool operator==(const DesignChoice&) const = default;
};

enum class BlockBy { none, day, medium_batch, by_operator, blade };
std::string_view name_of(BlockBy by);  ///< "none", "day", "medium batch", "operator", "blade"
std::optional<BlockBy> parse_block_by(std::string_view text);

struct Blocking {
  BlockBy by = BlockBy::none;
  int runs_each = 0;               ///< 0: as many as a day holds (day), one replicate each (others)
  std::vector<std::string> names;  ///< of the blocks in order; continued by "day 3", "batch 3", …
  bool operator==(const Blocking&) const = default;
};

struct PlanBlade {
  std::string name, steel;
  int resharpenings = 0;  ///< allowed in this plan, after the sharpening of its first run; 0 … 1000
  bool operator==(const PlanBlade&) const = default;
};

struct CheckpointChoice {
  std::vector<std::int64_t> given;  ///< where not empty, these
  std::int64_t last = 400;          ///< cuts of a run, else
  bool to_threshold = false;    ///< `last` is still to be found from the stated life (longest_run)
  int steps = 7;                ///< checkpoints after 0
  bool burr_suspected = false;  ///< denser at the start
  int readings_each = 3;
  bool operator==(const CheckpointChoice&) const = default;
};

/// What the work costs. Each is the bench's own; the defaults are round figures to be replaced.
struct PlanRates {
  double medium_mm_per_cut = 15;
  double offcut_percent = 10;  ///< of the medium used, on top
  double seconds_per_cut = 4;
  double seconds_per_reading = 25;
  double minutes_per_checkpoint = 1.5;  ///< cleaning the edge, setting up the gauge
  double minutes_per_sharpening = 20;
  double rest_after_minutes = 20;  ///< of cutting
  double rest_minutes = 5;
  double hours_a_day = 6;
  int days_a_week = 5;  ///< Monday first
  double metal_mm3_per_sharpening = 12;
  std::string start_date;  ///< ISO 8601; "" not said
  bool operator==(const PlanRates&) const = default;
};

/// Stated for the rehearsal. SDs are of ln life (run, blade, block) and of ln reading.
struct PlanTruth {
  double fresh_reading = 150;  ///< of the first levels, in `unit`
  double life = 200;           ///< cuts to the threshold of the first levels
  double run_sd = 0.15, blade_sd = 0, block_sd = 0;
  double checkpoint_sd = 0.03, reading_sd = 0.05;
  double stroke_mm = 100;
  std::optional<double> tooth_life_cuts;  ///< e-folding cuts of the teeth; 4 × life where not said
  /// The trial that showed them and when they were taken ("Fernmoor trial on 2026-11-30"); "" they
  /// were stated, or are this bench's.
  std::string from{};
  bool operator==(const PlanTruth&) const = default;
};

/// What is asked of a plan.
enum class PlanAsk {
  difference,  ///< which lasts longer, and by how much
  match,       ///< at which angle (or finish) they last alike
  best,        ///< which edge lasts longest
  hold         ///< which is the slimmest that holds the roughest use
};
/// "difference", "match", "best", "hold"
std::string_view name_of(PlanAsk ask);
std::optional<PlanAsk> parse_plan_ask(std::string_view text);

/// What the trial is to tell: `to` against `from` in one factor.
struct PlanQuestion {
  std::string factor;
  FactorValue from, to;
  double level = 0.95;
  double wished_power = 0.8;
  PlanAsk ask = PlanAsk::difference;
  HoldSearch hold{};
  bool operator==(const PlanQuestion&) const = default;
};

/// More runs of a plan that is under way: `runs` chosen best (0: one more replicate of all),
/// shuffled by their own seed.
struct PlanExtension {
  int runs = 0;
  std::uint64_t seed = 1;
  bool operator==(const PlanExtension&) const = default;
};

/// A trial as it is planned. What is not a factor is held: the values in `held`.
struct TrialPlan {
  std::string name = "Plan 1";
  std::string note;
  std::vector<PlanFactor> factors;
  LevelMatch held;  ///< by factor key: steel, apex_angle, edge_angle, finish, medium, cut_mode, …
  std::vector<Exclusion> exclusions;
  std::vector<OnlyRule> only;
  std::vector<DurableLimit> durable;
  DesignChoice design;
  Blocking blocks;
  std::vector<PlanBlade> blades;       ///< empty: one of each steel is assumed, without a limit
  std::vector<std::string> operators;  ///< take turns; empty: one
  CheckpointChoice checkpoints;
  std::string threshold = "3x";  ///< as typed
  Unit unit = Unit::gf;          ///< of the response, a force
  PlanRates rates;
  PlanTruth truth;
  std::optional<PlanQuestion> question;
  bool blind = true;
  std::uint64_t seed = 1;  ///< of the order and the codes
  std::vector<PlanExtension> extensions;
  bool operator==(const TrialPlan&) const = default;

  [[nodiscard]] const PlanFactor* factor(std::string_view factor_name) const;
  /// The value a combination (or what is held) gives a factor; empty where neither says.
  [[nodiscard]] std::optional<FactorValue> value_of(const Combination& levels,
                                                    std::string_view factor_name) const;
  /// The question, or where none is asked the first factor's last level against its first.
  [[nodiscard]] PlanQuestion asked() const;
};

/// More combinations than this are refused for a full factorial, and for choosing among.
inline constexpr long kMostFullRuns = 2000;
inline constexpr long kMostCandidates = 200000;

/// What is wrong with a plan's values, each a sentence; empty when it can be designed. Looks at
/// values only.
std::vector<std::string> faults_of(const TrialPlan& plan);

/// The number of combinations of all levels.
long combination_count(const TrialPlan& plan);
/// Combination number i, the last factor turning fastest. 0 <= i < combination_count.
Combination combination_at(const TrialPlan& plan, long index);
/// Why a combination is not run ("" when it may be).
std::string why_excluded(const TrialPlan& plan, const Combination& levels);
/// "Marl Tough, 15° per side, 6 µm".
std::string describe(const TrialPlan& plan, const Combination& levels);
std::string print_level(FactorKind kind, const FactorValue& value);

/// The checkpoints of a plan's runs: the given ones, or a rounded geometric ladder; with a residual
/// burr suspected also at 3, 6, 10 and 15 cuts, where a burr that stands up falls.
std::vector<std::int64_t> checkpoints_of(const CheckpointChoice& choice);

/// What a run of this combination is about, without name, blade and block. Refused: angles that do
/// not go together.
Checked<RunFacts> facts_of(const TrialPlan& plan, const Combination& levels);

}  // namespace bq::inline plan
