#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bluntness/search_load.h"
#include "trial/bench_session.h"
#include "trial/trial.h"

namespace bq::inline bluntness {

/// Blocks of one geometry under the roughest use.
struct DamageBlock {
  std::int64_t cuts = 0;  ///< > 0
  bool damaged = false;   ///< at least one damaging event
};

/// The blocks between the counts of cuts at which a run's edge was looked at. Several looks at one
/// count are one look: damage in any of them counts. A chip seen again at a later look (within 1
/// mm, not a fifth wider) is no new event; damage that was seen before and whose place is not known
/// leaves the later blocks out, because nobody can say whether it is new.
std::vector<DamageBlock> blocks_between_looks(const Run& run);

/// One-sided upper limit (at `level`) of damaging events per cut; empty where there is none (every
/// block damaged, or no block). All clean over n cuts: 1 − (1 − level)^(1/n). Blocks of one size N:
/// the exact upper limit q of the share of damaged blocks (Clopper–Pearson), then 1 − (1 −
/// q)^(1/N). Unequal blocks: profile likelihood, cut-off z²(level), or where it is larger the exact
/// limit from the count of damaged blocks, so that the bound keeps its level. DOMAIN §9.
std::optional<double> damage_rate_upper(const std::vector<DamageBlock>& blocks,
                                        double level = 0.95);
/// "seen once in 3 looks", "none seen in 3 looks".
std::string seen_in_looks(long damaged, std::size_t looks);
/// "No damage in 200 cuts: at worst 1 damage in 67 cuts (one-sided 95 %)." or why nothing can be
/// promised.
std::string bound_in_words(const std::vector<DamageBlock>& blocks);

/// What the stress scan needs: the side load of the roughest use and the leading limit of the
/// steel.
struct StressFacts {
  double line_N_per_mm = 0, depth_mm = 0, limit_MPa = 0;
};

/// The next step of a search: a whole section, as it is to be ground.
struct SearchProposal {
  enum class Kind { rough_block, confirmation, finished } kind = Kind::rough_block;
  double edge_angle_deg = 0;      ///< per side
  double bevel_thickness_um = 0;  ///< 0: the whole edge bevel
  std::int64_t cuts = 0;
  std::optional<double> remove_um;    ///< metal to take off first: the depth that holds the damage
  std::optional<double> regrind_deg;  ///< the face that the removal takes back, ground to an apex
                                      ///< before the new bevel goes on it
  std::optional<double> micro_deg;    ///< renewed at last
  double micro_um = 0;
  std::optional<SearchLoad> load;  ///< what the search has met so far
  std::string reason;              ///< quotes what was seen, the load met and the data so far
};
/// After damage: `step_deg` steeper than the steepest angle that failed in this search, at most
/// 45°: the tester's step leads, and no angle is passed over that the search has not excluded. The
/// new bevel reaches to the search's share of the damaged thickness, never less far than the bevel
/// that failed and well out of the micro-bevel: nowhere slimmer than what was damaged. With
/// `stress` the load that the search itself has met is quoted with its range; a load guessed on
/// Section never leads. After a clean block: confirmation with the same section; after a clean
/// confirmation: finished.
SearchProposal propose(const DamageSearch& search, const std::optional<StressFacts>& stress);

/// The round that a proposal asks for, before it is cut.
SearchRound round_of(const SearchProposal& proposal);
/// The whole section that a proposal asks for, in the blade as the search has left it.
ApexProfile section_of(const DamageSearch& search, const SearchProposal& proposal);

/// Why a search cannot be begun or gone on with as it stands; empty: it can. No use, no medium, an
/// angle or a bevel that cannot be, a bevel thinner than the apex, a micro-bevel flatter than the
/// bevel it stands on.
std::optional<std::string> fault_of(const DamageSearch& search);
/// The same of a round that is to be put on record: damage thicker than `stock_mm` (the blade).
std::optional<std::string> fault_of(const SearchRound& round, double stock_mm);

/// Blocks of the search by geometry, in the order first met.
struct SearchGeometry {
  double edge_angle_deg = 0, bevel_thickness_um = 0;
  std::optional<double> micro_deg;
  std::vector<DamageBlock> blocks;
};
std::vector<SearchGeometry> geometries_of(const DamageSearch& search);

}  // namespace bq::inline bluntness
