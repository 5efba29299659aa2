#include "bluntness/life_table.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline bluntness {

stats::Bounds LifeRow::log_bounds() const {
  if (carried) {
    // Equally likely anywhere in an interval of the same SD: the regressions know such bounds, and
    // between a point and a run that is "more than" there is then every step.
    const double more = carried->log_sd * carried->log_sd - usual_log_variance;
    const double half = more > 0 ? std::sqrt(3 * more) : 0;
    if (half < 0.02) return stats::Bounds::exact(carried->log_life);
    const double surely = std::log(*cuts.low);
    const double low = carried->log_life - half;
    return {surely < carried->log_life ? std::max(low, surely) : low, carried->log_life + half};
  }
  switch (cuts.censoring) {
    case Censoring::none:
      return stats::Bounds::exact(std::log(*cuts.estimate));
    case Censoring::right:
      return stats::Bounds::above(std::log(*cuts.low));
    case Censoring::left:
      return stats::Bounds::below(std::log(*cuts.high));
  }
  return {};
}

int LifeTable::right_censored() const {
  return int(std::count_if(rows.begin(), rows.end(), [](const LifeRow& row) {
    return row.cuts.censoring == Censoring::right;
  }));
}

int LifeTable::left_censored() const {
  return int(std::count_if(rows.begin(), rows.end(), [](const LifeRow& row) {
    return row.cuts.censoring == Censoring::left;
  }));
}

int LifeTable::carried_on() const {
  return int(std::count_if(rows.begin(), rows.end(),
                           [](const LifeRow& row) { return row.carried.has_value(); }));
}

std::int64_t longest_cut(const std::vector<LifeRow>& rows) {
  std::int64_t longest = 0;
  for (const auto& row : rows) longest = std::max(longest, row.cut_to);
  return longest;
}

namespace {

/// Who took the readings of a run; empty where nobody is named, or several are.
std::string reader_of(const Trial& trial, const Run& run) {
  std::optional<LabelId> one;
  for (const auto& reading : run.readings) {
    if (reading.excluded) continue;
    if (one && *one != reading.by_operator) return "";
    one = reading.by_operator;
  }
  return one && *one ? trial.labels.text(*one) : "";
}

/// The batch that lay ready when the run's edge was sharpened last; "" nobody said.
std::string batch_of(const Run& run) {
  std::string batch;
  for (const auto& event : run.events)
    if (const auto* prepared = std::get_if<PreparedEvent>(&event.data))
      batch = prepared->medium_batch;
  return batch;
}

/// Lives of stopped runs by the runs of the same work.
void carry_on(LifeTable& table, const std::vector<const RunFit*>& behind, double threshold) {
  std::map<std::string, std::vector<std::size_t>> works;
  for (std::size_t i = 0; i < table.rows.size(); ++i) works[table.rows[i].work].push_back(i);
  for (const auto& [work, members] : works) {
    std::vector<const RunFit*> runs;
    std::vector<CutsToThreshold> lives;
    double usual = 0, exact = 0;
    for (const std::size_t i : members) {
      runs.push_back(behind[i]);
      lives.push_back(table.rows[i].cuts);
      if (lives.back().censoring == Censoring::none && std::isfinite(lives.back().log_variance)) {
        usual += lives.back().log_variance;
        ++exact;
      }
    }
    CarriedLives carried = carry_lives(runs, lives, threshold);
    for (std::size_t k = 0; k < members.size(); ++k) {
      table.rows[members[k]].carried = carried.of[k];
      table.rows[members[k]].usual_log_variance = exact > 0 ? usual / exact : 0;
    }
    if (carried.carried == 0 && carried.why_not.empty()) continue;
    carried.of.clear();
    table.carried.push_back({work, std::move(carried)});
  }
}

}  // namespace

std::string_view name_of(LifeMethod method) {
  return method == LifeMethod::joint ? "joint" : "two-stage";
}

std::optional<LifeMethod> parse_life_method(std::string_view text) {
  for (const auto method : {LifeMethod::joint, LifeMethod::two_stage})
    if (text == name_of(method)) return method;
  return std::nullopt;
}

LifeTable life_table(const Trial& trial, const std::vector<RunFit>& fits, double threshold,
                     double level, LifeMethod method) {
  LifeTable table;
  std::vector<const RunFit*> behind;  // the rows, in order
  const std::vector<std::string> work = work_of_runs(trial);
  for (std::size_t i = 0; i < fits.size(); ++i) {
    if (!fits[i].curve) {
      table.left_out.push_back({fits[i].run, fits[i].why_not});
      continue;
    }
    LifeRow row{trial.runs[i].facts, cuts_to_threshold(fits[i], threshold, level), work[i],
                trial.runs[i].cuts_done};
    if (!fits[i].readings.empty())
      row.cut_to = std::max(row.cut_to, std::int64_t(fits[i].readings.back().cuts));
    // Different hands and batches are differences between the runs like any other.
    const std::pair<const char*, std::string> known[] = {
        {kOperatorTerm, reader_of(trial, trial.runs[i])}, {kBatchTerm, batch_of(trial.runs[i])}};
    for (const auto& [term, name] : known)
      if (!name.empty()) row.facts.factors.try_emplace(term, name);
    // A single checkpoint at 0 cuts that is past the threshold bounds nothing on a log scale.
    if (row.cuts.censoring == Censoring::left && !(*row.cuts.high > 0)) {
      table.left_out.push_back({fits[i].run, "dull from the start, read at 0 cuts only"});
      continue;
    }
    if (row.cuts.censoring == Censoring::right && !(*row.cuts.low > 0)) {
      table.left_out.push_back({fits[i].run, "its readings leave open whether it was ever below"});
      continue;
    }
    table.rows.push_back(std::move(row));
    behind.push_back(&fits[i]);
  }
  if (method == LifeMethod::joint) carry_on(table, behind, threshold);
  return table;
}

std::string carried_sentence(const LifeTable& table) {
  std::string out;
  for (const auto& [work, lives] : table.carried) {
    const std::string where = table.carried.size() > 1 && !work.empty() ? work + ": " : "";
    out += out.empty() ? "" : " ";
    if (!lives.why_not.empty()) {
      out +=
          said("{where}Runs that were stopped before the limit count as \"more than\": {why_not}.",
               {{"where", where}, {"why_not", lives.why_not}});
      continue;
    }
    out += said(
        "{where}Readings and lives in one model: {carried}{run_that_was} carried on to it by the "
        "shape of the others' curves, as far as that is known ({checked} that reached it, cut down "
        "as far: {off_percent} % off, spread {spread} %).",
        {{"where", where},
         {"carried", std::to_string(lives.carried)},
         {"run_that_was", lives.carried == 1
                              ? said(" run that was stopped before the limit is")
                              : said(" runs that were stopped before the limit are")},
         {"checked", std::to_string(lives.checked)},
         {"off_percent", print_number(100 * std::expm1(lives.off), 2)},
         {"spread", print_number(100 * lives.spread, 2)}});
  }
  return out;
}

WorkCounts media_of(const LifeTable& table) {
  std::map<std::string, int> counts;
  for (const auto& row : table.rows) ++counts[row.work];
  WorkCounts out(counts.begin(), counts.end());
  std::stable_sort(out.begin(), out.end(),
                   [](const auto& a, const auto& b) { return a.second > b.second; });
  return out;
}

std::optional<std::string> work_meant(const WorkCounts& works, const std::string& name) {
  std::optional<std::string> way;
  for (const auto& [work, count] : works) {
    if (work == name) return work;
    if (!way && (name.empty() || is_in_medium(work, name))) way = work;
  }
  return way;
}

std::string no_life_seen(const std::vector<LifeRow>& rows) {
  int before = 0, after = 0;
  for (const auto& row : rows) {
    if (row.cuts.censoring == Censoring::none || row.carried) return "";
    ++(row.cuts.censoring == Censoring::left ? before : after);
  }
  const auto runs = [](int n) {
    return std::to_string(n) + (n == 1 ? said(" run") : said(" runs"));
  };
  if (after == 0)
    return said(
        "every run ({runs}) was past the limit at its first reading: their lives are shorter than "
        "that, and no more can be said; take a higher limit, or read earlier",
        {{"runs", runs(before)}});
  if (before == 0)
    return said(
        "no run ({runs}) was seen to reach the limit: each lasts longer than it was cut, and no "
        "more can be said; cut on, or take a lower limit",
        {{"runs", runs(after)}});
  return said(
      "no run was seen to reach the limit: {runs} past it from the start, {runs_2} below it to the "
      "end",
      {{"runs", runs(before)}, {"runs_2", runs(after)}});
}

LifeTable in_medium(const LifeTable& table, const std::string& name) {
  const std::string work = work_meant(media_of(table), name).value_or(name);
  LifeTable out;
  out.left_out = table.left_out;
  for (const auto& one : table.carried)
    if (one.work == work) out.carried.push_back(one);
  for (const auto& row : table.rows) {
    if (row.work == work)
      out.rows.push_back(row);
    else if (is_in_medium(work, row.facts.medium))
      out.left_out.push_back(
          {row.facts.name, said("another way of cutting ({work})", {{"work", row.work}})});
    else
      out.left_out.push_back(
          {row.facts.name, said("in another medium ({work})", {{"work", row.work}}), true});
  }
  return out;
}

}  // namespace bq::inline bluntness
