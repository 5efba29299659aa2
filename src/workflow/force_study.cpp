#include "workflow/force_study.h"

#include <algorithm>

#include "edge/parting.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "trial/checkpoints.h"
#include "workflow/edge_costs.h"

namespace bq::inline workflow {
namespace {

/// Mean force of the strokes at each count of cuts; strokes with something wrong are left out.
std::map<std::int64_t, double> mean_forces(const Run& run) {
  std::map<std::int64_t, std::pair<double, int>> sums;
  for (const auto& event : run.events)
    if (const auto* stroke = std::get_if<StrokeEvent>(&event.data);
        stroke && stroke->trouble.empty()) {
      sums[event.cuts].first += stroke->mean_N;
      ++sums[event.cuts].second;
    }
  std::map<std::int64_t, double> out;
  for (const auto& [cuts, sum] : sums) out[cuts] = sum.first / sum.second;
  return out;
}

}  // namespace

std::vector<WorkForce> forces_of(const Trial& trial) {
  std::map<std::string, std::vector<StrokePoint>> by_work;
  const std::vector<std::string> work = work_of_runs(trial);
  PartingOptions options;
  options.friction = kStrokeFriction;
  options.depth_mm = kCutDepth_mm;
  for (std::size_t i = 0; i < trial.runs.size(); ++i) {
    const Run& run = trial.runs[i];
    const auto forces = mean_forces(run);
    if (forces.empty() || !run.facts.geometry) continue;
    const auto section = section_with(trial, run.facts.steel, run.facts.geometry->edge(),
                                      run.facts.geometry->micro(), run.facts.blade);
    if (!section) continue;
    const double index =
        kEngaged_mm * parting_force_N_per_mm(*make_section(*section), options).value();
    for (const auto& checkpoint : checkpoints_of(run, trial.unit()))
      if (const auto found = forces.find(checkpoint.cuts); found != forces.end())
        by_work[work[i]].push_back({run.facts.name, checkpoint.median(), found->second, index});
  }
  std::vector<WorkForce> out;
  for (auto& [name, points] : by_work) {
    auto split = split_force(points);
    out.push_back({name, std::move(points), std::move(split)});
  }
  std::stable_sort(out.begin(), out.end(), [](const WorkForce& a, const WorkForce& b) {
    return a.points.size() > b.points.size();
  });
  return out;
}

std::map<std::string, ForceSplit> splits_of(const std::vector<WorkForce>& forces) {
  std::map<std::string, ForceSplit> out;
  for (const auto& force : forces)
    if (force.split) out.emplace(force.work, *force.split);
  return out;
}

std::string sentence_of(const WorkForce& force, Unit unit) {
  const std::string where = force.work.empty() ? "" : said("In {work}: ", {{"work", force.work}});
  if (!force.split)
    return said("{where}severing and parting cannot be told apart yet. {reason}",
                {{"where", where}, {"reason", force.split.refusal().reason}});
  const ForceSplit& split = *force.split;
  return said(
      "{where}severing takes {severing_n_per_reading} N per {unit} of reading ({severing_low} to "
      "{severing_high}); the medium's stiffness is {stiffness_n_per_mm3} N/mm³ ({stiffness_low} to "
      "{stiffness_high}, 95 %, {runs} runs).",
      {{"where", where},
       {"severing_n_per_reading", print_number(split.severing_N_per_reading, 3)},
       {"unit", std::string(sign_of(unit))},
       {"severing_low", print_number(split.severing_low, 3)},
       {"severing_high", print_number(split.severing_high, 3)},
       {"stiffness_n_per_mm3", print_number(split.stiffness_N_per_mm3, 3)},
       {"stiffness_low", print_number(split.stiffness_low, 3)},
       {"stiffness_high", print_number(split.stiffness_high, 3)},
       {"runs", std::to_string(split.runs)}});
}

std::string force_sentence(const std::vector<WorkForce>& forces, Unit unit,
                           const std::vector<std::string>& works) {
  std::string out;
  bool estimated = false;
  for (const auto& work : works) {
    const auto found = std::find_if(forces.begin(), forces.end(),
                                    [&](const WorkForce& force) { return force.work == work; });
    if (found == forces.end()) {
      out += said("{in}no run has force strokes. ",
                  {{"in", work.empty() ? "" : said("In {work}: ", {{"work", work}})}});
      continue;
    }
    out += sentence_of(*found, unit) + " ";
    estimated = estimated || found->split;
  }
  if (estimated)
    return said(
        "{out}Estimate: the section of its blade, {engaged_mm} mm engaged, {cut_depth_mm} mm deep, "
        "friction {stroke_friction}.",
        {{"out", out},
         {"engaged_mm", print_number(kEngaged_mm, 3)},
         {"cut_depth_mm", print_number(kCutDepth_mm, 2)},
         {"stroke_friction", print_number(kStrokeFriction, 2)}});
  if (out.empty())
    return said("Severing and parting cannot be told apart yet: no run has force strokes.");
  return out.substr(0, out.size() - 1);
}

std::string force_sentence(const Trial& trial) {
  const std::vector<WorkForce> forces = forces_of(trial);
  std::vector<std::string> works;
  works.reserve(forces.size());
  for (const auto& force : forces) works.push_back(force.work);
  return force_sentence(forces, trial.unit(), works);
}

}  // namespace bq::inline workflow
