#include "workflow/next_action.h"

#include <algorithm>
#include <set>

#include "quantity/said.h"
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
  action.button = said("Go on");
  action.sentence =
      step.kind == StepKind::cut
          ? said("Run {name}: make {cuts_to_make} cuts, then read at {at_cuts}.",
                 {{"name", run.facts.name},
                  {"cuts_to_make", std::to_string(step.cuts_to_make)},
                  {"at_cuts", std::to_string(step.at_cuts)}})
          : said("Run {name}: take reading {reading_number} of {readings_each} at {at_cuts} cuts.",
                 {{"name", run.facts.name},
                  {"reading_number", std::to_string(step.reading_number)},
                  {"readings_each", std::to_string(run.plan.readings_each)},
                  {"at_cuts", std::to_string(step.at_cuts)}});
  return action;
}

/// The blade of a planned run, when it has been ground and its angle not measured since.
std::optional<NextAction> measure_first(const Trial& trial, const Run& run) {
  for (std::size_t i = 0; i < trial.blades.size(); ++i) {
    if (trial.blades[i].name != run.facts.blade) continue;
    const EdgeNow edge = edge_now(trial.blades[i]);
    if (!edge.section || edge.has_angle()) return std::nullopt;
    NextAction action;
    action.sentence = said(
        "Blade {blade} was ground and its angle not measured since: do that before run {name}.",
        {{"blade", run.facts.blade}, {"name", run.facts.name}});
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

std::string words_of(Station station) { return said(name_of(station).data()); }

NextAction next_action(const Trial& trial, const std::vector<RunFit>& fits,
                       std::optional<std::size_t> in_hand, const std::set<std::string>& blind) {
  NextAction action;
  const auto go_on_sharpening = [&] {
    action.sentence =
        said("The sharpening of blade {name} is in hand.", {{"name", trial.blades[*in_hand].name}});
    action.button = said("Go on");
    action.station = Station::stones;
    action.blade = in_hand;
    return action;
  };
  if (in_hand && *in_hand >= trial.blades.size()) in_hand.reset();
  if (in_hand && trial.runs.empty()) return go_on_sharpening();
  if (trial.runs.empty()) {
    action.sentence = trial.blades.empty()
                          ? said("Nothing here yet: put a blade on the rack.")
                          : said("Add a run for a blade: its edge, medium and checkpoints.");
    action.button = trial.blades.empty() ? said("Add a blade") : said("Add a run");
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
          said("Run {name} is planned next{on}.",
               {{"name", trial.runs[i].facts.name},
                {"on", trial.runs[i].facts.medium.empty()
                           ? std::string()
                           : said(", on {medium}", {{"medium", trial.runs[i].facts.medium}})}});
      action.button = said("Start run");
      action.station = Station::bench;
      action.run = i;
      return action;
    }
  for (std::size_t i = 0; i < fits.size() && i < trial.runs.size(); ++i)
    if (fits[i].curve && fits[i].curve->early_collapse && !looked_at(trial, trial.runs[i])) {
      action.sentence =
          said("Run {run} collapsed early: look whether a burr was left.", {{"run", fits[i].run}});
      action.button = "Look";
      action.station = Station::findings;
      action.run = i;
      return action;
    }
  if (!fits.empty() && ready_for_life(fits) < 6) {
    action.sentence =
        said("{ready_for_life} runs have a blunting curve; a comparison needs at least 6.",
             {{"ready_for_life", std::to_string(ready_for_life(fits))}});
    action.button = said("Add a run");
    return action;
  }
  action.sentence = said("The runs are done: see which edge to make.");
  action.button = said("See the verdict");
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
    return std::to_string(n) + " " + said(n == 1 ? one : many);
  };
  switch (station) {
    case Station::rack:
      return count(trial.blades.size(), to_be_said("blade"), to_be_said("blades"));
    case Station::section: {
      std::size_t known = 0;
      for (const auto& blade : trial.blades)
        known +=
            std::any_of(blade.records.begin(), blade.records.end(), [](const EdgeRecord& record) {
              return std::holds_alternative<SectionRecord>(record.data);
            });
      return count(known, to_be_said("section"), to_be_said("sections"));
    }
    case Station::stones:
      return count(trial.shelf.size(), to_be_said("abrasive"), to_be_said("abrasives"));
    case Station::plan:
      return planned ? said("{planned} planned", {{"planned", std::to_string(planned)}})
                     : said("none planned");
    case Station::bench:
      return running ? said("{running} under way", {{"running", std::to_string(running)}})
                     : said("{done} of {run_runs}",
                            {{"done", std::to_string(done)},
                             {"run_runs",
                              trial.runs.size() < 100
                                  ? count(trial.runs.size(), to_be_said("run"), to_be_said("runs"))
                                  : std::to_string(trial.runs.size())}});
    case Station::lens:
      return trial.micrographs.empty()
                 ? said("no pictures")
                 : count(trial.micrographs.size(), to_be_said("picture"), to_be_said("pictures"));
    case Station::findings:
      return count(trial.reading_count(), to_be_said("reading"), to_be_said("readings"));
    case Station::verdict: {
      std::set<std::string> steels;
      for (const auto& run : trial.runs)
        if (!run.facts.steel.empty()) steels.insert(run.facts.steel);
      return count(steels.size(), to_be_said("steel"), to_be_said("steels"));
    }
  }
  return "";
}

}  // namespace bq::inline workflow
