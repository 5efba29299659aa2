#pragma once

#include <map>
#include <optional>
#include <string>
#include <tuple>

#include "bluntness/recommendation.h"
#include "edge/ladder.h"
#include "trial/trial.h"
#include "workflow/section_study.h"

namespace bq::inline workflow {

/// The section of an edge of this steel: the primary grind of a blade of it (a 2 mm blank ground at
/// 3° per side where none is on record), the edge bevel, the micro-bevel 60 µm wide. Every index
/// and estimate of an edge that is not the blade in hand is of this section. Empty where it cannot
/// be ground.
std::optional<SectionPlan> section_with(const Trial& facts, const std::string& steel,
                                        const BevelAngles& edge,
                                        const std::optional<BevelAngles>& micro,
                                        const std::string& own_blade = {});

/// What edges of the rack's steels cost on the shelf at hand and what their sections bear. Answers
/// are remembered; not for several threads.
class EdgeCosts {
 public:
  /// `stones`: names of the abrasives at hand; empty: all that are not retired. `section_questions`
  /// as Section keeps them.
  EdgeCosts(const Trial& facts, const std::vector<std::string>& stones,
            const std::string& section_questions);

  /// As section_with().
  [[nodiscard]] std::optional<SectionPlan> section_of(const RankedEdge& edge) const;
  /// One touch-up: from an apex 5 µm wide to sharp, on the micro-bevel where there is one, up to
  /// the finish. Empty where no abrasive at hand comes within a factor of 1.4 of the finish, or the
  /// edge cannot be ground.
  std::optional<Resharpening> touch_up(const RankedEdge& edge);
  std::optional<LadderPlan> ladder(const RankedEdge& edge) const;
  /// Parting force (N/mm) 5 mm deep at stiffness 1; empty where the edge cannot be ground.
  std::optional<double> parting_N_per_mm(const RankedEdge& edge, double friction);
  /// Peak stress over the steel's limit under the side load set on Section; empty where the card
  /// does not say what the steel bears.
  std::optional<double> stress_ratio(const RankedEdge& edge);
  [[nodiscard]] double edge_length_mm(const std::string& steel) const;
  [[nodiscard]] const std::vector<Abrasive>& shelf() const { return shelf_; }

 private:
  using Key = std::tuple<std::string, double, double, double>;
  static Key key_of(const RankedEdge& edge);
  const Trial& facts_;
  std::vector<Abrasive> shelf_;
  SectionQuestions questions_;
  std::map<Key, std::optional<Resharpening>> touch_ups_;
  std::map<Key, std::optional<double>> stresses_, partings_;
};

inline constexpr double kBluntApex_um = 5;  ///< apex width of an edge that is to be touched up

}  // namespace bq::inline workflow
