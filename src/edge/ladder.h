#pragma once

#include <optional>
#include <string>
#include <vector>

#include "edge/abrasive.h"
#include "edge/section.h"

namespace bq::inline edge {

/// The edge as it is.
struct EdgeState {
  SectionPlan section;   ///< on record
  double dull_um = 0;    ///< apex width now, >= 0; the section's own where that is larger
  double damage_um = 0;  ///< depth of the deepest chip below the apex line, >= 0
  double edge_length_mm = 100;
  std::optional<double> finish_um;  ///< scratches to be taken out where nothing else asks for metal
};

/// The edge as it is to be.
struct LadderWish {
  BevelAngles edge;
  std::optional<BevelAngles> micro;  ///< renewed on the last abrasive of both sides
  double micro_facet_um = 60;
  double finish_left_um = 6,
         finish_right_um = 6;  ///< particle size of the last abrasive on each side
  /// Only the apex is honed, at the micro-bevel's angle: the edge bevel is not touched. Needs
  /// `micro`.
  bool apex_only = false;
  bool operator==(const LadderWish&) const = default;
};

struct LadderRules {
  ShelfRules shelf;
  /// Depth (share of the particle size) to be taken off each face to remove the scratches of an
  /// abrasive: a round figure of this program, to be replaced by what the tester measures.
  double scratch_share = 0.2;
  double strokes_per_min = 40;  ///< turns minutes into passes
  /// A side, of the first abrasive: what goes beyond counts twice when a start is chosen, by
  /// `impatience_min` at most. Many strokes on one abrasive lose the angle and spend a fine one;
  /// scratches found late are worse (round figures).
  int patient_strokes = 50;
  double impatience_min = 5;
  int most_strokes = 500;     ///< a side, of the first abrasive, without a remark why
  double handling_min = 1.0;  ///< per abrasive: rinse, wipe, set up, look
  double too_far_min =
      30;  ///< what a jump that is too far is held to cost (round figure): scratches found late
};

/// One abrasive's work.
struct LadderStep {
  std::size_t abrasive = 0;  ///< index in the shelf
  GrindSide side = GrindSide::both;
  BevelAngles angles;  ///< per side
  bool micro = false;  ///< renews the micro-bevel
  double metal_mm3 = 0;
  double receded_um = 0;  ///< of the apex, by this step
  double scratch_um =
      0;  ///< depth it takes off each face to clear the scratches before it; 0: it does the bulk
  std::optional<double> minutes;  ///< without handling
  bool rate_estimated = false;
  std::optional<int> passes;  ///< over the whole edge, both sides together
  double ratio = 0;           ///< size of the abrasive before over this one's; 0: the first
  bool too_far = false;
  std::vector<std::string> first;  ///< what to do before it touches the blade
};
/// Strokes on one side, of the passes of all sides together; 0 where they are not known.
inline int strokes_a_side(GrindSide side, std::optional<int> passes) {
  return side == GrindSide::both ? (passes.value_or(0) + 1) / 2 : passes.value_or(0);
}

/// What each possible start would take in all, coarse first.
struct StartOption {
  std::size_t abrasive = 0;
  double minutes = 0;      ///< with handling
  int strokes_a_side = 0;  ///< on it
};

struct LadderPlan {
  std::vector<LadderStep> steps;
  double metal_mm3 = 0;  ///< of all steps: Section's figure from the present edge to the wished one
  double receded_um = 0;
  double minutes = 0;              ///< of all steps and their handling
  bool minutes_estimated = false;  ///< a rate was not known
  bool facet_too_narrow = false;   ///< the micro-bevel is narrower than a particle that cuts it
  std::vector<StartOption> starts;
  Section after;                     ///< the wished edge
  std::vector<std::string> remarks;  ///< whole sentences
};

/// Steps from the edge's state to the wish, with abrasives of the shelf that are neither retired,
/// nor strops, nor hardly bite on the class. Metal is fixed by the section: the first abrasive
/// stops short, each finer one takes off the scratches of the one before, and the last one ends at
/// the wished angles where the apex is formed and the damage is gone; the micro-bevel comes after
/// them. An abrasive whose scratches would go deeper than what is to come off is no start. The
/// quickest sequence is taken, handling, `patient_strokes` and `too_far_min` for jumps that are too
/// far included (shortest path over the sizes; the figures of the steps come from Section, whatever
/// the search estimated). Jumps that are too far are marked. Unlike finishes: both sides go to the
/// coarser one, then one side goes on, on the micro-bevel where there is one. Refused: no usable
/// abrasive, a wish that cannot be ground, nothing to do, values out of range.
Checked<LadderPlan> plan_ladder(const EdgeState& state, const LadderWish& wish,
                                const std::vector<Abrasive>& shelf, CuttingClass cutting_class,
                                const LadderRules& rules = {});

/// The section that a ladder leaves, as a plan to be put on record: the blade's own grinds, a
/// micro-bevel that was ground away left out, one grind down to the new apex (joined to the last
/// one where that has the same angles), the finer side's, the micro-bevel anew. It makes
/// `plan.after` to 1e-4 mm² and 0.1 µm; empty where it would not.
std::optional<SectionPlan> resulting_section(const EdgeState& state, const LadderWish& wish,
                                             const LadderPlan& plan);

}  // namespace bq::inline edge
