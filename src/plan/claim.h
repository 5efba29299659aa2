#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "quantity/checked.h"
#include "quantity/measure.h"

namespace bq::inline plan {

/// What is measured on both parts of a pair.
enum class ClaimMeasure {
  life,        ///< cuts to the threshold; each part is a run of its own
  fresh,       ///< reading before the first cut
  after_cuts,  ///< reading after a fixed number of cuts
  early_rise,  ///< reading after the first cuts over the fresh one
  scratch      ///< mean scratch spacing or particle size (µm)
};
std::string_view name_of(ClaimMeasure measure);  ///< "life", "fresh", …: as in files
std::optional<ClaimMeasure> parse_claim_measure(std::string_view text);
std::string words_of(ClaimMeasure measure);  ///< "cuts to the threshold"

/// A disputed claim that one blade's two edges, or two halves of one edge, can decide.
struct Claim {
  std::string id = "own";  ///< "lower-angle", …; "own" for a worded one
  std::string sentence;    ///< "A lower angle lasts longer."
  ClaimMeasure measure = ClaimMeasure::life;
  std::string first, second;  ///< the two treatments; the claim speaks of second against first
  bool sameness = false;      ///< the claim says that there is no difference that matters
  bool second_higher =
      true;  ///< the claim holds when the second has the higher figure (no meaning for sameness)
  double ratio = 1.3;              ///< second over first that matters; for sameness the margin, > 1
  double pair_sd = 0.2;            ///< SD of ln(second/first) from pair to pair
  std::vector<std::string> steps;  ///< how the two parts are made alike but for the treatment
  std::vector<std::string> not_tested;  ///< what a test of this size leaves open
  bool operator==(const Claim&) const = default;
};

/// The list to pick from. Both schools of each dispute are named in the sentences' counterpart.
std::vector<Claim> known_claims();
/// What those who hold the opposite say, one sentence; "" for a worded claim.
std::string other_school(const std::string& claim_id);

/// One part of a pair on the sheet.
struct ClaimRow {
  int order = 0;  ///< 1, 2, … in which the parts are made and measured
  int pair = 1;
  std::string blade, place;  ///< "blade 2", "heel half"; for lives "first run", "second run"
  std::string code;
  bool second = false;  ///< sealed: gets the second treatment
  bool operator==(const ClaimRow&) const = default;
};

/// A claim with its test: how many pairs, which part gets what, and what was measured.
struct ClaimTest {
  Claim claim;
  double chance = 0.8;  ///< wished, of deciding it if it is as stated
  double level = 0.95;
  std::uint64_t seed = 1;
  int pairs = 0;
  std::vector<std::string> blades;  ///< named; continued by "blade 3", …
  struct Value {
    std::string code;
    double value = 0;        ///< > 0
    bool more_than = false;  ///< the run ended before the threshold
    bool operator==(const Value&) const = default;
  };
  std::vector<Value> values;
  bool unsealed = false;
  bool operator==(const ClaimTest&) const = default;
};

/// What is wrong with a claim's values; "" nothing.
std::string fault_of(const Claim& claim);

/// The smallest number of pairs (2 … 200) that decides the claim with the wished chance: t test on
/// ln ratio, or for sameness two one-sided tests with a true ratio of 1. Refused: no such number, a
/// fault.
Checked<int> pairs_needed(const Claim& claim, double chance, double level);
/// The chance with this many pairs.
Checked<double> chance_with(const Claim& claim, int pairs, double level);

/// The sheet: in each pair chance decides which half (or which of the two runs) gets which
/// treatment, as evenly over the pairs as their number allows; the order of making and reading is
/// shuffled pair by pair. Integer arithmetic from the seed.
std::vector<ClaimRow> claim_sheet(const ClaimTest& test);

enum class ClaimVerdict { holds, opposite, same, cannot_tell };

/// The answer.
struct ClaimResult {
  ClaimVerdict verdict = ClaimVerdict::cannot_tell;
  double ratio = 1;  ///< second over first
  std::optional<double> low, high;
  double p = 1;
  int pairs = 0;     ///< that took part
  int censored = 0;  ///< parts that are "more than"
  std::string sentence;
  std::vector<std::string> notes;  ///< pairs left out, fewer than planned
  std::vector<std::string> not_tested;
};

/// Judges the measured values: ln ratio within pairs, by t where nothing is "more than", else as
/// stats::bounded_pairs does. A pair with one part missing is left out and named. Refused: fewer
/// than two pairs, values not above 0, codes that are not on the sheet.
Checked<ClaimResult> judge_claim(const ClaimTest& test);

}  // namespace bq::inline plan
