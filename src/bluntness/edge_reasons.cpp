// The runs that speak for an edge, and what is said of it.
#include <algorithm>
#include <cmath>

#include "bluntness/edge_candidates.h"
#include "bluntness/edge_evidence.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "quantity/wording.h"
#include "trial/median.h"

namespace bq::inline bluntness::candidates {
namespace {

/// How an edge is known: "tested in runs A1, A2".
std::string evidence_words(const Evidence& evidence, const RankedEdge& edge,
                           const std::vector<std::string>& runs, AngleConvention angles) {
  const std::string from = runs.size() == 1 ? said("run {run}", {{"run", runs.front()}})
                                            : said("runs {runs}", {{"runs", first_few(runs, 4)}});
  if (evidence.tested) return said("tested in {runs}", {{"runs", from}});
  if (evidence.between)
    return said("interpolated between {low} and {high} in {runs}",
                {{"low", print_angle(evidence.between->first, angles)},
                 {"high", print_angle(evidence.between->second, angles)},
                 {"runs", from}});
  return edge.extrapolated
             ? said("extrapolated beyond what was tested, from the pattern of {runs}",
                    {{"runs", from}})
             : said("this finish was not tested around this angle; from the pattern of {runs}",
                    {{"runs", from}});
}

}  // namespace

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
    out.tested = true;
    return out;
  }
  for (const auto* row : same_finish) {
    const double angle = apex_deg(*row);
    if (std::fabs(angle - below) < kSameAngle_deg || std::fabs(angle - above) < kSameAngle_deg)
      out.rows.push_back(row);
  }
  if (below > 0 && above < 90 && !out.rows.empty()) {
    out.between = {below, above};
    return out;
  }
  out.rows = steel;
  return out;
}

std::optional<double> fresh_reading(const Evidence& evidence,
                                    const std::map<std::string, const RunFit*>& fits) {
  std::vector<double> fresh;
  for (const auto* row : evidence.rows)
    for (const auto& reading : fits.at(row->facts.name)->readings)
      if (reading.cuts == 0) fresh.push_back(std::exp(reading.log_value));
  if (fresh.empty()) return std::nullopt;
  return median_of(fresh);
}

void add_reasons(RankedEdge& edge, const std::vector<WorkModel>& work, AngleConvention angles) {
  const auto deg = [&](double angle) { return print_angle(angle, angles); };
  int censored = 0, carried = 0;
  bool first = true, all_tested = true;
  for (const auto& w : work) {
    const Evidence evidence = evidence_for(w.model.rows(), edge);
    std::vector<std::string> runs;
    for (const auto* row : evidence.rows) {
      runs.push_back(row->facts.name);
      censored += row->cuts.censoring == Censoring::right;
      carried += row->carried.has_value();
    }
    all_tested = all_tested && evidence.tested;
    edge.evidence_runs.insert(edge.evidence_runs.end(), runs.begin(), runs.end());
    edge.reasons.push_back((work.size() > 1 ? w.medium + ": " : "") +
                           evidence_words(evidence, edge, runs, angles));
    if (first && evidence.tested && runs.size() == 1 && work.size() == 1)
      edge.reasons.emplace_back(
          said("one run only at this edge; the rest is carried by the fitted pattern"));
    first = false;
  }
  edge.tested = all_tested;
  edge.reasons.push_back(
      said("the next such edge makes at least {life_low} cuts with 95 % confidence, the usual one "
           "{life}",
           {{"life_low", print_number(std::floor(edge.life_low), 9)},
            {"life", print_number(std::round(edge.life), 9)}}));
  // Cuts that were made, not lives: a run that went blunt early may have been cut on for long.
  std::int64_t longest = 0;
  for (const auto& w : work) longest = std::max(longest, longest_cut(w.model.rows()));
  if (longest > 0 && edge.life > double(longest))
    edge.reasons.push_back(said(
        "no run was cut for longer than {longest} cuts: what lies beyond is carried by the pattern",
        {{"longest", print_number(double(longest), 9)}}));
  if (edge.force_blunt_N)
    edge.reasons.push_back(said(
        "a cut takes about {fresh_and}{force_blunt_n} N when blunt "
        "(estimate{in_the_work}{edge_bevel})",
        {{"fresh_and", edge.force_fresh_N
                           ? said("{force_fresh_n} N fresh and ",
                                  {{"force_fresh_n", print_number(*edge.force_fresh_N, 3)}})
                           : std::string()},
         {"force_blunt_n", print_number(*edge.force_blunt_N, 3)},
         {"in_the_work", work.size() > 1 ? said(", in the work that asks for most") : ""},
         {"edge_bevel", edge.edge_deg
                            ? said(", edge bevel {edge_deg}", {{"edge_deg", deg(*edge.edge_deg)}})
                            : ""}}));
  if (edge.damage_rate_upper)
    edge.reasons.push_back(
        said("in ordinary work at worst 1 damage in {damage_rate_upper} cuts (95 %; "
             "{seen_in_looks} at {damage_tested_deg})",
             {{"damage_rate_upper", print_number(std::floor(1 / *edge.damage_rate_upper), 6)},
              {"seen_in_looks", seen_in_looks(edge.damage_seen, edge.damage_looks)},
              {"damage_tested_deg", deg(edge.damage_tested_deg)}}));
  else
    edge.reasons.emplace_back(
        said("nothing bounds how often it is damaged: look at it in the roughest use before many "
             "are made"));
  if (edge.roughest == RoughestUse::damaged)
    edge.reasons.emplace_back(
        said("under the roughest use a section nowhere thinner was damaged (damage search)"));
  if (edge.roughest == RoughestUse::held)
    edge.reasons.emplace_back(
        said("a section nowhere thicker held the roughest use and its long block (damage search)"));
  if (edge.stress_ratio && *edge.stress_ratio > 1)
    edge.reasons.push_back(
        said("the stress scan expects {stress_ratio} times what the steel bears under the side "
             "load set on Section (estimate)",
             {{"stress_ratio", print_number(*edge.stress_ratio, 2)}}));
  if (edge.resharpening)
    edge.reasons.push_back(
        said("a touch-up takes about {minutes} min{rate_was_estimated} and {metal_mm3} mm³",
             {{"minutes", print_number(edge.resharpening->minutes, 2)},
              {"rate_was_estimated",
               edge.resharpening->estimated ? said(" (a rate was estimated)") : ""},
              {"metal_mm3", print_number(edge.resharpening->metal_mm3, 2)}}));
  if (censored)
    edge.reasons.push_back(
        said("{censored} of {evidence_runs}{run} never reached the threshold: {counted_as_more}",
             {{"censored", std::to_string(censored)},
              {"evidence_runs", std::to_string(edge.evidence_runs.size())},
              {"run", edge.evidence_runs.size() == 1 ? said(" run") : said(" runs")},
              {"counted_as_more", carried == 0 ? said("counted as more than was cut")
                                  : carried == censored
                                      ? said("carried on to it by the shape of the others' curves")
                                      : said("carried on to it where the others' curves tell how, "
                                             "else counted as more than was cut")}}));
  for (const auto& coefficient : work.front().model.coefficients())
    if (coefficient.name == "ln tan angle" && coefficient.high < 0 && !edge.tested &&
        !is_shape_of_angle(work.front().model.spec().terms.back())) {
      edge.reasons.push_back(said("life falls with the angle here (slope {estimate})",
                                  {{"estimate", print_number(coefficient.estimate, 3)}}));
      break;
    }
}

}  // namespace bq::inline bluntness::candidates
