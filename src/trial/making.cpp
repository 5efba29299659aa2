#include "trial/making.h"

#include <algorithm>
#include <cmath>

#include "edge/section_outcomes.h"
#include "quantity/said.h"
#include "trial/edge_map.h"

namespace bq::inline trial {
namespace {

const Sharpening* finished_sharpening(const EdgeRecord& record) {
  const auto* sharpening = std::get_if<SharpeningRecord>(&record.data);
  return sharpening && !current_step(sharpening->sharpening) ? &sharpening->sharpening : nullptr;
}

/// First and last time of a run's events; empty where none is known.
struct Times {
  std::string first, last;
};
Times times_of(const Run& run) {
  Times out;
  for (const auto& event : run.events) {
    if (event.made_at.empty()) continue;
    if (out.first.empty() || event.made_at < out.first) out.first = event.made_at;
    out.last = std::max(out.last, event.made_at);
  }
  return out;
}

/// Farther from what was ground the jig had been set anew.
constexpr double kSameSetting_deg = 1;

bool was_cut(const Run& run) { return run.cuts_done > 0 || !run.readings.empty(); }

/// In the order of cutting. A run of which no time is known keeps its place among its neighbours.
void put_in_order_of_cutting(std::vector<std::size_t>& runs, const Trial& trial) {
  std::vector<std::size_t> places;
  std::vector<std::pair<std::string, std::size_t>> timed;
  for (std::size_t i = 0; i < runs.size(); ++i)
    if (std::string last = times_of(trial.runs[runs[i]]).last; !last.empty()) {
      places.push_back(i);
      timed.emplace_back(std::move(last), runs[i]);
    }
  std::stable_sort(timed.begin(), timed.end(),
                   [](const auto& a, const auto& b) { return a.first < b.first; });
  for (std::size_t i = 0; i < places.size(); ++i) runs[places[i]] = timed[i].second;
}

}  // namespace

std::optional<std::size_t> BladeMakings::of_run(std::size_t run) const {
  for (std::size_t i = 0; i < all.size(); ++i)
    if (std::find(all[i].runs.begin(), all[i].runs.end(), run) != all[i].runs.end()) return i;
  return std::nullopt;
}

BladeMakings makings_of(const Trial& trial, std::size_t index) {
  const Blade& blade = trial.blades.at(index);
  BladeMakings out;
  out.all.emplace_back();
  for (std::size_t i = 0; i < blade.records.size(); ++i) {
    if (!finished_sharpening(blade.records[i])) continue;
    out.all.back().end = i;
    out.all.push_back({i, 0, {}});
  }
  out.all.back().end = blade.records.size();
  const auto named = [&](const std::string& run) {
    std::optional<std::size_t> found;
    for (std::size_t i = 1; i < out.all.size(); ++i)
      if (finished_sharpening(blade.records[*out.all[i].sharpening])->run == run) found = i;
    return found;
  };
  for (std::size_t i = 0; i < trial.runs.size(); ++i) {
    const Run& run = trial.runs[i];
    if (run.facts.blade != blade.name) continue;
    std::optional<std::size_t> making;
    if (!run.facts.name.empty()) making = named(run.facts.name);
    if (!making && !was_cut(run)) continue;
    // A sharpening that is written down after its run names it; one that was done again before the
    // run was cut need not.
    const std::string first = times_of(run).first;
    if (out.all.size() == 1 || !first.empty())
      for (std::size_t k = making.value_or(0); k < out.all.size(); ++k)
        if (k == 0 || k == making || blade.records[*out.all[k].sharpening].made_at <= first)
          making = k;
    if (making)
      out.all[*making].runs.push_back(i);
    else
      out.unplaced.push_back(i);
  }
  for (auto& making : out.all) put_in_order_of_cutting(making.runs, trial);
  return out;
}

Blade blade_in(const Blade& blade, const Making& making) {
  Blade out = blade;
  out.records.resize(std::min(making.end, out.records.size()));
  return out;
}

std::optional<DatedSetting> setting_of(const Blade& blade, const Making& making) {
  std::optional<DatedSetting> out;
  for (std::size_t i = 0; i < std::min(making.end, blade.records.size()); ++i) {
    const auto* setting = std::get_if<SettingRecord>(&blade.records[i].data);
    if (!setting || (out && making.sharpening && i > *making.sharpening)) continue;
    out = DatedSetting{*setting, blade.records[i].made_at};
  }
  // A jig stays as it is set for as many sharpenings as are done at its angle.
  if (!out || !making.sharpening) return out;
  const auto ground = geometry_of(*finished_sharpening(blade.records[*making.sharpening]));
  if (!ground) return out;
  const auto near = [&](const BevelAngles& angles) {
    return std::fabs(angles.left_deg - out->setting.angle_deg) <= kSameSetting_deg ||
           std::fabs(angles.right_deg - out->setting.angle_deg) <= kSameSetting_deg;
  };
  const bool held = near(ground->edge()) || (ground->micro() && near(*ground->micro()));
  return held ? out : std::nullopt;
}

std::string describe(const Blade& blade, const Making& making) {
  if (!making.sharpening) return said("as it came");
  const EdgeRecord& record = blade.records.at(*making.sharpening);
  const std::string& run = finished_sharpening(record)->run;
  std::string out = "sharpened";
  if (record.made_at.size() >= 10) out += " " + record.made_at.substr(0, 10);
  if (!run.empty()) out += said(" for run {run}", {{"run", run}});
  return out;
}

std::optional<RunMaking> making_of_run(const Trial& trial, std::size_t run) {
  const Blade* blade = trial.find_blade(trial.runs.at(run).facts.blade);
  if (!blade) return std::nullopt;
  const auto index = std::size_t(blade - trial.blades.data());
  const BladeMakings makings = makings_of(trial, index);
  const auto found = makings.of_run(run);
  if (!found) return std::nullopt;
  return RunMaking{index, makings.all[*found]};
}

bool may_have_micro_bevel(const Trial& trial, std::size_t index) {
  const Blade& blade = trial.blades.at(index);
  const Making now = makings_of(trial, index).now();
  if (now.sharpening)
    for (const auto& step : finished_sharpening(blade.records[*now.sharpening])->steps)
      if (step.work == StepWork::micro_bevel) return true;
  for (const std::size_t run : now.runs)
    if (const auto& geometry = trial.runs[run].facts.geometry; geometry && geometry->micro())
      return true;
  const EdgeNow edge = edge_now(blade);
  if (!edge.section || edge.section_older) return false;
  const auto section = make_section(*edge.section);
  if (!section) return false;
  const auto faces = edge_faces(*section, edge.section->grinds);
  return faces[0].micro || faces[1].micro;
}

std::optional<std::size_t> run_on_edge(const Trial& trial, std::size_t blade) {
  const Making now = makings_of(trial, blade).now();
  for (auto run = now.runs.rbegin(); run != now.runs.rend(); ++run)
    if (trial.runs[*run].cuts_done > 0) return *run;
  return std::nullopt;
}

}  // namespace bq::inline trial
