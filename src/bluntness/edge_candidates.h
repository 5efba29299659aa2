#pragma once

#include <map>
#include <set>

#include "bluntness/recommendation.h"

/// Inside of recommend(): what could be made, and what the runs say of it.
namespace bq::inline bluntness::candidates {

/// The life model of one kind of work.
struct WorkModel {
  std::string medium;
  double share = 1;  ///< of the cuts; all sum to 1
  LifeModel model;
};

/// Refused, naming the medium, where a model cannot be fitted. `out` gets what was left out.
Checked<std::vector<WorkModel>> work_models(const LifeTable& all, const RecommendLimits& limits,
                                            std::vector<LeftOut>& out);

LifePoint point_of(const RankedEdge& edge);
double apex_deg(const LifeRow& row);

/// All edges that the data can speak of in every work, without figures.
std::vector<RankedEdge> edges_to_judge(const std::vector<WorkModel>& work,
                                       const RecommendLimits& limits);

/// Life of the edge over the whole mix, with its intervals. False where a work's model cannot say.
bool add_life(RankedEdge& edge, const std::vector<WorkModel>& work);
/// How much each work weighs in ln life of the edge: shares of the wear.
std::vector<double> weights_in(const RankedEdge& edge, const std::vector<WorkModel>& work);

/// What every edge's evidence looks up.
struct Known {
  std::map<std::string, const RunFit*> fits;  ///< by run
  std::map<std::string, std::set<double>>
      bevels;                   ///< tested behind a micro-bevel, by steel, degrees per side
  std::set<std::string> whole;  ///< steels with runs on an edge without a micro-bevel
};
Known known_of(const std::vector<WorkModel>& work, const std::vector<RunFit>& fits);

/// Force, damage, stress and resharpening, as far as known. Of the edge bevels tested with the
/// steel the slimmest that passes is taken.
void add_evidence(RankedEdge& edge, const std::vector<WorkModel>& work, const Known& known,
                  double threshold, const RecommendLimits& limits,
                  const RecommendEvidence& evidence);
/// Sentences that quote the runs.
void add_reasons(RankedEdge& edge, const std::vector<WorkModel>& work, AngleConvention angles);

}  // namespace bq::inline bluntness::candidates
