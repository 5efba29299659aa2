#pragma once

#include <optional>
#include <string>
#include <vector>

#include "edge/section.h"
#include "quantity/angle.h"
#include "trial/bench_session.h"

namespace bq::inline bluntness {

/// A symmetric section near its apex: bevels from the apex outward, each up to the full thickness
/// where it ends; the last one runs on.
struct ApexProfile {
  struct Bevel {
    double angle_deg = 0;  ///< per side
    double up_to_um = 0;   ///< full thickness of the section where it ends; 0: it runs on
    bool operator==(const Bevel&) const = default;
  };
  std::vector<Bevel> bevels;
  /// Distance from the apex (µm) where the section is this thick (µm, both sides).
  [[nodiscard]] double distance_um(double thickness_um) const;
  /// Thickness (µm, both sides) at a distance from the apex (µm).
  [[nodiscard]] double thickness_um(double distance_um) const;
};

/// The micro-bevel (if any) on its edge bevel; `facet_um`: width of the micro-bevel's face.
ApexProfile profile_of(double edge_deg, std::optional<double> micro_deg, double facet_um);

/// A section as it is, both sides together, to 2 mm from its apex; arcs as eight chords a face.
ApexProfile profile_of(const Section& section);

/// Nowhere thinner than `other` from the apex to `depth_um`.
bool at_least_as_thick(const ApexProfile& one, const ApexProfile& other, double depth_um);

/// What one round of a damage search says, of the whole section it was cut with.
struct RoughUse {
  std::string steel, medium;
  ApexProfile section;
  bool damaged = false;
  bool confirmed = false;  ///< a clean long block: only then an edge is said to have held
  double depth_um = 0;     ///< from the apex: how deep a section has to be compared with this one
  std::optional<CutMode> cut_mode{};  ///< empty: the search did not say
};

/// Full thickness (µm) where a micro-bevel's face of this width ends.
double micro_top_um(double micro_deg, double facet_um);
/// Thickness (µm) up to which a round damaged its edge; empty: clean, or not measured.
std::optional<double> damaged_thickness_um(const SearchRound& round);
/// Ground alike: bevel, where it ends, micro-bevel.
bool same_edge(const SearchRound& one, const SearchRound& other);

/// The whole section of every round, as ground: its bevel, what it stands on (base_deg, or what the
/// rounds before left), the micro-bevel on it. Damage of a measured thickness takes with it all
/// bevels that end below: the metal is ground away up to there.
std::vector<ApexProfile> sections_of(const DamageSearch& search);

/// "13° per side up to 66 µm thick on 8° per side, under a micro-bevel of 17° per side".
/// `has_micro`: its first bevel is one.
std::string describe(const ApexProfile& section, bool has_micro, AngleConvention angles);

/// All rounds with cuts. A bevel of a round stands on what the rounds before left. Depth: twice as
/// far as the damage reached where its thickness was measured, else kDamageDepth_um; kHeldDepth_um
/// for clean rounds.
std::vector<RoughUse> rough_uses(const DamageSearch& search);
inline constexpr double kDamageDepth_um = 300, kHeldDepth_um = 1000;

/// What rounds of this steel and medium say of a section (DOMAIN §9): damaged where it is nowhere
/// thicker than one that was damaged, held where it is nowhere thinner than one that held its long
/// block; damage counts first; else it is not known.
enum class RoughestUse { not_tried, damaged, held };
RoughestUse judge(const ApexProfile& section, const std::vector<const RoughUse*>& uses);

}  // namespace bq::inline bluntness
