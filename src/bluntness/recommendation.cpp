#include "bluntness/recommendation.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "quantity/number.h"
#include "stats/distributions.h"
#include "trial/median.h"

namespace bq {
namespace {

constexpr double kSameAngle_deg = 0.05;

double apex_deg(const LifeRow& row) { return row.facts.geometry->apex().equivalent_deg(); }
std::optional<double> finish_um(const LifeRow& row) {
  return row.facts.finish ? std::optional(row.facts.finish->mean_um()) : std::nullopt;
}

/// Tested angles of a steel, and steps between the least and the largest of them.
std::vector<double> angles_between(const std::set<double>& tested, double step) {
  std::vector<double> angles(tested.begin(), tested.end());
  for (double angle = std::ceil(*tested.begin() / step) * step; angle < *tested.rbegin();
       angle += step) {
    const bool known = std::any_of(tested.begin(), tested.end(), [&](double other) {
      return std::fabs(other - angle) < std::max(kSameAngle_deg, step / 4);
    });
    if (!known) angles.push_back(angle);
  }
  std::sort(angles.begin(), angles.end());
  return angles;
}

std::string names(const std::vector<std::string>& runs) {
  std::string text;
  for (std::size_t i = 0; i < runs.size() && i < 4; ++i) text += (i ? ", " : "") + runs[i];
  if (runs.size() > 4) text += " and " + std::to_string(runs.size() - 4) + " more";
  return text;
}

struct Evidence {
  std::vector<const LifeRow*> rows;
  std::string how;
};

/// The runs that speak for an edge: those at it, else those that bracket its angle at the same
/// finish, else those of the steel.
Evidence evidence_for(const std::vector<LifeRow>& rows, const RankedEdge& edge) {
  Evidence out;
  double below = -1e9, above = 1e9;
  std::vector<const LifeRow*> same_finish, steel;
  for (const auto& row : rows) {
    if (row.facts.steel != edge.steel) continue;
    steel.push_back(&row);
    if (finish_um(row) != edge.finish_um) continue;
    same_finish.push_back(&row);
    const double angle = apex_deg(row);
    if (std::fabs(angle - edge.angle_deg) < kSameAngle_deg) out.rows.push_back(&row);
    if (angle < edge.angle_deg) below = std::max(below, angle);
    if (angle > edge.angle_deg) above = std::min(above, angle);
  }
  if (!out.rows.empty()) {
    out.how = "tested in ";
    return out;
  }
  for (const auto* row : same_finish) {
    const double angle = apex_deg(*row);
    if (std::fabs(angle - below) < kSameAngle_deg || std::fabs(angle - above) < kSameAngle_deg)
      out.rows.push_back(row);
  }
  if (below > 0 && above < 90 && !out.rows.empty()) {
    out.how = "interpolated between " + print_number(below, 3) + "° and " + print_number(above, 3) +
              "° in ";
    return out;
  }
  out.rows = steel;
  out.how = "this finish was not tested around this angle; from the pattern of ";
  return out;
}

std::optional<double> fresh_reading(const Evidence& evidence, const std::map<std::string, const RunFit*>& fits) {
  std::vector<double> fresh;
  for (const auto* row : evidence.rows)
    for (const auto& reading : fits.at(row->facts.name)->readings)
      if (reading.cuts == 0) fresh.push_back(std::exp(reading.log_value));
  if (fresh.empty()) return std::nullopt;
  return median_of(fresh);
}

LifePoint point_of(const RankedEdge& edge) {
  LifePoint point;
  if (!edge.steel.empty()) point.steel = edge.steel;
  point.mean_tangent = std::tan(radians(edge.angle_deg));
  point.finish_um = edge.finish_um;
  return point;
}

bool passes(const RankedEdge& edge, const RecommendLimits& limits) {
  if (!limits.steels.empty() &&
      std::find(limits.steels.begin(), limits.steels.end(), edge.steel) == limits.steels.end())
    return false;
  if (limits.least_angle_deg && edge.angle_deg < *limits.least_angle_deg) return false;
  if (limits.largest_angle_deg && edge.angle_deg > *limits.largest_angle_deg) return false;
  if (edge.finish_um && limits.finest_finish_um && *edge.finish_um < *limits.finest_finish_um)
    return false;
  if (edge.finish_um && limits.coarsest_finish_um && *edge.finish_um > *limits.coarsest_finish_um)
    return false;
  return !limits.least_life || edge.life_low >= *limits.least_life;
}

/// All edges that the data can speak of, without lives.
std::vector<RankedEdge> candidate_edges(const std::vector<LifeRow>& rows, double step) {
  std::map<std::string, std::set<double>> angles;
  std::map<std::string, std::set<std::optional<double>>> finishes;
  for (const auto& row : rows) {
    // Angles closer than 0.05° are the same setting.
    const double angle = std::round(apex_deg(row) / kSameAngle_deg) * kSameAngle_deg;
    angles[row.facts.steel].insert(angle);
    finishes[row.facts.steel].insert(finish_um(row));
  }
  std::vector<RankedEdge> out;
  for (const auto& [steel, tested] : angles)
    for (const double angle : angles_between(tested, step))
      for (const auto& finish : finishes[steel]) {
        RankedEdge edge;
        edge.steel = steel;
        edge.angle_deg = angle;
        edge.finish_um = finish;
        out.push_back(edge);
      }
  return out;
}

void add_reasons(RankedEdge& edge, const Evidence& evidence, const LifeModel& model) {
  int censored = 0;
  for (const auto* row : evidence.rows) {
    edge.evidence_runs.push_back(row->facts.name);
    censored += row->cuts.censoring == Censoring::right;
  }
  edge.tested = evidence.how == "tested in ";
  const auto& runs = edge.evidence_runs;
  edge.reasons.push_back(evidence.how + (runs.size() == 1 ? "run " : "runs ") + names(runs));
  edge.reasons.push_back("the next such edge makes at least " +
                         print_number(edge.life_low, 3) + " cuts with 95 % confidence, the usual one " +
                         print_number(edge.life, 3));
  if (censored)
    edge.reasons.push_back(std::to_string(censored) + " of " + std::to_string(runs.size()) +
                           (runs.size() == 1 ? " run" : " runs") +
                           " never reached the threshold: counted as more than was cut");
  if (edge.tested && runs.size() == 1)
    edge.reasons.emplace_back("one run only at this edge; the rest is carried by the fitted pattern");
  for (const auto& coefficient : model.coefficients())
    if (coefficient.name == "ln tan angle" && coefficient.high < 0 && !edge.tested) {
      edge.reasons.push_back("life falls with the angle here (slope " +
                             print_number(coefficient.estimate, 3) + ")");
      break;
    }
}

/// The candidate that most reduces the variance of the difference between the two leaders.
std::optional<NextBestRun> next_best_run(const LifeModel& model, const std::vector<RankedEdge>& ranked,
                                         const std::vector<RankedEdge>& candidates) {
  if (ranked.size() < 2) return std::nullopt;
  const auto rival = std::find_if(ranked.begin() + 1, ranked.end(), [&](const RankedEdge& edge) {
    return edge.steel != ranked[0].steel || edge.finish_um != ranked[0].finish_um;
  });
  const RankedEdge& other = rival == ranked.end() ? ranked[1] : *rival;
  const auto first = model.row(point_of(ranked[0])), second = model.row(point_of(other));
  if (!first || !second) return std::nullopt;
  const Eigen::VectorXd contrast = *first - *second;
  if (!(model.unscaled_variance(contrast) > 0)) return std::nullopt;
  NextBestRun best;
  double left = 2;
  for (const auto& candidate : candidates) {
    const auto row = model.row(point_of(candidate));
    if (!row) continue;
    const double left_by_it = model.variance_shrink(contrast, *row);
    if (left_by_it >= left) continue;
    left = left_by_it;
    best.steel = candidate.steel;
    best.angle_deg = candidate.angle_deg;
    best.finish_um = candidate.finish_um;
  }
  best.interval_shrinks_to = std::sqrt(std::min(1.0, left));
  const auto say = [](const RankedEdge& edge) {
    return edge.steel + " " + print_number(edge.angle_deg, 3) + "°" +
           (edge.finish_um ? ", " + print_number(*edge.finish_um, 3) + " µm" : std::string());
  };
  best.reason = "one more run here tells most about " + say(ranked[0]) + " against " + say(other) +
                ": their difference would be known to " +
                print_number(100 * best.interval_shrinks_to, 3) + " % of today's interval";
  return best;
}

}  // namespace

Checked<Recommendation> recommend(const Trial& trial, const std::vector<RunFit>& fits,
                                  double threshold, const RecommendLimits& limits) {
  Recommendation out;
  LifeTable table = life_table(trial, fits, threshold);
  if (table.rows.empty()) return Refusal{"no run has enough checkpoints for a blunting curve"};
  out.medium = limits.medium.empty() ? media_of(table).front().first : limits.medium;
  table = in_medium(table, out.medium);
  LifeTable usable;
  usable.left_out = table.left_out;
  for (auto& row : table.rows) {
    if (row.facts.geometry) usable.rows.push_back(std::move(row));
    else usable.left_out.push_back({row.facts.name, "has no edge angle"});
  }
  if (usable.rows.empty()) return Refusal{"no run with an edge angle is in \"" + out.medium + "\""};
  const LifeSpec spec = usual_terms(usable);
  if (spec.terms.empty())
    return Refusal{"the runs do not differ in steel, angle or finish: there is nothing to rank"};
  const auto model = LifeModel::fit(usable, spec);
  if (!model) return model.refusal();
  out.left_out = usable.left_out;
  out.left_out.insert(out.left_out.end(), model->left_out().begin(), model->left_out().end());
  out.run_to_run_sd = model->run_to_run_sd();

  std::map<std::string, const RunFit*> by_name;
  for (const auto& fit : fits) by_name[fit.run] = &fit;
  const double t = stats::t_quantile(0.975, model->regression().degrees_of_freedom());
  std::vector<RankedEdge> candidates = candidate_edges(model->rows(), limits.angle_step_deg);
  out.candidates = int(candidates.size());
  for (auto& edge : candidates) {
    const auto row = model->row(point_of(edge));
    if (!row) continue;
    const auto [centre, error] = model->log_life(*row);
    edge.life = std::exp(centre);
    edge.life_mean_low = std::exp(centre - t * error);
    edge.life_mean_high = std::exp(centre + t * error);
    edge.life_low = std::exp(model->log_prediction_limit(*row, 0.95));
    if (!passes(edge, limits)) continue;
    const Evidence evidence = evidence_for(model->rows(), edge);
    edge.fresh_reading = fresh_reading(evidence, by_name);
    add_reasons(edge, evidence, *model);
    out.ranked.push_back(edge);
  }
  std::stable_sort(out.ranked.begin(), out.ranked.end(),
                   [](const RankedEdge& a, const RankedEdge& b) { return a.life_low > b.life_low; });
  out.next_best = next_best_run(*model, out.ranked, candidates);
  return out;
}

}  // namespace bq
