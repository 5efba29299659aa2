#include "trial/bench_stage.h"

#include <algorithm>

#include "quantity/limit.h"
#include "trial/checkpoints.h"

namespace bq::inline trial {
namespace {

/// The latest event of a kind, or nothing.
template <class Kind>
const BenchEvent* latest(const Run& run) {
  for (auto event = run.events.rbegin(); event != run.events.rend(); ++event)
    if (std::holds_alternative<Kind>(event->data)) return &*event;
  return nullptr;
}

template <class Kind>
bool has_at(const Run& run, std::int64_t cuts) {
  return std::any_of(run.events.begin(), run.events.end(), [&](const BenchEvent& e) {
    return e.cuts == cuts && std::holds_alternative<Kind>(e.data);
  });
}

bool after(const BenchEvent* a, const BenchEvent* b) { return a && (!b || a > b); }

int kept_at(const Run& run, std::int64_t cuts) {
  return int(std::count_if(run.readings.begin(), run.readings.end(),
                           [&](const Reading& r) { return r.cuts == cuts && !r.excluded; }));
}

std::optional<StopRule> rule_met(const Run& run, const BenchProtocol& protocol,
                                 const StageFacts& facts) {
  const std::int64_t now = run.cuts_done;
  if (has_at<GoOnEvent>(run, now)) return std::nullopt;
  for (const auto& event : run.events)
    if (const auto* look = std::get_if<LookEvent>(&event.data);
        look && event.cuts == now && protocol.stop_on_damage && look->found != DamageFound::clean)
      return StopRule::damage;
  if (protocol.stop_at_threshold && facts.threshold)
    if (const auto median = median_at(run, now, facts.unit);
        median && reaches_limit(*median, *facts.threshold))
      return StopRule::threshold;
  if (protocol.most_cuts > 0 && now >= protocol.most_cuts) return StopRule::budget;
  return std::nullopt;
}

/// The station of the next reading at a checkpoint. They follow each other through the run, so many
/// to a checkpoint; a reading that was taken out leaves its own place open and moves no other.
std::string next_station(const Run& run, const BenchProtocol& protocol, const StageFacts& facts,
                         const Step& step) {
  const auto& stations = protocol.stations;
  if (stations.empty()) return "";
  const std::size_t each = std::size_t(std::max(1, run.plan.readings_each));
  if (!facts.labels || run.plan.checkpoints.empty())
    return stations[run.readings.size() % stations.size()];
  std::vector<std::string> open;
  for (std::size_t i = 0; i < each; ++i)
    open.push_back(stations[(step.checkpoint_index * each + i) % stations.size()]);
  for (const auto& reading : run.readings) {
    if (reading.cuts != step.at_cuts || reading.excluded) continue;
    const auto found = std::find(open.begin(), open.end(), facts.labels->text(reading.station));
    if (found != open.end()) open.erase(found);
  }
  return open.empty() ? stations.front() : open.front();
}

}  // namespace

bool is_stopped(const Run& run) {
  for (auto event = run.events.rbegin(); event != run.events.rend(); ++event) {
    if (std::holds_alternative<StopEvent>(event->data)) return true;
    if (std::holds_alternative<GoOnEvent>(event->data)) return false;
  }
  return false;
}

std::vector<int> readings_at(const Run& run, const LabelTable& labels,
                             const std::vector<std::string>& stations) {
  std::vector<int> counts(stations.size(), 0);
  for (const auto& reading : run.readings)
    for (std::size_t i = 0; i < stations.size(); ++i)
      counts[i] += labels.text(reading.station) == stations[i];
  return counts;
}

BenchStage bench_stage(const Run& run, const BenchProtocol& protocol, const StageFacts& facts) {
  BenchStage stage;
  stage.at_cuts = run.cuts_done;
  const bool fresh = run.readings.empty() && run.cuts_done == 0;
  const BenchEvent* gate = latest<GateEvent>(run);
  const bool sent_back = gate && !std::get<GateEvent>(gate->data).passed;
  if (is_stopped(run)) {
    stage.kind = StageKind::stopped;
    if (const auto* stop = latest<StopEvent>(run))
      stage.rule = std::get<StopEvent>(stop->data).rule;
    return stage;
  }
  if (protocol.prepare && (fresh || sent_back) &&
      !after(latest<PreparedEvent>(run), sent_back ? gate : nullptr))
    return stage;

  const Step step = next_step(run);
  stage.checkpoint_index = step.checkpoint_index;
  if (step.kind == StepKind::read) {
    stage.at_cuts = step.at_cuts;
    stage.reading_number = step.reading_number;
    const bool first_here = std::none_of(run.readings.begin(), run.readings.end(),
                                         [&](const Reading& r) { return r.cuts == step.at_cuts; });
    if (facts.check_due && protocol.check_nominal > 0) {
      stage.kind = StageKind::check_weight;
      return stage;
    }
    if (protocol.clean && step.at_cuts > 0 && first_here &&
        !has_at<CleanedEvent>(run, step.at_cuts)) {
      stage.kind = StageKind::clean;
      return stage;
    }
    stage.kind = StageKind::read;
    stage.station = next_station(run, protocol, facts, step);
    return stage;
  }
  // The readings of this count are complete: gate, look and stop rules come before going on.
  const bool ours = !run.events.empty();
  const bool read_here = kept_at(run, run.cuts_done) > 0;
  if (run.cuts_done == 0 && read_here && protocol.gate && facts.start_out &&
      !(gate && std::get<GateEvent>(gate->data).passed) && !run.plan.checkpoints.empty()) {
    stage.kind = StageKind::gate;
    return stage;
  }
  if (read_here && run.cuts_done > 0 && (ours || step.kind == StepKind::cut)) {
    if (protocol.look && !has_at<LookEvent>(run, run.cuts_done)) {
      stage.kind = StageKind::look;
      return stage;
    }
    if (step.kind == StepKind::cut)
      if (const auto rule = rule_met(run, protocol, facts)) {
        stage.kind = StageKind::stop;
        stage.rule = *rule;
        return stage;
      }
  }
  if (step.kind == StepKind::finished) {
    stage.kind = StageKind::finished;
    return stage;
  }
  stage.kind = StageKind::cut;
  stage.at_cuts = step.at_cuts;
  stage.cuts_to_make = step.cuts_to_make;
  if (!run.plan.checkpoints.empty()) {
    const BenchEvent* rested = latest<RestEvent>(run);
    const std::int64_t since = rested ? rested->cuts : 0;
    for (const std::int64_t due : rests_of(protocol, run.plan.checkpoints.back())) {
      if (due <= since) continue;
      if (due <= run.cuts_done) {
        // Counts that lie behind an imported run's readings were somebody else's rests.
        if (!ours) continue;
        stage.kind = StageKind::rest;
        stage.at_cuts = run.cuts_done;
        stage.cuts_to_make = 0;
        return stage;
      }
      stage.cuts_to_make = std::min(stage.cuts_to_make, due - run.cuts_done);
      break;
    }
  }
  return stage;
}

}  // namespace bq::inline trial
