// What a session does to the shelf of abrasives, to comparisons and to a sharpening in hand.
#include <algorithm>
#include <memory>
#include <set>

#include "workflow/project_session.h"
#include "workflow/put_in_order.h"
#include "workflow/session_refusal.h"
#include "workflow/work_list.h"

namespace bq::inline workflow {
namespace {

std::optional<Abrasive> find_abrasive(const Trial& trial, const std::string& name) {
  const auto found = std::find_if(trial.shelf.begin(), trial.shelf.end(),
                                  [&](const Abrasive& a) { return a.name == name; });
  return found == trial.shelf.end() ? std::nullopt : std::optional(*found);
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
    refuse("The abrasive was not kept: " + fault->reason + ". Nothing was changed.");
  const auto before = find_abrasive(trial_, abrasive.name);
  if (before == abrasive) return;
  perform({"the abrasive " + abrasive.name,
           [this, abrasive] {
             file_.set_abrasive(abrasive);
             put_in_order(trial_.shelf, abrasive);
           },
           [this, abrasive, before] {
             if (before) {
               file_.set_abrasive(*before);
               put_in_order(trial_.shelf, *before);
             } else {
               file_.remove_abrasive(abrasive.name);
               std::erase_if(trial_.shelf,
                             [&](const Abrasive& a) { return a.name == abrasive.name; });
             }
           }});
}

void ProjectSession::remove_abrasive(const std::string& name) {
  const auto gone = find_abrasive(trial_, name);
  if (!gone) return;
  perform({"taking " + name + " off the shelf",
           [this, name] {
             file_.remove_abrasive(name);
             std::erase_if(trial_.shelf, [&](const Abrasive& a) { return a.name == name; });
           },
           [this, gone] {
             file_.set_abrasive(*gone);
             put_in_order(trial_.shelf, *gone);
           }});
}

void ProjectSession::set_comparison(const Comparison& comparison) {
  if (comparison.name.find_first_not_of(' ') == std::string::npos)
    refuse("A comparison needs a name. Nothing was changed.");
  auto after = std::make_shared<Comparison>(comparison);
  std::shared_ptr<Comparison> before;
  for (const auto& other : trial_.comparisons)
    if (comparison.id != 0 && other.id == comparison.id)
      before = std::make_shared<Comparison>(other);
  if (before && *before == comparison) return;
  const auto place = [this](const Comparison& value) {
    for (auto& other : trial_.comparisons)
      if (other.id == value.id) {
        other = value;
        return;
      }
    trial_.comparisons.push_back(value);
  };
  perform({"the comparison " + comparison.name,
           [this, after, place] {
             *after = file_.set_comparison(*after);
             place(*after);
           },
           [this, after, before, place] {
             if (before) {
               file_.set_comparison(*before);
               place(*before);
             } else {
               file_.remove_comparison(after->id);
               std::erase_if(trial_.comparisons,
                             [&](const Comparison& c) { return c.id == after->id; });
             }
           }});
}

void ProjectSession::remove_comparison(std::int64_t id) {
  const auto found = std::find_if(trial_.comparisons.begin(), trial_.comparisons.end(),
                                  [&](const Comparison& c) { return c.id == id; });
  if (found == trial_.comparisons.end()) return;
  const Comparison gone = *found;
  const auto at = found - trial_.comparisons.begin();
  perform({"taking out the comparison " + gone.name,
           [this, id] {
             file_.remove_comparison(id);
             std::erase_if(trial_.comparisons, [&](const Comparison& c) { return c.id == id; });
           },
           [this, gone, at] {
             file_.set_comparison(gone);
             trial_.comparisons.insert(
                 trial_.comparisons.begin() +
                     std::min<std::ptrdiff_t>(at, std::ptrdiff_t(trial_.comparisons.size())),
                 gone);
           }});
}

int ProjectSession::set_start_aside(const std::string& name) {
  const auto found = std::find_if(trial_.runs.begin(), trial_.runs.end(),
                                  [&](const Run& run) { return run.facts.name == name; });
  // Once it has cut, its start was the start.
  if (name.empty() || found == trial_.runs.end() || found->cuts_done > 0) return 0;
  auto step = std::make_shared<BenchStep>();
  step->run_id = found->id;
  BenchStep before;
  for (const auto& reading : found->readings)
    if (reading.cuts == 0 && !reading.excluded) {
      step->marks.push_back({reading.id, true, kBeforeCleanUp});
      before.marks.push_back({reading.id, false, trial_.labels.text(reading.reason)});
    }
  if (step->marks.empty()) return 0;
  const int count = int(step->marks.size());
  perform_step("the readings before the clean-up", step, before);
  return count;
}

int ProjectSession::finish_sharpening(std::size_t blade, const Sharpening& sharpening,
                                      const std::string& key,
                                      const std::optional<SectionPlan>& leaves) {
  int set_aside = 0;
  as_one("the sharpening of blade " + trial_.blades.at(blade).name, [&] {
    set_aside = set_start_aside(sharpening.run);
    put_sharpening(blade, sharpening, key, leaves);
  });
  return set_aside;
}

void ProjectSession::put_sharpening(std::size_t blade, const Sharpening& sharpening,
                                    const std::string& key,
                                    const std::optional<SectionPlan>& leaves) {
  const std::int64_t blade_id = trial_.blades.at(blade).id;
  // The draft it was planned from has been carried out: its chip is ground away, its run has its
  // start.
  const std::string draft_key = "ladder:" + std::to_string(blade_id);
  const std::string in_hand = kept(key), draft = kept(draft_key);
  auto records = std::make_shared<std::vector<EdgeRecord>>();
  records->push_back({0, "", SharpeningRecord{sharpening}});
  if (leaves) records->push_back({0, "", SectionRecord{*leaves, "after sharpening"}});
  for (auto& closed : findings_closed_by(trial_.blades[blade], sharpening, leaves))
    records->push_back({0, "", std::move(closed)});
  std::vector<Abrasive> used;
  std::set<std::string> seen;
  for (const auto& step : sharpening.steps)
    if (seen.insert(step.abrasive).second)
      if (const auto abrasive = find_abrasive(trial_, step.abrasive)) used.push_back(*abrasive);
  // The record first: should the program die in between, the copy in hand is still there and
  // nothing is lost.
  perform({"the sharpening of blade " + trial_.blades[blade].name,
           [this, records, blade_id, used, key, draft_key] {
             *records = file_.add_edge_records(blade_id, *records);
             auto& history = trial_.blades[blade_index(blade_id)].records;
             history.insert(history.end(), records->begin(), records->end());
             for (const auto& abrasive : used) {
               file_.set_abrasive(after_blade(abrasive));
               put_in_order(trial_.shelf, after_blade(abrasive));
             }
             file_.set_setting(draft_key, "");
             file_.set_setting(key, "");
           },
           [this, records, blade_id, used, key, in_hand, draft_key, draft] {
             file_.set_setting(key, in_hand);
             file_.set_setting(draft_key, draft);
             for (const auto& abrasive : used) {
               file_.set_abrasive(abrasive);
               put_in_order(trial_.shelf, abrasive);
             }
             file_.remove_edge_records(*records);
             for (const auto& record : *records)
               std::erase_if(trial_.blades[blade_index(blade_id)].records,
                             [&](const EdgeRecord& other) { return other.id == record.id; });
           }});
}

}  // namespace bq::inline workflow
