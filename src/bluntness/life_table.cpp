#include "bluntness/life_table.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace bq::inline bluntness {

stats::Bounds LifeRow::log_bounds() const {
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

LifeTable life_table(const Trial& trial, const std::vector<RunFit>& fits, double threshold,
                     double level) {
  LifeTable table;
  const std::vector<std::string> work = work_of_runs(trial);
  for (std::size_t i = 0; i < fits.size(); ++i) {
    if (!fits[i].curve) {
      table.left_out.push_back({fits[i].run, fits[i].why_not});
      continue;
    }
    LifeRow row{trial.runs[i].facts,
                cuts_to_threshold(fits[i].curve->fit, fits[i].table, threshold, level), work[i]};
    // A single checkpoint at 0 cuts that is past the threshold bounds nothing on a log scale.
    if (row.cuts.censoring == Censoring::left && !(*row.cuts.high > 0)) {
      table.left_out.push_back({fits[i].run, "dull from the start, read at 0 cuts only"});
      continue;
    }
    table.rows.push_back(std::move(row));
  }
  return table;
}

LifeTable in_medium(const LifeTable& table, const std::string& medium) {
  std::string work = medium;
  for (const auto& [name, count] : media_of(table))  // most rows first
    if (is_in_medium(name, medium)) {
      work = name;
      break;
    }
  if (std::any_of(table.rows.begin(), table.rows.end(),
                  [&](const LifeRow& row) { return row.work == medium; }))
    work = medium;
  LifeTable out;
  out.left_out = table.left_out;
  for (const auto& row : table.rows) {
    if (row.work == work)
      out.rows.push_back(row);
    else
      out.left_out.push_back(
          {row.facts.name, (row.facts.medium == work || is_in_medium(work, row.facts.medium)
                                ? "another way of cutting ("
                                : "in another medium (") +
                               row.work + ")"});
  }
  return out;
}

std::vector<std::pair<std::string, int>> media_of(const LifeTable& table) {
  std::map<std::string, int> counts;
  for (const auto& row : table.rows) ++counts[row.work];
  std::vector<std::pair<std::string, int>> out(counts.begin(), counts.end());
  std::stable_sort(out.begin(), out.end(),
                   [](const auto& a, const auto& b) { return a.second > b.second; });
  return out;
}

}  // namespace bq::inline bluntness
