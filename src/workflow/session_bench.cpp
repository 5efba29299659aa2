// What a session does at the bench: readings, cuts, looks, strokes, decisions; every one is one
// transaction and one step of undo.
#include <algorithm>
#include <memory>

#include "store/picture_store.h"
#include "trial/checkpoints.h"
#include "workflow/project_session.h"
#include "workflow/session_refusal.h"

namespace bq::inline workflow {
void ProjectSession::perform_step(const std::string& text, const std::shared_ptr<BenchStep>& step,
                                  const BenchStep& before) {
  const auto mark = [this](Run& run, const std::vector<BenchStep::Mark>& marks) {
    for (const auto& m : marks)
      for (auto& reading : run.readings)
        if (reading.id == m.reading) {
          reading.excluded = m.excluded;
          reading.reason = trial_.labels.id_of(m.reason);
        }
  };
  perform({text,
           [this, step, mark] {
             file_.write_step(*step, trial_.labels);
             auto& events =
                 step->run_id ? trial_.runs[run_index(step->run_id)].events : trial_.gauge_checks;
             events.insert(events.end(), step->events.begin(), step->events.end());
             take_micrograph(step->micrograph, {});
             if (!step->run_id) return;
             const auto index = run_index(step->run_id);
             Run& run = trial_.runs[index];
             mark(run, step->marks);
             if (step->cuts_done) run.cuts_done = *step->cuts_done;
             if (step->plan) run.plan = *step->plan;
             if (step->reading) {
               run.readings.push_back(*step->reading);
               run.cuts_done = std::max(run.cuts_done, step->reading->cuts);
             }
             if (step->reading || !step->marks.empty()) touch(index);
           },
           [this, step, before, mark] {
             file_.remove_step(*step, before);
             auto& events =
                 step->run_id ? trial_.runs[run_index(step->run_id)].events : trial_.gauge_checks;
             std::erase_if(events, [&](const BenchEvent& e) {
               return std::any_of(step->events.begin(), step->events.end(),
                                  [&](const BenchEvent& gone) { return gone.id == e.id; });
             });
             take_micrograph(before.micrograph, step->micrograph);
             if (!step->run_id) return;
             const auto index = run_index(step->run_id);
             Run& run = trial_.runs[index];
             if (step->reading)
               std::erase_if(run.readings,
                             [&](const Reading& r) { return r.id == step->reading->id; });
             mark(run, before.marks);
             if (before.cuts_done) run.cuts_done = *before.cuts_done;
             if (before.plan) run.plan = *before.plan;
             if (step->reading || !step->marks.empty()) touch(index);
           }});
}

std::shared_ptr<BenchStep> ProjectSession::step_of(std::size_t run,
                                                   const std::vector<BenchEventData>& events,
                                                   const std::string& by_operator) const {
  auto step = std::make_shared<BenchStep>();
  const Run& now = trial_.runs.at(run);
  step->run_id = now.id;
  for (const auto& data : events) step->events.push_back({0, "", now.cuts_done, by_operator, data});
  return step;
}

Reading ProjectSession::keep_reading(std::size_t run, double value, Unit unit,
                                     const std::string& by_operator) {
  return keep_reading(run, {value, unit, by_operator, "", "", {}});
}

Reading ProjectSession::keep_reading(std::size_t run, const TakenReading& taken) {
  Run trying = trial_.runs.at(run);
  const Step next = next_step(trying);
  Reading reading;
  reading.cuts = next.kind == StepKind::finished ? trying.cuts_done : next.at_cuts;
  reading.value = taken.value;
  reading.unit = taken.unit;
  reading.by_operator = trial_.labels.id_of(taken.by_operator);
  reading.station = trial_.labels.id_of(taken.station);
  reading.gauge = trial_.labels.id_of(taken.gauge);
  // A flag is decided with the reading in place, and stored with it.
  trying.readings.push_back(reading);
  for (const auto& suspect : suspects_of(trying))
    if (suspect.reading_index + 1 == trying.readings.size())
      reading.reason = trial_.labels.id_of("suspect: " + suspect.reason);
  const auto step = step_of(run, {}, taken.by_operator);
  for (const auto& what : taken.deviations)
    step->events.push_back({0, "", reading.cuts, taken.by_operator, DeviationEvent{what}});
  step->reading = reading;
  BenchStep before;
  before.cuts_done = trying.cuts_done;
  perform_step("reading " + print_measure(taken.value, taken.unit) + " of run " + trying.facts.name,
               step, before);
  return *step->reading;
}

void ProjectSession::make_cuts(std::size_t run, std::int64_t asked, std::int64_t made,
                               const std::string& by_operator) {
  if (made < 1) refuse("Cuts made are a whole number above 0. Nothing was changed.");
  const Run& now = trial_.runs.at(run);
  const std::int64_t after = now.cuts_done + made;
  if (after > 1'000'000'000'000)
    refuse("That is more cuts than a run can have. Nothing was changed.");
  const auto step = step_of(run, {}, by_operator);
  step->cuts_done = after;
  BenchStep before;
  before.cuts_done = now.cuts_done;
  step->events.push_back({0, "", after, by_operator, CutEvent{asked, made}});
  // Cut beyond the checkpoint that was due: it is read where the edge now is, and the plan says so.
  RunPlan plan = now.plan;
  const auto passed = [&](std::int64_t at) { return at > now.cuts_done && at < after; };
  if (std::any_of(plan.checkpoints.begin(), plan.checkpoints.end(), passed)) {
    std::string gone;
    for (const auto at : plan.checkpoints)
      if (passed(at)) gone += (gone.empty() ? "" : ", ") + std::to_string(at);
    std::erase_if(plan.checkpoints, passed);
    if (!std::binary_search(plan.checkpoints.begin(), plan.checkpoints.end(), after))
      plan.checkpoints.insert(
          std::lower_bound(plan.checkpoints.begin(), plan.checkpoints.end(), after), after);
    before.plan = now.plan;
    step->plan = plan;
    step->events.push_back({0, "", after, by_operator,
                            DeviationEvent{"the checkpoint planned at " + gone +
                                           " cuts is read at " + std::to_string(after)}});
  }
  perform_step(std::to_string(made) + " cuts of run " + now.facts.name, step, before);
}

void ProjectSession::confirm_cuts(std::size_t run) {
  const Step step = next_step(trial_.runs.at(run));
  if (step.kind == StepKind::cut) make_cuts(run, step.cuts_to_make, step.cuts_to_make, "");
}

void ProjectSession::record(std::size_t run, const std::vector<BenchEventData>& events,
                            const std::string& by_operator) {
  if (events.empty()) return;
  perform_step(describe(events.front()) + ", run " + trial_.runs.at(run).facts.name,
               step_of(run, events, by_operator), {});
}

void ProjectSession::keep_look(std::size_t run, const LookEvent& look,
                               std::optional<PictureFile> picture, const std::string& by_operator) {
  const auto step = step_of(run, {look}, by_operator);
  if (picture) {
    const Run& now = trial_.runs.at(run);
    Micrograph micrograph = micrograph_of(*picture);
    micrograph.blade = now.facts.blade;
    micrograph.run = now.facts.name;
    micrograph.cuts = now.cuts_done;
    micrograph.at_mm = look.at_mm;
    step->micrograph = std::move(micrograph);
  }
  step->picture = std::move(picture);
  perform_step("a look at run " + trial_.runs.at(run).facts.name, step, {});
}

void ProjectSession::keep_stroke(std::size_t run, const ForceStroke& stroke,
                                 const StrokeEvent& figures, const std::string& by_operator,
                                 std::optional<std::int64_t> at_cuts) {
  const auto step = step_of(run, {figures}, by_operator);
  if (at_cuts) step->events.front().cuts = *at_cuts;
  step->stroke = stroke;
  perform_step("a force stroke of run " + trial_.runs.at(run).facts.name, step, {});
}

void ProjectSession::send_back(std::size_t run, const GateEvent& gate,
                               const std::string& by_operator) {
  const Run& now = trial_.runs.at(run);
  const auto step = step_of(run, {gate}, by_operator);
  BenchStep before;
  for (const auto& reading : now.readings)
    if (reading.cuts == 0 && !reading.excluded) {
      step->marks.push_back({reading.id, true, "start gate: " + gate.reason});
      before.marks.push_back({reading.id, false, trial_.labels.text(reading.reason)});
    }
  perform_step("sending run " + now.facts.name + " back to be sharpened", step, before);
}

void ProjectSession::keep_check(const CheckWeightEvent& check, const std::string& by_operator) {
  auto step = std::make_shared<BenchStep>();
  step->events.push_back({0, "", 0, by_operator, check});
  perform_step(describe(check), step, {});
}

int ProjectSession::flag_readings(const std::vector<std::pair<std::size_t, std::size_t>>& readings,
                                  const std::string& reason) {
  if (reason.empty()) refuse("A reading is flagged with a reason.");
  // Flags go run by run: a step belongs to one.
  int flagged = 0;
  std::vector<std::pair<std::shared_ptr<BenchStep>, BenchStep>> steps;
  for (const auto& [run, index] : readings) {
    const Run& now = trial_.runs.at(run);
    const Reading& reading = now.readings.at(index);
    if (reading.reason) continue;
    if (steps.empty() || steps.back().first->run_id != now.id) {
      steps.emplace_back(std::make_shared<BenchStep>(), BenchStep{});
      steps.back().first->run_id = now.id;
    }
    steps.back().first->marks.push_back({reading.id, reading.excluded, reason});
    steps.back().second.marks.push_back({reading.id, reading.excluded, ""});
    ++flagged;
  }
  as_one("flagging readings: " + reason, [&] {
    for (const auto& [step, before] : steps)
      perform_step("flagging readings: " + reason, step, before);
  });
  return flagged;
}

void ProjectSession::set_excluded(std::size_t run, std::size_t reading, bool excluded,
                                  const std::string& reason) {
  if (excluded && reason.empty()) refuse("A reading is taken out of the fits only with a reason.");
  const Reading& now = trial_.runs.at(run).readings.at(reading);
  auto step = std::make_shared<BenchStep>();
  step->run_id = trial_.runs[run].id;
  step->marks.push_back({now.id, excluded, reason});
  BenchStep before;
  before.marks.push_back({now.id, now.excluded, trial_.labels.text(now.reason)});
  perform_step(std::string(excluded ? "taking out" : "taking back") + " a reading of run " +
                   trial_.runs[run].facts.name,
               step, before);
}

std::int64_t ProjectSession::set_bench_session(const BenchSession& session,
                                               const std::string& what) {
  auto made = std::make_shared<BenchSession>(session);
  const auto found = std::find_if(sessions_.begin(), sessions_.end(),
                                  [&](const BenchSession& s) { return s.id == session.id; });
  const std::optional<BenchSession> before =
      session.id && found != sessions_.end() ? std::optional(*found) : std::nullopt;
  const auto put = [this](const BenchSession& value) {
    const auto at = std::find_if(sessions_.begin(), sessions_.end(),
                                 [&](const BenchSession& s) { return s.id == value.id; });
    if (at == sessions_.end())
      sessions_.push_back(value);
    else
      *at = value;
  };
  perform({what,
           [this, made, put] {
             *made = file_.set_bench_session(*made);
             put(*made);
           },
           [this, made, before, put] {
             if (before) {
               file_.set_bench_session(*before);
               put(*before);
             } else {
               file_.remove_bench_session(made->id);
               std::erase_if(sessions_, [&](const BenchSession& s) { return s.id == made->id; });
             }
           }});
  return made->id;
}

}  // namespace bq::inline workflow
