#include "workflow/next_action.h"

#include <algorithm>
#include <set>

#include "trial/checkpoints.h"
#include "trial/edge_map.h"
#include "trial/run_plan.h"
#include "workflow/bench_study.h"

namespace bq::inline workflow {
namespace {

NextAction continue_run(const Trial& trial, std::size_t index) {
  const Run& run = trial.runs[index];
  const Step step = next_step(run);
  NextAction action;
  action.station = Station::bench;
  action.run = index;
  action.button = "Go on";
  action.sentence = step.kind == StepKind::cut
                        ? "Run " + run.facts.name + ": make " + std::to_string(step.cuts_to_make) +
                              " cuts, then read at " + std::to_string(step.at_cuts) + "."
                        : "Run " + run.facts.name + ": take reading " +
                              std::to_string(step.reading_number) + " of " +
                              std::to_string(run.plan.readings_each) + " at " +
                              std::to_string(step.at_cuts) + " cuts.";
  return action;
}

/// The blade of a planned run, when it has been ground and its angle not measured since.
std::optional<NextAction> measure_first(const Trial& trial, const Run& run) {
  for (std::size_t i = 0; i < trial.blades.size(); ++i) {
    if (trial.blades[i].name != run.facts.blade) continue;
    const EdgeNow edge = edge_now(trial.blades[i]);
    if (!edge.section || edge.has_angle()) return std::nullopt;
    NextAction action;
    action.sentence = "Blade " + run.facts.blade +
                      " was ground and its angle not measured since: do that before run " +
                      run.facts.name + ".";
    action.button = "Measure";
    action.station = Station::section;
    action.blade = i;
    return action;
  }
  return std::nullopt;
}

/// On a blade that is in use, or on none that is known.
bool can_be_cut(const Trial& trial, const Run& run) {
  return std::none_of(trial.blades.begin(), trial.blades.end(), [&](const Blade& blade) {
    return blade.retired && blade.name == run.facts.blade;
  });
}

/// Somebody has looked at the edge of this run, or brought in a picture of it.
bool looked_at(const Trial& trial, const Run& run) {
  return std::any_of(run.events.begin(), run.events.end(),
                     [](const BenchEvent& event) {
                       return std::holds_alternative<LookEvent>(event.data);
                     }) ||
         std::any_of(trial.micrographs.begin(), trial.micrographs.end(),
                     [&](const Micrograph& m) { return m.run == run.facts.name; });
}

int ready_for_life(const std::vector<RunFit>& fits) {
  int count = 0;
  for (const auto& fit : fits) count += fit.curve.has_value();
  return count;
}

}  // namespace

std::string_view name_of(Station station) {
  switch (station) {
    case Station::rack:
      return "Rack";
    case Station::section:
      return "Section";
    case Station::stones:
      return "Stones";
    case Station::plan:
      return "Plan";
    case Station::bench:
      return "Bench";
    case Station::lens:
      return "Lens";
    case Station::findings:
      return "Findings";
    case Station::verdict:
      return "Verdict";
  }
  return "";
}

NextAction next_action(const Trial& trial, const std::vector<RunFit>& fits,
                       std::optional<std::size_t> in_hand, const std::set<std::string>& blind) {
  NextAction action;
  const auto go_on_sharpening = [&] {
    action.sentence = "The sharpening of blade " + trial.blades[*in_hand].name + " is in hand.";
    action.button = "Go on";
    action.station = Station::stones;
    action.blade = in_hand;
    return action;
  };
  if (in_hand && *in_hand >= trial.blades.size()) in_hand.reset();
  if (in_hand && trial.runs.empty()) return go_on_sharpening();
  if (trial.runs.empty()) {
    action.sentence = trial.blades.empty()
                          ? "Nothing here yet: put a blade on the rack."
                          : "Add a run for a blade: its edge, medium and checkpoints.";
    action.button = trial.blades.empty() ? "Add a blade" : "Add a run";
    return action;
  }
  for (std::size_t i = 0; i < trial.runs.size(); ++i)
    if (state_of(trial.runs[i]) == RunState::running && can_be_cut(trial, trial.runs[i]))
      return continue_run(trial, i);
  if (in_hand) return go_on_sharpening();
  for (std::size_t i = 0; i < trial.runs.size(); ++i)
    if (state_of(trial.runs[i]) == RunState::planned && can_be_cut(trial, trial.runs[i])) {
      if (!is_covered(trial.runs[i], blind))
        if (const auto measure = measure_first(trial, trial.runs[i])) return *measure;
      action.sentence =
          "Run " + trial.runs[i].facts.name + " is planned next" +
          (trial.runs[i].facts.medium.empty() ? std::string()
                                              : ", on " + trial.runs[i].facts.medium) +
          ".";
      action.button = "Start run";
      action.station = Station::bench;
      action.run = i;
      return action;
    }
  for (std::size_t i = 0; i < fits.size() && i < trial.runs.size(); ++i)
    if (fits[i].curve && fits[i].curve->early_collapse && !looked_at(trial, trial.runs[i])) {
      action.sentence = "Run " + fits[i].run + " collapsed early: look whether a burr was left.";
      action.button = "Look";
      action.station = Station::findings;
      action.run = i;
      return action;
    }
  if (!fits.empty() && ready_for_life(fits) < 6) {
    action.sentence = std::to_string(ready_for_life(fits)) +
                      " runs have a blunting curve; a comparison needs at least 6.";
    action.button = "Add a run";
    return action;
  }
  action.sentence = "The runs are done: see which edge to make.";
  action.button = "See the verdict";
  action.station = Station::verdict;
  return action;
}

std::string station_fact(Station station, const Trial& trial) {
  int done = 0, running = 0, planned = 0;
  for (const auto& run : trial.runs) {
    done += state_of(run) == RunState::done;
    running += state_of(run) == RunState::running;
    planned += state_of(run) == RunState::planned;
  }
  const auto count = [](std::size_t n, const char* one, const char* many) {
    return std::to_string(n) + " " + (n == 1 ? one : many);
  };
  switch (station) {
    case Station::rack:
      return count(trial.blades.size(), "blade", "blades");
    case Station::section: {
      std::size_t known = 0;
      for (const auto& blade : trial.blades)
        known +=
            std::any_of(blade.records.begin(), blade.records.end(), [](const EdgeRecord& record) {
              return std::holds_alternative<SectionRecord>(record.data);
            });
      return count(known, "section", "sections");
    }
    case Station::stones:
      return count(trial.shelf.size(), "abrasive", "abrasives");
    case Station::plan:
      return planned ? std::to_string(planned) + " planned" : "none planned";
    case Station::bench:
      return running ? std::to_string(running) + " under way"
                     : std::to_string(done) + " of " +
                           (trial.runs.size() < 100 ? count(trial.runs.size(), "run", "runs")
                                                    : std::to_string(trial.runs.size()));
    case Station::lens:
      return trial.micrographs.empty() ? "no pictures"
                                       : count(trial.micrographs.size(), "picture", "pictures");
    case Station::findings:
      return count(trial.reading_count(), "reading", "readings");
    case Station::verdict: {
      std::set<std::string> steels;
      for (const auto& run : trial.runs)
        if (!run.facts.steel.empty()) steels.insert(run.facts.steel);
      return count(steels.size(), "steel", "steels");
    }
  }
  return "";
}

}  // namespace bq::inline workflow
