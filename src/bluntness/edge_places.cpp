#include "bluntness/edge_places.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <set>

#include "quantity/said.h"
#include "stats/distributions.h"

namespace bq::inline bluntness {
namespace {

struct Mean {
  double sum = 0;
  int n = 0;
  [[nodiscard]] double value() const { return sum / n; }
};

/// ln of a place's fresh reading and of its rise, in one run.
struct Rise {
  double fresh = 0, rise = 0;
};
using PlacesOfRun = std::map<std::string, Rise>;

PlacesOfRun places_of(const Trial& trial, const Run& run) {
  std::int64_t last = 0;
  for (const auto& reading : run.readings)
    if (!reading.excluded && reading.station) last = std::max(last, reading.cuts);
  if (last == 0) return {};
  std::map<std::string, std::pair<Mean, Mean>> means;
  for (const auto& reading : run.readings) {
    if (reading.excluded || !reading.station) continue;
    if (reading.cuts != 0 && reading.cuts != last) continue;
    auto& [fresh, end] = means[trial.labels.text(reading.station)];
    Mean& mean = reading.cuts == 0 ? fresh : end;
    mean.sum += std::log(convert(reading.value, reading.unit, trial.unit()));
    ++mean.n;
  }
  PlacesOfRun out;
  for (const auto& [place, mean] : means)
    if (mean.first.n > 0 && mean.second.n > 0)
      out[place] = {mean.first.value(), mean.second.value() - mean.first.value()};
  return out;
}

}  // namespace

Checked<PlacesDulled> dulling_by_place(const Trial& trial, const std::vector<bool>& of_work) {
  std::vector<std::pair<std::string, PlacesOfRun>> runs;
  std::map<std::set<std::string>, int> sets;
  for (std::size_t i = 0; i < trial.runs.size(); ++i) {
    if (!of_work[i]) continue;
    PlacesOfRun places = places_of(trial, trial.runs[i]);
    if (places.size() < 2) continue;
    std::set<std::string> names;
    for (const auto& [place, rise] : places) names.insert(place);
    ++sets[names];
    runs.emplace_back(trial.runs[i].facts.name, std::move(places));
  }
  if (runs.empty())
    return Refusal{said(
        "no run was read at two places of its edge or more, fresh and at its last checkpoint")};
  const auto most = std::max_element(
      sets.begin(), sets.end(), [](const auto& a, const auto& b) { return a.second < b.second; });
  const std::set<std::string>& shared = most->first;
  PlacesDulled out;
  std::vector<const PlacesOfRun*> used;
  for (const auto& [name, places] : runs)
    if (std::all_of(shared.begin(), shared.end(),
                    [&, p = &places](const std::string& place) { return p->contains(place); })) {
      out.runs.push_back(name);
      used.push_back(&places);
    }
  if (used.size() < 3)
    return Refusal{said(
        "fewer than three runs were read at the same places, fresh and at their last checkpoint")};
  const double k = double(shared.size()), n = double(used.size());
  std::vector<double> mean_rise, mean_fresh;
  for (const auto* places : used) {
    double rise = 0, fresh = 0;
    for (const auto& place : shared) {
      rise += places->at(place).rise / k;
      fresh += places->at(place).fresh / k;
    }
    mean_rise.push_back(rise);
    mean_fresh.push_back(fresh);
  }
  double whole = 0;
  for (const double rise : mean_rise) whole += rise / n;
  out.rise = std::exp(whole);
  const double t = stats::t_quantile(1 - 0.025 / k, n - 1);
  for (const auto& place : shared) {
    PlaceDulling one;
    one.place = place;
    double sum = 0, squares = 0, fresh = 0;
    for (std::size_t i = 0; i < used.size(); ++i) {
      const double more = used[i]->at(place).rise - mean_rise[i];
      sum += more;
      squares += more * more;
      fresh += (used[i]->at(place).fresh - mean_fresh[i]) / n;
      one.by_run.push_back(std::exp(more));
    }
    const double mean = sum / n;
    const double error = std::sqrt(std::max(0.0, squares - n * mean * mean) / (n - 1) / n);
    one.fresh_ratio = std::exp(fresh);
    one.ratio = std::exp(mean);
    one.low = std::exp(mean - t * error);
    one.high = std::exp(mean + t * error);
    one.differs = one.low > 1 || one.high < 1;
    out.places.push_back(std::move(one));
  }
  std::sort(out.places.begin(), out.places.end(),
            [](const PlaceDulling& a, const PlaceDulling& b) { return a.ratio > b.ratio; });
  return out;
}

}  // namespace bq::inline bluntness
