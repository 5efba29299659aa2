#include "trial/trial.h"

#include <algorithm>
#include <set>

#include "quantity/number.h"
#include "quantity/said.h"
#include "trial/bench_stage.h"

namespace bq::inline trial {

std::string_view name_of(CutMode mode) {
  switch (mode) {
    case CutMode::slice:
      return "slice";
    case CutMode::push:
      return "push";
    case CutMode::chop:
      return "chop";
  }
  return "";
}

std::optional<CutMode> parse_cut_mode(std::string_view text) {
  for (const CutMode mode : {CutMode::slice, CutMode::push, CutMode::chop})
    if (text == name_of(mode)) return mode;
  return std::nullopt;
}

std::string print_factor_value(const FactorValue& value) {
  if (const auto* number = std::get_if<double>(&value)) return print_number(*number, 12);
  return std::get<std::string>(value);
}

std::optional<double> level_number(std::string_view text, CommaRule commas) {
  const std::size_t first = text.find_first_not_of("+-");
  if (first != std::string_view::npos && text[first] == '0' && first + 1 < text.size() &&
      text[first + 1] >= '0' && text[first + 1] <= '9')
    return std::nullopt;
  const auto number = parse_number(text, commas);
  return number ? std::optional(*number) : std::nullopt;
}

LabelId LabelTable::id_of(std::string_view text) {
  const auto [place, added] = ids_.try_emplace(std::string(text), LabelId(texts_.size()));
  if (added) texts_.emplace_back(text);
  return place->second;
}

std::string_view name_of(RunState state) {
  switch (state) {
    case RunState::planned:
      return "planned";
    case RunState::running:
      return "in trial";
    case RunState::done:
      return "done";
  }
  return "";
}

RunState state_of(const Run& run) {
  if (is_stopped(run)) return RunState::done;
  if (run.readings.empty() && run.cuts_done == 0) return RunState::planned;
  return next_step(run).kind == StepKind::finished ? RunState::done : RunState::running;
}

void share_steels(Trial& trial) {
  std::map<std::string, std::set<std::string>> said;  // of each blade, by its runs
  for (const auto& run : trial.runs)
    if (!run.facts.steel.empty()) said[run.facts.blade].insert(run.facts.steel);
  std::map<std::string, std::string> known;
  for (auto& blade : trial.blades) {
    const auto& of_runs = said[blade.name];
    if (blade.steel.empty() && of_runs.size() == 1) blade.steel = *of_runs.begin();
    known[blade.name] = blade.steel;
  }
  for (auto& run : trial.runs)
    if (run.facts.steel.empty() && !run.facts.blade.empty())
      run.facts.steel = known[run.facts.blade];
}

Trial without_readings(const Trial& trial) {
  Trial out;
  out.title = trial.title;
  out.unit_of_whole = trial.unit();
  out.blades = trial.blades;
  out.steels = trial.steels;
  out.media = trial.media;
  out.micrographs = trial.micrographs;
  out.scales = trial.scales;
  out.runs.reserve(trial.runs.size());
  for (const auto& run : trial.runs) {
    Run bare;
    bare.id = run.id;
    bare.facts = run.facts;
    bare.plan = run.plan;
    bare.cuts_done = run.cuts_done;
    out.runs.push_back(std::move(bare));
  }
  return out;
}

std::vector<std::string> work_of_runs(const Trial& trial) {
  std::map<std::string, std::set<CutMode>> ways;
  // What is only planned does not rename the work that was done.
  for (const auto& run : trial.runs)
    if (run.facts.cut_mode && run.cuts_done > 0) ways[run.facts.medium].insert(*run.facts.cut_mode);
  std::vector<std::string> out;
  out.reserve(trial.runs.size());
  for (const auto& run : trial.runs) {
    out.push_back(run.facts.medium);
    if (ways[run.facts.medium].size() < 2) continue;
    out.back() += run.facts.cut_mode ? ", " + std::string(name_of(*run.facts.cut_mode))
                                     : said(", cut not said");
  }
  return out;
}

bool is_in_medium(std::string_view work, std::string_view medium) {
  return work == medium ||
         (work.starts_with(medium) && work.substr(medium.size()).starts_with(", "));
}

std::vector<std::string> steels_of(const Trial& trial) {
  std::set<std::string> steels;
  for (const auto& run : trial.runs)
    if (!run.facts.steel.empty()) steels.insert(run.facts.steel);
  for (const auto& blade : trial.blades)
    if (!blade.steel.empty()) steels.insert(blade.steel);
  return {steels.begin(), steels.end()};
}

Unit Trial::unit() const {
  if (unit_of_whole) return *unit_of_whole;
  for (const auto& run : runs)
    if (!run.readings.empty()) return run.readings.front().unit;
  return Unit::gf;
}

std::size_t Trial::reading_count() const {
  std::size_t count = 0;
  for (const auto& run : runs) count += run.readings.size();
  return count;
}

const Run* Trial::find_run(std::string_view name) const {
  const auto found = std::find_if(runs.begin(), runs.end(),
                                  [&](const Run& run) { return run.facts.name == name; });
  return found == runs.end() ? nullptr : &*found;
}

const Blade* Trial::find_blade(std::string_view name) const {
  const auto found = std::find_if(blades.begin(), blades.end(), [&](const Blade& blade) {
    return !name.empty() && blade.name == name;
  });
  return found == blades.end() ? nullptr : &*found;
}

const SteelCard* Trial::steel_card(std::string_view name) const {
  const auto found = std::find_if(steels.begin(), steels.end(),
                                  [&](const SteelCard& card) { return card.name == name; });
  return found == steels.end() ? nullptr : &*found;
}

const MediumCard* Trial::medium_card(std::string_view name) const {
  const auto found = std::find_if(media.begin(), media.end(),
                                  [&](const MediumCard& card) { return card.name == name; });
  return found == media.end() ? nullptr : &*found;
}

}  // namespace bq::inline trial
