// What a session does to the shelf of abrasives, to comparisons and to a sharpening in hand.
#include <algorithm>
#include <set>

#include "quantity/said.h"
#include "workflow/project_session.h"
#include "workflow/session_refusal.h"
#include "workflow/work_list.h"

namespace bq::inline workflow {
namespace {

std::optional<Abrasive> find_abrasive(const Trial& trial, const std::string& name) {
  const auto found = std::find_if(trial.shelf.begin(), trial.shelf.end(),
                                  [&](const Abrasive& a) { return a.name == name; });
  return found == trial.shelf.end() ? std::nullopt : std::optional(*found);
}

std::optional<Comparison> find_comparison(const Trial& trial, std::int64_t id) {
  for (const auto& comparison : trial.comparisons)
    if (id != 0 && comparison.id == id) return comparison;
  return std::nullopt;
}

/// The abrasive after one more blade.
Abrasive after_blade(Abrasive abrasive) {
  ++abrasive.blades_since_check;
  ++abrasive.blades_since_upkeep;
  if (abrasive.break_in_blades > 0) --abrasive.break_in_blades;
  return abrasive;
}

}  // namespace

void ProjectSession::set_abrasive(const Abrasive& abrasive) {
  if (const auto fault = fault_of(abrasive))
    refuse(said("The abrasive was not kept ({reason}). Nothing was changed.",
                {{"reason", fault->reason}}));
  const auto before = find_abrasive(trial(), abrasive.name);
  if (before != abrasive)
    perform(said("the abrasive {name}", {{"name", abrasive.name}}), before, abrasive);
}

void ProjectSession::remove_abrasive(const std::string& name) {
  if (const auto gone = find_abrasive(trial(), name))
    as_one(said("taking {name} off the shelf", {{"name", name}}), [&] { acts_.remove(*gone); });
}

void ProjectSession::set_comparison(const Comparison& comparison) {
  if (comparison.name.find_first_not_of(' ') == std::string::npos)
    refuse(said("A comparison needs a name. Nothing was changed."));
  const auto before = find_comparison(trial(), comparison.id);
  if (before != comparison)
    perform(said("the comparison {name}", {{"name", comparison.name}}), before, comparison);
}

void ProjectSession::remove_comparison(std::int64_t id) {
  if (const auto gone = find_comparison(trial(), id))
    as_one(said("taking out the comparison {name}", {{"name", gone->name}}),
           [&] { acts_.remove(*gone); });
}

int ProjectSession::set_start_aside(const Run& run, const std::string& reason) {
  const std::vector<Reading> readings = run.readings;
  int count = 0;
  for (const auto& reading : readings)
    if (reading.cuts == 0 && !reading.excluded) {
      mark(run, reading, true, reason);
      ++count;
    }
  return count;
}

int ProjectSession::finish_sharpening(std::size_t blade, const Sharpening& sharpening,
                                      const std::string& key,
                                      const std::optional<SectionPlan>& leaves) {
  int set_aside = 0;
  const Blade& of = trial().blades.at(blade);
  as_one(said("the sharpening of blade {name}", {{"name", of.name}}), [&] {
    // Once it has cut, its start was the start.
    if (const Run* run = sharpening.run.empty() ? nullptr : trial().find_run(sharpening.run);
        run && run->cuts_done == 0)
      set_aside = set_start_aside(*run, kBeforeCleanUp);
    put_sharpening(of, sharpening, key, leaves);
  });
  return set_aside;
}

void ProjectSession::put_sharpening(const Blade& blade, const Sharpening& sharpening,
                                    const std::string& key,
                                    const std::optional<SectionPlan>& leaves) {
  std::vector<EdgeRecordData> lines{SharpeningRecord{sharpening}};
  if (leaves) lines.emplace_back(SectionRecord{*leaves, "after sharpening"});
  for (auto& closed : findings_closed_by(blade, sharpening, leaves))
    lines.emplace_back(std::move(closed));
  for (auto& line : lines) acts_.add(BladeLine{blade.id, {0, "", std::move(line)}});
  std::set<std::string> seen;
  for (const auto& step : sharpening.steps)
    if (const auto used = find_abrasive(trial(), step.abrasive);
        used && seen.insert(step.abrasive).second)
      acts_.replace(*used, after_blade(*used));
  // The draft it was planned from has been carried out: its chip is ground away, its run has its
  // start.
  set_kept("ladder:" + std::to_string(blade.id), "");
  set_kept(key, "");
}

}  // namespace bq::inline workflow
