#include "workflow/trials_together.h"

#include <algorithm>
#include <filesystem>

#include "quantity/number.h"
#include "quantity/said.h"
#include "workflow/source.h"

namespace bq::inline workflow {
namespace {

/// Cards that say hardnesses further apart than this are of two states of a steel.
constexpr double kSameHardness_hrc = 1;

/// What makes two rows one and the same run, taken from two files.
std::string fingerprint(const LifeRow& row) {
  std::string out = row.facts.name + '\n' + row.work + '\n' + std::to_string(row.cut_to);
  for (const auto& value : {row.cuts.estimate, row.cuts.low, row.cuts.high})
    out += '\n' + (value ? print_number(*value, 15) : std::string());
  return out;
}

/// Which rows of a trial are runs of an earlier one, and of which: the same life to the last digit.
/// A run that was stopped says little by itself: it is the same where others of its trial are, or
/// where there are no others.
class SameRuns {
 public:
  /// Per row the earlier trial's name; "" none. Call it once for each trial, in order.
  std::vector<std::string> in(const TrialLives& trial) {
    std::vector<std::string> out;
    std::set<std::string> copies;  // trials that this one is a copy of, at least in part
    bool only_stopped = true;
    for (const auto& row : trial.table.rows) {
      const auto met = seen_.find(fingerprint(row));
      out.push_back(met == seen_.end() ? std::string() : met->second);
      if (!row.cuts.estimate) continue;
      only_stopped = false;
      copies.insert(out.back());
    }
    for (std::size_t i = 0; i < out.size(); ++i)
      if (!trial.table.rows[i].cuts.estimate && !only_stopped && !copies.contains(out[i]))
        out[i].clear();
    for (const auto& row : trial.table.rows) seen_.emplace(fingerprint(row), trial.name);
    return out;
  }

 private:
  std::map<std::string, std::string> seen_;
};

}  // namespace

std::string trial_of(const LifeRow& row) {
  return print_factor_value(row.facts.factors.at(kTrialTerm));
}

std::set<std::string> trials_in(const LifeTable& table) {
  std::set<std::string> out;
  for (const auto& row : table.rows) out.insert(trial_of(row));
  return out;
}

std::vector<std::map<std::string, std::string>> names_of_steels(
    const std::vector<TrialLives>& trials) {
  // Every hardness that is said of a steel, with the softest one of its state.
  std::map<std::string, std::map<double, double>> states;
  for (const auto& trial : trials)
    for (const auto& card : trial.steels)
      if (card.hardness_hrc) states[card.name][*card.hardness_hrc] = *card.hardness_hrc;
  for (auto& [name, of_steel] : states) {
    double softest = of_steel.begin()->first;
    for (auto& [hardness, state] : of_steel) {
      if (hardness > softest + kSameHardness_hrc) softest = hardness;
      state = softest;
    }
  }
  std::vector<std::map<std::string, std::string>> out(trials.size());
  for (std::size_t t = 0; t < trials.size(); ++t)
    for (const auto& card : trials[t].steels) {
      if (!card.hardness_hrc) continue;
      const auto& of_steel = states.at(card.name);
      if (of_steel.begin()->second != of_steel.rbegin()->second)
        out[t][card.name] =
            card.name + " (" + print_number(of_steel.at(*card.hardness_hrc), 3) + " HRC)";
    }
  return out;
}

Checked<FittedTrial> fitted_trial(const std::string& path, const stats::Work& work) {
  try {
    std::vector<std::string> notes;
    FittedTrial out{"", open_to_read(path, notes).load(), {}};
    out.name =
        out.trial.title.empty() ? std::filesystem::path(path).stem().string() : out.trial.title;
    auto fits = fit_runs(out.trial, {}, work);
    if (!fits) return Refusal{"stopped"};
    out.fits = std::move(*fits);
    return out;
  } catch (const StoreError& error) {
    return Refusal{error.what()};
  }
}

Checked<TrialLives> lives_of(const FittedTrial& fitted, const std::string& threshold,
                             std::optional<Unit> unit) {
  const Unit own = fitted.trial.unit();
  if (unit && kind_of(own) != kind_of(*unit))
    return Refusal{
        said("it is read in {own}, the others in {unit}: they are not put together",
             {{"own", std::string(sign_of(own))}, {"unit", std::string(sign_of(*unit))}})};
  const auto limit = parse_threshold(threshold, own, fitted.fits, true);
  if (!limit) return limit.refusal();
  return lives_of(fitted.name, fitted.trial, fitted.fits, *limit);
}

TrialLives lives_of(const std::string& name, const Trial& trial, const std::vector<RunFit>& fits,
                    const Threshold& limit) {
  return {name, life_table(trial, fits, limit.value), trial.steels,
          print_measure(limit.value, limit.unit, 3)};
}

LifeTable lives_together(const std::vector<TrialLives>& trials,
                         const std::optional<std::string>& work) {
  LifeTable out;
  if (trials.empty()) return out;
  const auto works = media_of(trials.front().table);
  const std::string wanted = work ? *work : (works.empty() ? std::string() : works.front().first);
  const auto names = names_of_steels(trials);
  SameRuns runs;
  for (std::size_t t = 0; t < trials.size(); ++t) {
    const TrialLives& trial = trials[t];
    const auto copies = runs.in(trial);
    for (std::size_t r = 0; r < trial.table.rows.size(); ++r) {
      const LifeRow& row = trial.table.rows[r];
      const std::string name = trial.name + ": " + row.facts.name;
      if (row.work != wanted) {
        out.left_out.push_back(
            {name,
             said("other work ({not_said}), not put together with {runs_that_say}",
                  {{"not_said", row.work.empty() ? said("not said") : row.work},
                   {"runs_that_say", wanted.empty() ? said("runs that say none") : wanted}})});
        continue;
      }
      if (!copies[r].empty()) {
        out.left_out.push_back(
            {name, said("the same run as in {copies}", {{"copies", copies[r]}})});
        continue;
      }
      LifeRow taken = row;
      taken.facts.name = name;
      if (!taken.facts.blade.empty()) taken.facts.blade = trial.name + ": " + row.facts.blade;
      // Factors of one trial's own are not asked of the others.
      taken.facts.factors = {{kTrialTerm, trial.name}};
      if (const auto called = names[t].find(row.facts.steel); called != names[t].end())
        taken.facts.steel = called->second;
      out.rows.push_back(std::move(taken));
    }
    for (const auto& left : trial.table.left_out)
      out.left_out.push_back({trial.name + ": " + left.run, left.reason});
  }
  return out;
}

bool allow_for_trials(LifeTable& table, LifeSpec& spec) {
  const auto trials = trials_in(table);
  const bool again = blades_used_again(table);
  if (again && trials.size() > 1) spec.terms.emplace_back(kTrialTerm);
  spec.random_blade = again || trials.size() > 1;
  if (again || trials.size() < 2) return false;
  for (auto& row : table.rows) row.facts.blade = trial_of(row);
  return true;
}

}  // namespace bq::inline workflow
