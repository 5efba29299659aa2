#include "bluntness/start_gate.h"

#include <algorithm>
#include <cmath>

#include "quantity/said.h"
#include "trial/median.h"

namespace bq::inline bluntness {
namespace {

std::optional<double> fresh_reading(const Run& run, Unit unit) {
  std::vector<double> values;
  for (const auto& reading : run.readings)
    if (reading.cuts == 0 && !reading.excluded)
      values.push_back(convert(reading.value, reading.unit, unit));
  if (values.empty()) return std::nullopt;
  return median_of(std::move(values));
}

void judge(StartGroup& group, const StartGateOptions& options) {
  if (int(group.starts.size()) < std::max(3, options.least_starts)) return;
  std::vector<double> logs;
  for (const auto& start : group.starts) logs.push_back(std::log(start.reading));
  const auto chart = stats::individuals_chart(logs);
  if (!chart) return;
  group.chart = *chart;
  group.provisional = int(logs.size()) < options.firm_starts;
  for (std::size_t i = 0; i < logs.size(); ++i)
    group.starts[i].state = logs[i] > chart->upper   ? StartState::too_dull
                            : logs[i] < chart->lower ? StartState::too_sharp
                                                     : StartState::in;
}

}  // namespace

std::optional<double> FreshReadings::of(const Run& run, std::uint64_t revision, Unit unit) {
  const auto found = known_.find(run.id);
  if (found != known_.end() && found->second.revision == revision && found->second.unit == unit)
    return found->second.reading;
  return (known_[run.id] = {revision, unit, fresh_reading(run, unit)}).reading;
}

std::optional<double> reading_before_clean_up(const Trial& trial, std::size_t run, Unit unit) {
  std::vector<double> values;
  for (const auto& reading : trial.runs.at(run).readings)
    if (reading.cuts == 0 && reading.excluded &&
        trial.labels.text(reading.reason) == kBeforeCleanUp)
      values.push_back(convert(reading.value, reading.unit, unit));
  if (values.empty()) return std::nullopt;
  return median_of(std::move(values));
}

double StartGroup::centre() const { return std::exp(chart->centre); }
double StartGroup::lower() const { return std::exp(chart->lower); }
double StartGroup::upper() const { return std::exp(chart->upper); }

std::string name_of(const StartGroup& group) {
  std::string out = group.steel.empty() ? said("steel not said") : group.steel;
  out += group.finish ? ", " + print_finish(*group.finish) : said(", finish not said");
  if (group.cut_mode) out += ", " + std::string(name_of(*group.cut_mode));
  return out;
}

std::vector<StartGroup> start_gate(const Trial& trial, const StartGateOptions& options,
                                   std::optional<std::size_t> like, const FreshReading& fresh) {
  std::vector<StartGroup> groups;
  const Unit unit = trial.unit();
  const auto alike = [](const auto& a, const auto& b) {
    return a.steel == b.steel && a.finish == b.finish && a.cut_mode == b.cut_mode;
  };
  for (std::size_t i = 0; i < trial.runs.size(); ++i) {
    const RunFacts& facts = trial.runs[i].facts;
    if (like && !alike(facts, trial.runs.at(*like).facts)) continue;
    const auto reading = fresh ? fresh(i) : fresh_reading(trial.runs[i], unit);
    if (!reading) continue;
    auto group = std::find_if(groups.begin(), groups.end(),
                              [&](const StartGroup& g) { return alike(g, facts); });
    if (group == groups.end()) {
      StartGroup made;
      made.steel = facts.steel;
      made.finish = facts.finish;
      made.cut_mode = facts.cut_mode;
      groups.push_back(std::move(made));
      group = groups.end() - 1;
    }
    group->starts.push_back({i, *reading, StartState::not_judged});
  }
  for (auto& group : groups) judge(group, options);
  return groups;
}

std::optional<StartVerdict> start_of_run(const std::vector<StartGroup>& groups, std::size_t run,
                                         Unit unit, const StartGateOptions& options) {
  for (const auto& group : groups)
    for (const auto& start : group.starts) {
      if (start.run != run) continue;
      const std::string reading = print_measure(start.reading, unit, 3);
      const std::string count = std::to_string(group.starts.size()) +
                                (group.starts.size() == 1 ? said(" start") : said(" starts"));
      if (!group.chart)
        return StartVerdict{
            &group, &start,
            said("Not judged: {count} of {group}, at least {wanted} are needed. This "
                 "one read {reading}.",
                 {{"count", count},
                  {"group", name_of(group)},
                  {"wanted", std::to_string(std::max(3, options.least_starts))},
                  {"reading", reading}})};
      const std::string limits =
          said("{lower} to {upper}", {{"lower", print_measure(group.lower(), unit, 3)},
                                      {"upper", print_measure(group.upper(), unit, 3)}});
      const std::string basis =
          said(" ({count} of {group}{provisional_below})",
               {{"count", count},
                {"group", name_of(group)},
                {"provisional_below",
                 group.provisional ? said("; provisional below {firm_starts}",
                                          {{"firm_starts", std::to_string(options.firm_starts)}})
                                   : ""}});
      switch (start.state) {
        case StartState::too_dull:
          return StartVerdict{&group, &start,
                              said("Out, too dull: {reading} lies above {limits}{basis}. Look at "
                                   "the apex and finish it again before cutting.",
                                   {{"reading", reading}, {"limits", limits}, {"basis", basis}})};
        case StartState::too_sharp:
          return StartVerdict{&group, &start,
                              said("Out, too sharp: {reading} lies below {limits}{basis}. A burr "
                                   "that stands up reads like this: look before cutting.",
                                   {{"reading", reading}, {"limits", limits}, {"basis", basis}})};
        default:
          return StartVerdict{&group, &start,
                              said("In: {reading} lies within {limits}{basis}.",
                                   {{"reading", reading}, {"limits", limits}, {"basis", basis}})};
      }
    }
  return std::nullopt;
}

}  // namespace bq::inline bluntness
