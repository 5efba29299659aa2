// "Sharper, yet harder to push?": severing and parting of two edges, life to a force, the head
// start of one over the other.
#include <algorithm>
#include <cmath>
#include <map>

#include "bluntness/useful_life.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "workflow/answer_parts.h"
#include "workflow/force_study.h"
#include "workflow/sentences.h"

namespace bq::inline workflow::answer_parts {
namespace {

struct Edge {
  std::string run, steel;
  const WorkForce* work;  ///< with a split
  ForceCurve curve;
  ForceParts fresh, blunt;
  [[nodiscard]] const ForceSplit& split() const { return *work->split; }
};

/// A life in a cell; `at_once`: what stands for one that is over at the first cut.
template <class Life>
std::string in_words(const Life& life, const std::string& at_once) {
  switch (life.censoring) {
    case Censoring::right:
      return ">" + print_cuts(life.low.value_or(0));
    case Censoring::left:
      return at_once;
    case Censoring::none:
      break;
  }
  return print_cuts(*life.estimate) +
         (life.low ? " (" + print_cuts(*life.low) + " to " +
                         (life.high ? print_cuts(*life.high) : said("beyond its cuts")) + ")"
                   : "");
}

std::string in_words(const UsefulLife& life) { return in_words(life, "0"); }

/// A run that is past the limit at its first checkpoint may have reached it anywhere before.
std::string in_words(const CutsToThreshold& life) {
  return in_words(life, "<" + print_cuts(life.high.value_or(0)));
}

std::string newtons(double value) { return print_number(value, 3) + " N"; }

std::string head_start_sentence(const Edge& edge, const Edge& other) {
  const ForceLead lead = lead_over(edge.curve, other.curve, edge.split());
  if (lead.lead.censoring == Censoring::left)
    return said(
        "{run} has no head start over {run_2}: fresh it needs {newtons}, {run_3} {newtons_2}.",
        {{"run", edge.run},
         {"run_2", other.run},
         {"newtons", newtons(edge.fresh.total_N())},
         {"run_3", other.run},
         {"newtons_2", newtons(lead.other_fresh_N)}});
  return said(
      "{run} makes {lead} cuts before it needs the {newtons} that {run_2} needs fresh: its head "
      "start.",
      {{"run", edge.run},
       {"lead", in_words(lead.lead)},
       {"newtons", newtons(lead.other_fresh_N)},
       {"run_2", other.run}});
}

/// The pair of one work that shows it most: sharper by the gauge, yet harder to push; else the two
/// whose parting differs most. Both are one where that work has no other edge.
std::pair<const Edge*, const Edge*> telling_pair(const std::vector<Edge>& edges,
                                                 const WorkForce* work) {
  std::pair<const Edge*, const Edge*> best{nullptr, nullptr};
  for (const auto& edge : edges)
    if (edge.work == work) (best.first ? best.second : best.first) = &edge;
  if (!best.second) best.second = best.first;
  double most = -1, widest = -1;
  for (const auto& a : edges)
    for (const auto& b : edges) {
      if (a.work != work || b.work != work) continue;
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

/// Edges with strokes and a curve whose work's force could be taken apart, work by work.
std::vector<Edge> edges_of(const AnswerSource& source, const std::vector<WorkForce>& forces) {
  std::vector<Edge> out;
  for (const auto& force : forces) {
    if (!force.split) continue;
    std::map<std::string, double> index;
    for (const auto& point : force.points) index[point.run] = point.parting_index;
    for (std::size_t i = 0; i < source.fits->size(); ++i) {
      const RunFit& fit = (*source.fits)[i];
      if (!fit.curve || !index.contains(fit.run)) continue;
      Edge edge{fit.run, source.facts->runs[i].facts.steel, &force, {&fit, index[fit.run]}, {}, {}};
      edge.fresh = force_at(edge.curve, *force.split, 0);
      edge.blunt = edge.fresh;
      edge.blunt.severing_N = force.split->severing_N_per_reading * source.life->question.threshold;
      out.push_back(edge);
    }
  }
  return out;
}

/// What the strokes lack, work by work; none of them has a split.
std::string why_none(const std::vector<WorkForce>& forces) {
  std::string out;
  for (const auto& force : forces)
    out += (out.empty() ? "" : " ") +
           (forces.size() > 1 && !force.work.empty() ? said("In {work}: ", {{"work", force.work}})
                                                     : std::string()) +
           force.split.refusal().reason;
  return out;
}

}  // namespace

Answer force(const AnswerSource& source) {
  const std::vector<WorkForce> forces = forces_of(*source.facts);
  if (forces.empty())
    return missing(
        said("Cannot tell yet: no run has force strokes. Record standard strokes with the force "
             "cell at the checkpoints of runs with at least two bevel angles."),
        true);
  const std::size_t splits = splits_of(forces).size();
  if (splits == 0)
    return missing(said("Cannot tell yet: {why_none}", {{"why_none", why_none(forces)}}), true);
  const std::vector<Edge> edges = edges_of(source, forces);
  const auto edge_of = [&](const std::string& run) {
    const auto found =
        std::find_if(edges.begin(), edges.end(), [&](const Edge& edge) { return edge.run == run; });
    return found == edges.end() ? nullptr : &*found;
  };
  // The work of the run that was chosen; of what is asked about; else the one with most strokes.
  const Edge* chosen = edge_of(source.force_first);
  const Edge* other = edge_of(source.force_second);
  const WorkForce* work = chosen ? chosen->work : other ? other->work : nullptr;
  for (const auto& edge : edges)
    if (!work && is_in_medium(edge.work->work, source.life->question.medium)) work = edge.work;
  if (!work && !edges.empty()) work = edges.front().work;
  auto [first, second] = telling_pair(edges, work);
  if (!first || first == second)
    return missing(said("Cannot tell yet: fewer than two runs with strokes have a blunting curve."),
                   true);
  if (chosen) first = chosen;
  if (chosen && first == second) second = telling_pair(edges, work).first;
  const bool apart = other && other->work != work;
  if (other && !apart) second = other;
  Answer out;
  out.answered = true;
  const bool works = splits > 1;
  const double limit = source.force_limit_N.value_or(std::ceil(10 * first->blunt.total_N()) / 10);
  out.table.heads = {said("Run"), said("Steel")};
  if (works) out.table.heads.emplace_back("Work");
  for (const auto& head :
       {std::string("Severing N"), std::string("Parting N"), std::string("Fresh N"),
        std::string("Blunt N"),
        said("Cuts to {source}",
             {{"source", print_reading(source, source.life->question.threshold)}}),
        said("Cuts to {newtons}", {{"newtons", newtons(limit)}}),
        said("Head start over {run}, cuts", {{"run", second->run}})})
    out.table.heads.push_back(head);
  for (const auto& edge : edges) {
    std::vector<std::string> row{edge.run, edge.steel};
    if (works) row.push_back(edge.work->work);
    for (const double part :
         {edge.fresh.severing_N, edge.fresh.parting_N, edge.fresh.total_N(), edge.blunt.total_N()})
      row.push_back(print_number(part, 3));
    row.push_back(in_words(cuts_to_threshold(*edge.curve.run, source.life->question.threshold)));
    row.push_back(in_words(life_to_force(edge.curve, edge.split(), limit)));
    row.push_back(edge.run == second->run || edge.work != work
                      ? "–"
                      : in_words(lead_over(edge.curve, second->curve, edge.split()).lead));
    out.table.rows.push_back(std::move(row));
    out.table.runs.push_back(edge.run);
    out.runs.push_back(edge.run);
  }
  for (const Edge* edge : {first, second}) {
    PictureSeries whole, parting;
    whole.name = said("{run}, together", {{"run", edge->run}});
    whole.steel = edge->steel;
    parting.name = said("{run}, parting", {{"run", edge->run}});
    parting.ink = true;
    const double end = edge->curve.run->table.last_cuts();
    for (int k = 0; k <= 40; ++k) {
      const double cuts = end * std::pow(k / 40.0, 2);  // denser where the curve bends
      const ForceParts force = force_at(edge->curve, edge->split(), cuts);
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
  out.picture.y_label = said("force of a standard stroke, N");
  out.picture.level = limit;
  out.picture.level_name = said("force limit");
  const double more = first->fresh.total_N() - second->fresh.total_N();
  const std::string readings =
      said("{source} against {source_2}",
           {{"source", print_reading(source, first->curve.run->curve->fit.curve.at(0))},
            {"source_2", print_reading(source, second->curve.run->curve->fit.curve.at(0))}});
  // Fresh readings this near to each other are alike to any gauge.
  constexpr double kAlike = 0.02;
  const bool alike = std::fabs(first->fresh.severing_N - second->fresh.severing_N) <=
                     kAlike * std::max(first->fresh.severing_N, second->fresh.severing_N);
  const bool sharper = !alike && first->fresh.severing_N < second->fresh.severing_N;
  if ((sharper || alike) && more > 0)
    out.sentence = said(
        "Yes: {run}{is_as_sharp}{run_2} ({readings}) and still needs {newtons} more, because its "
        "section is thicker behind the edge: parting takes {newtons_2} against {newtons_3}.",
        {{"run", first->run},
         {"is_as_sharp", alike ? said(" is as sharp as ") : said(" is sharper than ")},
         {"run_2", second->run},
         {"readings", readings},
         {"newtons", newtons(more)},
         {"newtons_2", newtons(first->fresh.parting_N)},
         {"newtons_3", newtons(second->fresh.parting_N)}});
  else
    out.sentence = said(
        "No: {run} is {as_sharp_as}{run_2} ({readings}) and needs {newtons}{more} fresh; parting "
        "takes {newtons_2} against {newtons_3}.",
        {{"run", first->run},
         {"as_sharp_as", alike     ? said("as sharp as ")
                         : sharper ? said("sharper than ")
                                   : said("no sharper than ")},
         {"run_2", second->run},
         {"readings", readings},
         {"newtons", newtons(std::fabs(more))},
         {"more", more > 0 ? said(" more") : said(" less")},
         {"newtons_2", newtons(first->fresh.parting_N)},
         {"newtons_3", newtons(second->fresh.parting_N)}});
  if (apart)
    out.remarks.push_back(
        said("{run} cut {work}, {run_2} {work_2}: force is compared within one medium and way of "
             "cutting.",
             {{"run", other->run},
              {"work", other->work->work},
              {"run_2", first->run},
              {"work_2", work->work}}));
  out.remarks.push_back(head_start_sentence(*first, *second));
  if (first != second) out.remarks.push_back(head_start_sentence(*second, *first));
  out.remarks.push_back(force_sentence(*source.facts));
  out.formula = said(
      "Mean force of a stroke = s × reading + K × parting index of the section; s from the changes "
      "within runs, K from the differences between runs (run is the unit), each medium and way of "
      "cutting by itself. Life to a force: where the curve's reading reaches (force − parting)/s, "
      "never beyond the last checkpoint; the errors of s and K are in its interval. Head start: "
      "life to the force the other edge needs fresh.");
  out.method = said("Severing and parting");
  return out;
}

}  // namespace bq::inline workflow::answer_parts
