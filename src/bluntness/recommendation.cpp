#include "bluntness/recommendation.h"

#include <algorithm>
#include <cmath>

#include "bluntness/choice_certainty.h"
#include "bluntness/edge_candidates.h"
#include "bluntness/recommend_sensitivity.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/distributions.h"

namespace bq::inline bluntness {
namespace {

/// Bounds that are copied from what is shown let through what they were copied from.
constexpr double kShown_deg = 0.05, kShown = 0.005;
/// Of the score, which is a sum of logarithms: below it a lead is no lead. A round figure.
constexpr double kLevelScore = 0.1;

using candidates::WorkModel;
using ranking::Judged;
using ranking::Limit;

std::vector<Limit> stopped_by(const RankedEdge& edge, const RecommendLimits& limits) {
  std::vector<Limit> out;
  if (!limits.steels.empty() &&
      std::find(limits.steels.begin(), limits.steels.end(), edge.steel) == limits.steels.end())
    out.push_back(Limit::steel);
  if ((limits.least_angle_deg && edge.angle_deg < *limits.least_angle_deg - kShown_deg) ||
      (limits.largest_angle_deg && edge.angle_deg > *limits.largest_angle_deg + kShown_deg))
    out.push_back(Limit::angle);
  if (edge.finish_um &&
      ((limits.finest_finish_um && *edge.finish_um < *limits.finest_finish_um * (1 - kShown)) ||
       (limits.coarsest_finish_um && *edge.finish_um > *limits.coarsest_finish_um * (1 + kShown))))
    out.push_back(Limit::finish);
  if (limits.least_life && edge.life_low < *limits.least_life) out.push_back(Limit::life);
  if (limits.most_force_N && !(edge.force_blunt_N && *edge.force_blunt_N <= *limits.most_force_N))
    out.push_back(Limit::force);
  if (limits.most_damage_rate &&
      !(edge.damage_rate_upper && *edge.damage_rate_upper <= *limits.most_damage_rate))
    out.push_back(Limit::damage);
  if (limits.most_minutes &&
      !(edge.resharpening && edge.resharpening->minutes <= *limits.most_minutes))
    out.push_back(Limit::minutes);
  if (edge.roughest == RoughestUse::damaged ||
      (limits.hold_roughest && edge.roughest != RoughestUse::held))
    out.push_back(Limit::roughest);
  return out;
}

void mark_dominated(std::vector<Judged>& passed) {
  constexpr double kAlike = 1e-9;  // of ln
  for (auto& a : passed)
    a.edge.dominated = std::any_of(passed.begin(), passed.end(), [&](const Judged& b) {
      bool better = false;
      for (int k = 0; k < ranking::kFigures; ++k) {
        // What is not known of it is left out; what is not known of the other cannot beat it.
        const auto mine = ranking::log_figure(a.edge, k), other = ranking::log_figure(b.edge, k);
        if (!mine) continue;
        if (!other || *other < *mine - kAlike) return false;
        better = better || *other > *mine + kAlike;
      }
      return better;
    });
}

/// The run that most reduces the variance of the difference of ln life between the two leaders.
std::optional<NextBestRun> next_best_run(const std::vector<WorkModel>& work,
                                         const std::vector<RankedEdge>& ranked,
                                         const std::vector<RankedEdge>& all,
                                         AngleConvention angles) {
  if (ranked.size() < 2) return std::nullopt;
  const auto rival = std::find_if(ranked.begin() + 1, ranked.end(), [&](const RankedEdge& edge) {
    return edge.steel != ranked[0].steel || edge.finish_um != ranked[0].finish_um;
  });
  const RankedEdge& other = rival == ranked.end() ? ranked[1] : *rival;
  const auto first_parts = candidates::weights_in(ranked[0], work),
             other_parts = candidates::weights_in(other, work);
  std::vector<Eigen::VectorXd> contrasts;
  std::vector<double> variances;
  double total = 0;
  for (std::size_t i = 0; i < work.size(); ++i) {
    const LifeModel& model = work[i].model;
    contrasts.emplace_back(first_parts[i] * *model.row(candidates::point_of(ranked[0])) -
                           other_parts[i] * *model.row(candidates::point_of(other)));
    variances.push_back(std::pow(model.sigma(), 2) * model.unscaled_variance(contrasts.back()));
    total += variances.back();
  }
  if (!(total > 0)) return std::nullopt;
  NextBestRun best;
  double least = 2;
  for (const auto& candidate : all)
    for (std::size_t i = 0; i < work.size(); ++i) {
      const auto row = work[i].model.row(candidates::point_of(candidate));
      if (!row || !(variances[i] > 0)) continue;
      const double left =
          1 - variances[i] / total * (1 - work[i].model.variance_shrink(contrasts[i], *row));
      if (left >= least) continue;
      least = left;
      best.steel = candidate.steel;
      best.angle_deg = candidate.angle_deg;
      best.finish_um = candidate.finish_um;
      best.medium = work[i].medium;
    }
  best.interval_shrinks_to = std::sqrt(std::min(1.0, least));
  const std::string where = work.size() > 1 ? said(" in {medium}", {{"medium", best.medium}})
                                            : std::string(),
                    pair = said("{ranked} against {other}", {{"ranked", name_of(ranked[0], angles)},
                                                             {"other", name_of(other, angles)}}),
                    left = print_number(100 * best.interval_shrinks_to, 3) + " %";
  best.reason = !best.helps() ? said(
                                    "no single run settles {pair}: even this one{where} leaves "
                                    "{left} of today's interval of their difference",
                                    {{"pair", pair}, {"where", where}, {"left", left}})
                              : said(
                                    "one more run here{where} tells most about {pair}: their "
                                    "difference would be known to {left} of today's interval",
                                    {{"where", where}, {"pair", pair}, {"left", left}});
  return best;
}

/// Whether the lives of two edges can be told apart (95 %).
bool lives_differ(const RankedEdge& a, const RankedEdge& b, const std::vector<WorkModel>& work) {
  const auto a_parts = candidates::weights_in(a, work), b_parts = candidates::weights_in(b, work);
  double variance = 0, dof = 1e9;
  for (std::size_t i = 0; i < work.size(); ++i) {
    const LifeModel& model = work[i].model;
    const Eigen::VectorXd contrast = a_parts[i] * *model.row(candidates::point_of(a)) -
                                     b_parts[i] * *model.row(candidates::point_of(b));
    variance += std::pow(model.standard_error(contrast), 2);
    dof = std::min(dof, double(model.degrees_of_freedom(contrast)));
  }
  return std::fabs(std::log(a.life / b.life)) > stats::t_quantile(0.975, dof) * std::sqrt(variance);
}

/// Among edges whose lives cannot be told apart from the first's one that was made and tried goes
/// before one that is read off a line; and that there are such is said.
void settle_ties(Recommendation& out, const std::vector<WorkModel>& work, AngleConvention angles) {
  if (out.ranked.size() < 2) return;
  std::vector<std::size_t> level;
  for (std::size_t i = 1; i < out.ranked.size(); ++i)
    if (!lives_differ(out.ranked[0], out.ranked[i], work)) level.push_back(i);
  if (!out.ranked.front().tested)
    for (const std::size_t i : level) {
      RankedEdge& edge = out.ranked[i];
      // The wishes may have set the first one above it for something else.
      if (!edge.tested || edge.score < out.ranked.front().score - kLevelScore) continue;
      edge.reasons.insert(edge.reasons.begin(),
                          said("it was made and tried; the life of {ranked}, which was not, cannot "
                               "be told apart from its own",
                               {{"ranked", name_of(out.ranked.front(), angles)}}));
      std::rotate(out.ranked.begin(), out.ranked.begin() + std::ptrdiff_t(i),
                  out.ranked.begin() + std::ptrdiff_t(i) + 1);
      break;
    }
  int tested = 0, count = 0;
  for (std::size_t i = 1; i < out.ranked.size(); ++i)
    if (!lives_differ(out.ranked[0], out.ranked[i], work)) {
      ++count;
      tested += out.ranked[i].tested;
      out.ranked[i].tied = true;
    }
  out.level_with_first = count;
  if (count)
    out.remarks.insert(
        out.remarks.begin(),
        said("{count}{edge_has_life} that cannot be told apart from the first's (95 %), {tested} "
             "of them tried: what else matters decides.",
             {{"count", std::to_string(count)},
              {"edge_has_life", count == 1 ? said(" edge has a life") : said(" edges have lives")},
              {"tested", std::to_string(tested)}}));
}

}  // namespace

std::string name_of(const RankedEdge& edge, AngleConvention angles) {
  return (edge.steel.empty() ? "" : edge.steel + " ") + print_angle(edge.angle_deg, angles) +
         (edge.finish_um ? ", " + print_number(*edge.finish_um, 3) + " µm" : std::string());
}

Checked<Recommendation> recommend(const Trial& trial, const std::vector<RunFit>& fits,
                                  double threshold, const RecommendLimits& limits,
                                  const RecommendWishes& wishes,
                                  const RecommendEvidence& evidence) {
  Recommendation out;
  const LifeTable table = life_table(trial, fits, threshold);
  if (table.rows.empty())
    return Refusal{said("no run has enough checkpoints for a blunting curve")};
  const auto work = candidates::work_models(table, limits, out.left_out);
  if (!work) return work.refusal();
  for (const auto& w : *work) {
    out.work.push_back({w.medium, w.share});
    out.run_to_run_sd = std::max(out.run_to_run_sd, w.model.run_to_run_sd());
  }
  std::vector<RankedEdge> all = candidates::edges_to_judge(*work, limits);
  std::vector<Judged> passed, stopped;
  int no_force = 0, no_damage = 0, no_minutes = 0;
  std::erase_if(all, [&](RankedEdge& edge) { return !candidates::add_life(edge, *work); });
  const candidates::Known known = candidates::known_of(*work, fits);
  for (auto& edge : all) {
    candidates::add_evidence(edge, *work, known, threshold, limits, evidence);
    const auto limits_hit = stopped_by(edge, limits);
    no_force += limits.most_force_N && !edge.force_blunt_N;
    no_damage += limits.most_damage_rate && !edge.damage_rate_upper;
    no_minutes += limits.most_minutes && !edge.resharpening;
    (limits_hit.empty() ? passed : stopped).push_back({edge, limits_hit, {}});
  }
  out.candidates = int(all.size());
  const auto edges = [](int n) {
    return std::to_string(n) + (n == 1 ? said(" edge does") : said(" edges do"));
  };
  std::string without_strokes;
  for (const auto& w : *work)
    if (!w.medium.empty() && !evidence.force.contains(w.medium))
      without_strokes += (without_strokes.empty() ? said(" in ") : ", ") + w.medium;
  if (no_force)
    out.remarks.push_back(
        said("{edges} not pass because no force strokes{without_strokes} tell the cutting force: "
             "record strokes at the checkpoints of runs with at least two bevels.",
             {{"edges", edges(no_force)}, {"without_strokes", without_strokes}}));
  if (no_damage)
    out.remarks.push_back(
        said("{edges} not pass because nobody has looked for damage at that angle or a slimmer "
             "one, or every look found some.",
             {{"edges", edges(no_damage)}}));
  if (no_minutes)
    out.remarks.push_back(
        said("{edges} not pass because the shelf cannot make that edge, or it is not known how.",
             {{"edges", edges(no_minutes)}}));

  if (auto drawn = drawn_sentence(work->front().model); !drawn.empty())
    out.remarks.push_back(std::move(drawn));

  ranking::score(passed, stopped, wishes);
  mark_dominated(passed);
  std::stable_sort(passed.begin(), passed.end(), ranking::comes_before);
  std::stable_sort(stopped.begin(), stopped.end(), ranking::comes_before);
  out.sensitivity = ranking::sensitivity(passed, stopped, limits, wishes, evidence.angles);
  out.rule = ranking::rule_in_words(wishes);
  for (auto& one : passed) {
    candidates::add_reasons(one.edge, *work, evidence.angles);
    out.ranked.push_back(std::move(one.edge));
  }
  for (auto& one : stopped) {
    for (const Limit limit : one.stopped_by) {
      if (limit == Limit::roughest && !limits.hold_roughest) {
        one.edge.reasons.emplace_back(said("not offered: it was damaged under the roughest use"));
        continue;
      }
      one.edge.reasons.push_back(said("stopped by the limit on {words_of}",
                                      {{"words_of", std::string(ranking::words_of(limit))}}));
    }
    out.refused.push_back(std::move(one.edge));
  }
  settle_ties(out, *work, evidence.angles);
  out.enough = ranking::certainty(out.ranked, *work, wishes, evidence.angles);
  out.next_best = next_best_run(*work, out.ranked, all, evidence.angles);
  return out;
}

}  // namespace bq::inline bluntness
