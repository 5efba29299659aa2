// What a session does at the bench: readings, cuts, looks, strokes, decisions; every one is one
// transaction and one step of undo.
#include <algorithm>

#include "quantity/said.h"
#include "store/picture_store.h"
#include "trial/checkpoints.h"
#include "workflow/project_session.h"
#include "workflow/session_refusal.h"

namespace bq::inline workflow {

void ProjectSession::add_events(const Run& run, const std::vector<BenchEventData>& events,
                                const std::string& by_operator) {
  for (const auto& data : events)
    acts_.add(RunEvent{run.id, {0, "", run.cuts_done, by_operator, data}});
}

void ProjectSession::mark(const Run& run, const Reading& reading, bool excluded,
                          const std::string& reason) {
  acts_.replace(ReadingMark{run.id, reading.id, reading.excluded, reading.reason},
                ReadingMark{run.id, reading.id, excluded, state_.trial.labels.id_of(reason)});
}

Reading ProjectSession::keep_reading(std::size_t run, double value, Unit unit,
                                     const std::string& by_operator) {
  return keep_reading(run, {value, unit, by_operator, "", "", {}});
}

Reading ProjectSession::keep_reading(std::size_t run, const TakenReading& taken) {
  Run trying = trial().runs.at(run);
  LabelTable& labels = state_.trial.labels;
  const Step next = next_step(trying);
  Reading reading;
  reading.cuts = next.kind == StepKind::finished ? trying.cuts_done : next.at_cuts;
  reading.value = taken.value;
  reading.unit = taken.unit;
  reading.by_operator = labels.id_of(taken.by_operator);
  reading.station = labels.id_of(taken.station);
  reading.gauge = labels.id_of(taken.gauge);
  // A flag is decided with the reading in place, and stored with it.
  trying.readings.push_back(reading);
  for (const auto& suspect : suspects_of(trying))
    if (suspect.reading_index + 1 == trying.readings.size())
      reading.reason = labels.id_of(said("suspect: {reason}", {{"reason", suspect.reason}}));
  as_one(said("reading {taken} of run {name}",
              {{"taken", print_measure(taken.value, taken.unit)}, {"name", trying.facts.name}}),
         [&] {
           for (const auto& what : taken.deviations)
             acts_.add(RunEvent{trying.id,
                                {0, "", reading.cuts, taken.by_operator, DeviationEvent{what}}});
           if (reading.cuts > trying.cuts_done)
             acts_.replace(RunCuts{trying.id, trying.cuts_done}, RunCuts{trying.id, reading.cuts});
           reading = acts_.add(RunReading{trying.id, reading}).reading;
         });
  return reading;
}

void ProjectSession::make_cuts(std::size_t run, std::int64_t asked, std::int64_t made,
                               const std::string& by_operator) {
  if (made < 1) refuse(said("Cuts made are a whole number above 0. Nothing was changed."));
  const Run& now = trial().runs.at(run);
  const std::int64_t before = now.cuts_done, after = before + made;
  if (after > 1'000'000'000'000)
    refuse(said("That is more cuts than a run can have. Nothing was changed."));
  as_one(
      said("{made} cuts of run {name}", {{"made", std::to_string(made)}, {"name", now.facts.name}}),
      [&] {
        acts_.replace(RunCuts{now.id, before}, RunCuts{now.id, after});
        add_events(now, {CutEvent{asked, made}}, by_operator);
        // Cut beyond the checkpoint that was due: it is read where the edge now is, and the plan
        // says so.
        RunPlan plan = now.plan;
        const auto passed = [&](std::int64_t at) { return at > before && at < after; };
        std::string gone;
        for (const auto at : plan.checkpoints)
          if (passed(at)) gone += (gone.empty() ? "" : ", ") + std::to_string(at);
        if (gone.empty()) return;
        std::erase_if(plan.checkpoints, passed);
        if (!std::binary_search(plan.checkpoints.begin(), plan.checkpoints.end(), after))
          plan.checkpoints.insert(
              std::lower_bound(plan.checkpoints.begin(), plan.checkpoints.end(), after), after);
        acts_.replace(RunHead{now.id, now.facts, now.plan}, RunHead{now.id, now.facts, plan});
        add_events(now,
                   {DeviationEvent{said("the checkpoint planned at {gone} cuts is read at {after}",
                                        {{"gone", gone}, {"after", std::to_string(after)}})}},
                   by_operator);
      });
}

void ProjectSession::confirm_cuts(std::size_t run) {
  const Step step = next_step(trial().runs.at(run));
  if (step.kind == StepKind::cut) make_cuts(run, step.cuts_to_make, step.cuts_to_make, "");
}

void ProjectSession::record(std::size_t run, const std::vector<BenchEventData>& events,
                            const std::string& by_operator) {
  if (events.empty()) return;
  const Run& now = trial().runs.at(run);
  as_one(said("{events}, run {name}",
              {{"events", describe(events.front())}, {"name", now.facts.name}}),
         [&] { add_events(now, events, by_operator); });
}

void ProjectSession::keep_look(std::size_t run, const LookEvent& look,
                               std::optional<PictureFile> picture, const std::string& by_operator) {
  const Run& now = trial().runs.at(run);
  as_one(said("a look at run {name}", {{"name", now.facts.name}}), [&] {
    LookEvent seen = look;
    if (picture) {
      Micrograph micrograph = micrograph_of(*picture);
      micrograph.id = acts_.add(PictureBytes{0, std::move(*picture)}).id;
      micrograph.blade = now.facts.blade;
      micrograph.run = now.facts.name;
      micrograph.cuts = now.cuts_done;
      micrograph.at_mm = look.at_mm;
      seen.picture = micrograph.id;
      acts_.add(MicrographFacts{micrograph, ""});
    }
    add_events(now, {seen}, by_operator);
  });
}

void ProjectSession::keep_stroke(std::size_t run, const ForceStroke& stroke,
                                 const StrokeEvent& figures, const std::string& by_operator,
                                 std::optional<std::int64_t> at_cuts) {
  const Run& now = trial().runs.at(run);
  as_one(said("a force stroke of run {name}", {{"name", now.facts.name}}), [&] {
    StrokeEvent event = figures;
    event.stroke = acts_.add(StrokeSamples{now.id, 0, stroke}).id;
    acts_.add(RunEvent{now.id, {0, "", at_cuts.value_or(now.cuts_done), by_operator, event}});
  });
}

void ProjectSession::send_back(std::size_t run, const GateEvent& gate,
                               const std::string& by_operator) {
  const Run& now = trial().runs.at(run);
  as_one(said("sending run {name} back to be sharpened", {{"name", now.facts.name}}), [&] {
    add_events(now, {gate}, by_operator);
    set_start_aside(now, said("start gate: {reason}", {{"reason", gate.reason}}));
  });
}

void ProjectSession::keep_check(const CheckWeightEvent& check, const std::string& by_operator) {
  perform<RunEvent>(describe(check), {}, {0, {0, "", 0, by_operator, check}});
}

int ProjectSession::flag_readings(const std::vector<std::pair<std::size_t, std::size_t>>& readings,
                                  const std::string& reason) {
  if (reason.empty()) refuse(said("A reading is flagged with a reason."));
  int flagged = 0;
  as_one(said("flagging readings: {reason}", {{"reason", reason}}), [&] {
    for (const auto& [run, index] : readings) {
      const Reading& reading = trial().runs.at(run).readings.at(index);
      if (reading.reason) continue;
      mark(trial().runs[run], reading, reading.excluded, reason);
      ++flagged;
    }
  });
  return flagged;
}

void ProjectSession::set_excluded(std::size_t run, std::size_t reading, bool excluded,
                                  const std::string& reason) {
  if (excluded && reason.empty())
    refuse(said("A reading is taken out of the fits only with a reason."));
  const Run& of = trial().runs.at(run);
  const Reading& now = of.readings.at(reading);
  as_one(said("{taking_out} a reading of run {name}",
              {{"taking_out", excluded ? said("taking out") : said("taking back")},
               {"name", of.facts.name}}),
         [&] { mark(of, now, excluded, reason); });
}

std::int64_t ProjectSession::set_bench_session(const BenchSession& session,
                                               const std::string& what) {
  std::optional<BenchSession> before;
  for (const auto& other : bench_sessions())
    if (session.id != 0 && other.id == session.id) before = other;
  return perform(what, before, session).id;
}

}  // namespace bq::inline workflow
