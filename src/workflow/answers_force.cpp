// "Sharper, yet harder to push?": severing and parting of two edges, life to a force, the lead of
// one over the other.
#include <algorithm>
#include <cmath>
#include <map>

#include "bluntness/useful_life.h"
#include "quantity/number.h"
#include "workflow/answer_parts.h"
#include "workflow/bench_study.h"
#include "workflow/sentences.h"

namespace bq::inline workflow::answer_parts {
namespace {

constexpr double kEngaged_mm = 25, kFriction = 0.3;

struct Edge {
  std::string run, steel;
  ForceCurve curve;
  ForceParts fresh, blunt;
};

std::string in_words(const UsefulLife& life) {
  switch (life.censoring) {
    case Censoring::right:
      return ">" + print_cuts(life.low.value_or(0));
    case Censoring::left:
      return "0";
    case Censoring::none:
      break;
  }
  return print_cuts(*life.estimate) +
         (life.low ? " (" + print_cuts(*life.low) + " to " +
                         (life.high ? print_cuts(*life.high) : std::string("beyond its cuts")) + ")"
                   : "");
}

std::string newtons(double value) { return print_number(value, 3) + " N"; }

std::string lead_sentence(const Edge& edge, const Edge& other, const ForceSplit& split) {
  const ForceLead lead = lead_over(edge.curve, other.curve, split);
  if (lead.lead.censoring == Censoring::left)
    return edge.run + " has no lead over " + other.run + ": fresh it needs " +
           newtons(edge.fresh.total_N()) + ", " + other.run + " " + newtons(lead.other_fresh_N) +
           ".";
  return edge.run + " makes " + in_words(lead.lead) + " cuts before it needs the " +
         newtons(lead.other_fresh_N) + " that " + other.run + " needs fresh: its lead.";
}

/// The pair that shows it most: sharper by the gauge, yet harder to push; else the two whose
/// parting differs most.
std::pair<const Edge*, const Edge*> telling_pair(const std::vector<Edge>& edges) {
  std::pair<const Edge*, const Edge*> best{&edges[0], &edges[1]};
  double most = -1, widest = -1;
  for (const auto& a : edges)
    for (const auto& b : edges) {
      const double harder = a.fresh.total_N() - b.fresh.total_N(),
                   apart = std::fabs(a.fresh.parting_N - b.fresh.parting_N);
      if (a.fresh.severing_N < b.fresh.severing_N && harder > std::max(0.0, most)) {
        most = harder;
        best = {&a, &b};
      } else if (most < 0 && apart > widest && a.fresh.severing_N <= b.fresh.severing_N) {
        widest = apart;
        best = {&a, &b};
      }
    }
  return best;
}

}  // namespace

Answer force(const AnswerSource& source) {
  const auto points = stroke_points(*source.facts, kEngaged_mm, kFriction);
  if (points.empty())
    return missing(
        "Cannot tell yet: no run has force strokes. Record standard strokes with the force cell at "
        "the checkpoints of runs with at least two bevel angles.",
        true);
  const auto split = split_force(points);
  if (!split) return missing("Cannot tell yet: " + split.refusal().reason, true);
  std::map<std::string, double> index;
  for (const auto& point : points) index[point.run] = point.parting_index;
  std::vector<Edge> edges;
  for (std::size_t i = 0; i < source.fits->size(); ++i) {
    const RunFit& fit = (*source.fits)[i];
    if (!fit.curve || !index.contains(fit.run)) continue;
    Edge edge{fit.run, source.facts->runs[i].facts.steel, {&fit, index[fit.run]}, {}, {}};
    edge.fresh = force_at(edge.curve, *split, 0);
    edge.blunt = edge.fresh;
    edge.blunt.severing_N = split->severing_N_per_reading * source.life->question.threshold;
    edges.push_back(edge);
  }
  if (edges.size() < 2)
    return missing("Cannot tell yet: fewer than two runs with strokes have a blunting curve.",
                   true);
  auto [first, second] = telling_pair(edges);
  for (const auto& edge : edges) {
    if (edge.run == source.force_first) first = &edge;
    if (edge.run == source.force_second) second = &edge;
  }
  Answer out;
  out.answered = true;
  const double limit = source.force_limit_N.value_or(std::ceil(10 * first->blunt.total_N()) / 10);
  out.table.heads = {"Run",
                     "Steel",
                     "Severing N",
                     "Parting N",
                     "Fresh N",
                     "Blunt N",
                     "Cuts to " + newtons(limit),
                     "Lead over " + second->run + ", cuts"};
  for (const auto& edge : edges) {
    const auto lead = lead_over(edge.curve, second->curve, *split).lead;
    out.table.rows.push_back(
        {edge.run, edge.steel, print_number(edge.fresh.severing_N, 3),
         print_number(edge.fresh.parting_N, 3), print_number(edge.fresh.total_N(), 3),
         print_number(edge.blunt.total_N(), 3), in_words(life_to_force(edge.curve, *split, limit)),
         edge.run == second->run ? "–" : in_words(lead)});
    out.table.runs.push_back(edge.run);
    out.runs.push_back(edge.run);
  }
  for (const Edge* edge : {first, second}) {
    PictureSeries whole, parting;
    whole.name = edge->run + ", together";
    whole.steel = edge->steel;
    parting.name = edge->run + ", parting";
    parting.ink = true;
    const double end = edge->curve.run->table.last_cuts();
    for (int k = 0; k <= 40; ++k) {
      const double cuts = end * std::pow(k / 40.0, 2);  // denser where the curve bends
      const ForceParts force = force_at(edge->curve, *split, cuts);
      whole.x.push_back(cuts);
      whole.y.push_back(force.total_N());
      whole.runs.push_back(edge->run);
      parting.x.push_back(cuts);
      parting.y.push_back(force.parting_N);
    }
    out.picture.series.push_back(std::move(whole));
    out.picture.series.push_back(std::move(parting));
    if (first == second) break;
  }
  // Edges of one steel look alike in colour: the second takes the next one.
  if (out.picture.series.size() > 2 && first->steel == second->steel) {
    out.picture.series[0].steel.clear();
    out.picture.series[2].steel.clear();
  }
  out.picture.x_label = "cuts";
  out.picture.y_label = "force of a standard stroke, N";
  out.picture.level = limit;
  out.picture.level_name = "force limit";
  const double more = first->fresh.total_N() - second->fresh.total_N();
  const std::string readings = print_reading(source, first->curve.run->curve->fit.curve.at(0)) +
                               " against " +
                               print_reading(source, second->curve.run->curve->fit.curve.at(0));
  // Fresh readings this near to each other are alike to any gauge.
  constexpr double kAlike = 0.02;
  const bool alike = std::fabs(first->fresh.severing_N - second->fresh.severing_N) <=
                     kAlike * std::max(first->fresh.severing_N, second->fresh.severing_N);
  const bool sharper = !alike && first->fresh.severing_N < second->fresh.severing_N;
  if ((sharper || alike) && more > 0)
    out.sentence = "Yes: " + first->run + (alike ? " is as sharp as " : " is sharper than ") +
                   second->run + " (" + readings + ") and still needs " + newtons(more) +
                   " more, because its section is thicker behind the edge: parting takes " +
                   newtons(first->fresh.parting_N) + " against " +
                   newtons(second->fresh.parting_N) + ".";
  else
    out.sentence = std::string("No: ") + first->run + " is " +
                   (alike     ? "as sharp as "
                    : sharper ? "sharper than "
                              : "no sharper than ") +
                   second->run + " (" + readings + ") and needs " + newtons(std::fabs(more)) +
                   (more > 0 ? " more" : " less") + " fresh; parting takes " +
                   newtons(first->fresh.parting_N) + " against " +
                   newtons(second->fresh.parting_N) + ".";
  out.remarks.push_back(lead_sentence(*first, *second, *split));
  if (first != second) out.remarks.push_back(lead_sentence(*second, *first, *split));
  out.remarks.push_back(force_sentence(*source.facts));
  out.formula =
      "Mean force of a stroke = s × reading + K × parting index of the section; s from the changes "
      "within runs, K from the differences between runs (run is the unit). Life to a force: where "
      "the curve's reading "
      "reaches (force − parting)/s, never beyond the last checkpoint; the errors of s and K are in "
      "its interval. Lead: life to the force the other edge needs fresh.";
  out.method = "Severing and parting";
  return out;
}

}  // namespace bq::inline workflow::answer_parts
