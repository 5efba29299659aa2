#include "bluntness/edge_candidates.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "bluntness/edge_evidence.h"
#include "edge/parting.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/distributions.h"
#include "trial/median.h"

namespace bq::inline bluntness::candidates {
namespace {

/// Face of a micro-bevel whose width nobody measured.
constexpr double kMicroFacet_um = 60;

/// What was tested of one steel in one work.
struct Tested {
  std::set<double> angles, bevels;
  bool whole = false;  ///< an edge without a micro-bevel
  std::set<std::optional<double>> finishes;
};
std::map<std::string, Tested> tested_in(const LifeModel& model) {
  std::map<std::string, Tested> out;
  for (const auto& row : model.rows()) {
    Tested& t = out[row.facts.steel];
    t.angles.insert(std::round(apex_deg(row) / kSameAngle_deg) *
                    kSameAngle_deg);  // closer than that is the same setting
    t.finishes.insert(finish_um(row));
    if (row.facts.geometry->micro())
      t.bevels.insert(row.facts.geometry->edge().equivalent_deg());
    else
      t.whole = true;
  }
  return out;
}

/// Tested angles of a steel, and steps between (and as far as wished beyond) the least and the
/// largest of them.
std::set<double> angles_to_judge(const std::set<double>& tested, const RecommendLimits& limits) {
  std::set<double> angles = tested;
  const double step = limits.angle_step_deg, from = *tested.begin() - limits.beyond_deg,
               to = *tested.rbegin() + limits.beyond_deg;
  for (double angle = std::ceil(from / step - 1e-9) * step; angle <= to + 1e-9; angle += step) {
    const bool known = std::any_of(tested.begin(), tested.end(), [&](double other) {
      return std::fabs(other - angle) < std::max(kSameAngle_deg, step / 4);
    });
    if (!known && angle > 0.5 && angle < kAngleLimit_deg) angles.insert(angle);
  }
  return angles;
}

}  // namespace

double apex_deg(const LifeRow& row) { return row.facts.geometry->apex().equivalent_deg(); }

LifePoint point_of(const RankedEdge& edge) {
  LifePoint point;
  if (!edge.steel.empty()) point.steel = edge.steel;
  point.mean_tangent = std::tan(radians(edge.angle_deg));
  point.finish_um = edge.finish_um;
  return point;
}

Checked<std::vector<WorkModel>> work_models(const LifeTable& all, const RecommendLimits& limits,
                                            std::vector<LeftOut>& left_out) {
  const WorkCounts works = media_of(all);
  std::vector<WorkShare> mix;
  double sum = 0;
  const auto add = [&](const std::string& name, double share) {
    mix.push_back({work_meant(works, name).value_or(name), share});
    sum += share;
  };
  for (const auto& part : limits.mix)
    if (part.share > 0) add(part.medium, part.share);
  if (!limits.mix.empty() && !(sum > 0))
    return Refusal{said("no kind of work has a share above 0")};
  if (mix.empty()) add(limits.medium, 1);
  std::vector<WorkModel> out;
  for (const auto& part : mix) {
    if (std::any_of(out.begin(), out.end(),
                    [&](const WorkModel& w) { return w.medium == part.medium; }))
      return Refusal{
          said("\"{medium}\" stands twice in the mix of work", {{"medium", part.medium}})};
    const LifeTable table = in_medium(all, part.medium);
    LifeTable usable;
    for (const auto& row : table.rows) {
      if (row.facts.geometry)
        usable.rows.push_back(row);
      else
        left_out.push_back({row.facts.name, "has no edge angle"});
    }
    if (mix.size() == 1)
      left_out.insert(left_out.end(), table.left_out.begin(), table.left_out.end());
    if (usable.rows.empty())
      return Refusal{part.medium.empty() ? said("no run has an edge angle")
                                         : said("no run with an edge angle is in \"{medium}\"",
                                                {{"medium", part.medium}})};
    const LifeSpec spec = terms_with_blades(usable);
    const std::string where = mix.size() > 1 ? " (" + part.medium + ")" : "";
    if (spec.terms.empty())
      return Refusal{
          said("the runs do not differ in steel, angle or finish: there is nothing to rank{where}",
               {{"where", where}})};
    auto model = LifeModel::fit(usable, spec);
    if (!model) return Refusal{model.refusal().reason + where};
    left_out.insert(left_out.end(), model->left_out().begin(), model->left_out().end());
    out.push_back({part.medium, part.share / sum, *model});
  }
  return out;
}

std::vector<RankedEdge> edges_to_judge(const std::vector<WorkModel>& work,
                                       const RecommendLimits& limits) {
  std::vector<std::map<std::string, Tested>> tested;
  for (const auto& w : work) tested.push_back(tested_in(w.model));
  std::map<std::string, Tested> all;
  for (const auto& one : tested)
    for (const auto& [steel, t] : one) {
      all[steel].angles.insert(t.angles.begin(), t.angles.end());
      all[steel].finishes.insert(t.finishes.begin(), t.finishes.end());
    }
  std::vector<RankedEdge> out;
  for (const auto& [steel, t] : all)
    for (const double angle : angles_to_judge(t.angles, limits))
      for (const auto& finish : t.finishes) {
        RankedEdge edge;
        edge.steel = steel;
        edge.angle_deg = angle;
        edge.finish_um = finish;
        bool offered = true;
        for (const auto& one : tested) {
          const auto here = one.find(steel);
          if (here == one.end()) {
            offered = false;
            break;
          }
          const auto& angles = here->second.angles;
          const double outside = std::max(*angles.begin() - angle, angle - *angles.rbegin());
          const auto& finishes = here->second.finishes;
          const bool finish_known = finish ? finishes.begin()->has_value() &&
                                                 *finish >= **finishes.begin() - 1e-9 &&
                                                 *finish <= **finishes.rbegin() + 1e-9
                                           : !finishes.rbegin()->has_value();
          offered = offered && outside <= limits.beyond_deg + kSameAngle_deg && finish_known;
          edge.extrapolated = edge.extrapolated || outside > kSameAngle_deg;
        }
        if (offered) out.push_back(std::move(edge));
      }
  return out;
}

std::vector<double> weights_in(const RankedEdge& edge, const std::vector<WorkModel>& work) {
  std::vector<double> out;
  double sum = 0;
  for (const auto& w : work) {
    out.push_back(w.share * std::exp(-w.model.log_life(*w.model.row(point_of(edge))).first));
    sum += out.back();
  }
  for (double& part : out) part /= sum;
  return out;
}

bool add_life(RankedEdge& edge, const std::vector<WorkModel>& work) {
  double inverse = 0, dof = 1e9;
  for (const auto& w : work) {
    const auto row = w.model.row(point_of(edge));
    if (!row) return false;
    inverse += w.share * std::exp(-w.model.log_life(*row).first);
    dof = std::min(dof, double(w.model.degrees_of_freedom(*row)));
  }
  const std::vector<double> parts = weights_in(edge, work);
  double variance = 0, own = 0;
  for (std::size_t i = 0; i < work.size(); ++i) {
    const LifeModel& model = work[i].model;
    variance += std::pow(parts[i] * model.standard_error(*model.row(point_of(edge))), 2);
    own += parts[i] * std::hypot(model.sigma(), model.blade_sd().value_or(0));
  }
  const double centre = -std::log(inverse), t = stats::t_quantile(0.975, dof);
  edge.life = std::exp(centre);
  edge.life_mean_low = std::exp(centre - t * std::sqrt(variance));
  edge.life_mean_high = std::exp(centre + t * std::sqrt(variance));
  edge.life_low = std::exp(centre - stats::t_quantile(0.95, dof) * std::sqrt(variance + own * own));
  return true;
}

Known known_of(const std::vector<WorkModel>& work, const std::vector<RunFit>& fits) {
  Known out;
  for (const auto& fit : fits) out.fits[fit.run] = &fit;
  for (const auto& w : work)
    for (const auto& [steel, t] : tested_in(w.model)) {
      out.bevels[steel].insert(t.bevels.begin(), t.bevels.end());
      if (t.whole) out.whole.insert(steel);
    }
  return out;
}

/// A search speaks of this work: the same medium, and cut in the same way where both say how.
bool is_of(const RoughUse& use, const WorkModel& work) {
  if (!is_in_medium(work.medium, use.medium)) return false;
  if (!use.cut_mode) return true;
  const auto& rows = work.model.rows();
  return std::any_of(rows.begin(), rows.end(), [&](const auto& row) {
    return !row.facts.cut_mode || *row.facts.cut_mode == *use.cut_mode;
  });
}

/// What a cut takes, fresh and when blunt, in the work of the mix that asks for most. A work
/// without strokes of its own is not known, and with it the whole mix.
void add_force(RankedEdge& edge, const std::vector<WorkModel>& work, const Known& looked_up,
               double threshold, const RecommendEvidence& known) {
  edge.force_fresh_N = edge.force_blunt_N = std::nullopt;
  const auto own =
      known.force.empty() || !known.parting_N_per_mm ? std::nullopt : known.parting_N_per_mm(edge);
  std::optional<double> most_fresh, most_blunt;
  bool fresh_known = true;
  for (const auto& w : work) {
    const auto found = known.force.find(w.medium);
    if (found == known.force.end()) return;
    const ForceSplit& split = found->second;
    PartingOptions wedge;
    wedge.depth_mm = known.depth_mm;
    wedge.friction = known.friction;
    wedge.stiffness_N_per_mm3 = split.stiffness_N_per_mm3;
    const double parting =
        known.engaged_mm *
        (own ? *own * split.stiffness_N_per_mm3
             : wedge_parting_N_per_mm(
                   BevelAngles::symmetric(edge.edge_deg.value_or(edge.angle_deg)), wedge));
    const auto fresh = fresh_reading(evidence_for(w.model.rows(), edge), looked_up.fits);
    fresh_known = fresh_known && fresh;
    if (fresh)
      most_fresh =
          std::max(most_fresh.value_or(0), split.severing_N_per_reading * *fresh + parting);
    most_blunt =
        std::max(most_blunt.value_or(0), split.severing_N_per_reading * threshold + parting);
  }
  if (fresh_known) edge.force_fresh_N = most_fresh;
  edge.force_blunt_N = most_blunt;
}

void add_evidence(RankedEdge& edge, const std::vector<WorkModel>& work, const Known& looked_up,
                  double threshold, const RecommendLimits& limits, const RecommendEvidence& known) {
  edge.fresh_reading = fresh_reading(evidence_for(work.front().model.rows(), edge), looked_up.fits);
  std::vector<const RoughUse*> rough;
  for (const auto& use : known.rough)
    if (use.steel == edge.steel &&
        std::any_of(work.begin(), work.end(), [&](const WorkModel& w) { return is_of(use, w); }))
      rough.push_back(&use);
  std::set<double> bevels = looked_up.bevels.at(edge.steel);
  bevels.erase(bevels.lower_bound(edge.angle_deg - kSameAngle_deg), bevels.end());
  const auto with_bevel = [&](std::optional<double> bevel) {
    edge.edge_deg = bevel;
    add_force(edge, work, looked_up, threshold, known);
    edge.stress_ratio = known.stress_ratio ? known.stress_ratio(edge) : std::nullopt;
    edge.resharpening = known.resharpening ? known.resharpening(edge) : std::nullopt;
    edge.roughest =
        judge(profile_of(bevel.value_or(edge.angle_deg),
                         bevel ? std::optional(edge.angle_deg) : std::nullopt, kMicroFacet_um),
              rough);
    return edge.roughest != RoughestUse::damaged &&
           (!limits.hold_roughest || edge.roughest == RoughestUse::held) &&
           (!limits.most_force_N || !edge.force_blunt_N ||
            *edge.force_blunt_N <= *limits.most_force_N) &&
           (!limits.most_minutes || !edge.resharpening ||
            edge.resharpening->minutes <= *limits.most_minutes);
  };
  bool passed = false;
  for (const double bevel : bevels)
    if (with_bevel(bevel)) {
      passed = true;
      break;
    }
  if (!passed && looked_up.whole.contains(edge.steel)) passed = with_bevel(std::nullopt);
  if (!passed) with_bevel(bevels.empty() ? std::nullopt : std::optional(*bevels.begin()));

  double rate = 0;
  for (const auto& w : work) {
    std::vector<AngledBlock> blocks;
    for (const auto& fact : known.damage)
      if (!fact.roughest && fact.steel == edge.steel && is_in_medium(w.medium, fact.medium))
        blocks.push_back(fact.block);
    const auto bound = damage_bound(blocks, edge.angle_deg);
    if (!bound) return;
    rate += w.share * bound->rate_upper;
    edge.damage_tested_deg = bound->tested_deg;
    edge.damage_looks += bound->blocks.size();
    edge.damage_seen += std::count_if(bound->blocks.begin(), bound->blocks.end(),
                                      [](const DamageBlock& block) { return block.damaged; });
  }
  edge.damage_rate_upper = rate;
}

}  // namespace bq::inline bluntness::candidates
