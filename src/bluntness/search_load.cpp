#include "bluntness/search_load.h"

#include <algorithm>
#include <cmath>

#include "edge/weakest_place.h"
#include "stats/distributions.h"

namespace bq::inline bluntness {
namespace {

constexpr double kScanned_um = 2000;
constexpr int kPlaces = 240;

/// MPa for one N per mm, `distance_um` from the apex.
double stress_of_one(const ApexProfile& section, double depth_mm, double distance_um) {
  const double t_mm = section.thickness_um(distance_um) / 1000;
  return 6 * bending_moment_N({1, depth_mm, 0}, distance_um / 1000) / (t_mm * t_mm);
}

/// Places from the apex's floor to kScanned_um, evenly in their logarithm, with the ends of bevels.
std::vector<double> places_of(const ApexProfile& section) {
  const double from = std::max(1e-3, section.distance_um(kApexFloor_um));
  std::vector<double> out;
  for (int i = 0; i <= kPlaces; ++i)
    out.push_back(from * std::pow(kScanned_um / from, double(i) / kPlaces));
  for (const auto& bevel : section.bevels)
    if (bevel.up_to_um > kApexFloor_um) out.push_back(section.distance_um(bevel.up_to_um));
  std::sort(out.begin(), out.end());
  return out;
}

/// What one block says of ln load.
struct Witness {
  enum class Kind { about, at_least, below } kind = Kind::about;
  double log_load = 0;
};

}  // namespace

double load_to_thickness(const ApexProfile& section, double limit_MPa, double depth_mm,
                         double thickness_um) {
  return limit_MPa / stress_of_one(section, depth_mm, section.distance_um(thickness_um));
}

double first_yield_load(const ApexProfile& section, double limit_MPa, double depth_mm) {
  double worst = 0;
  for (const double place : places_of(section))
    worst = std::max(worst, stress_of_one(section, depth_mm, place));
  return limit_MPa / worst;
}

double yield_thickness_um(const ApexProfile& section, double load_N_per_mm, double limit_MPa,
                          double depth_mm) {
  double out = 0;
  for (const double place : places_of(section))
    if (load_N_per_mm * stress_of_one(section, depth_mm, place) >= limit_MPa)
      out = section.thickness_um(place);
  return out;
}

std::optional<SearchLoad> calibrated_load(const DamageSearch& search, double limit_MPa,
                                          double depth_mm) {
  SearchLoad out;
  std::vector<Witness> witnesses;
  const auto sections = sections_of(search);
  for (std::size_t i = 0; i < search.rounds.size(); ++i) {
    const SearchRound& round = search.rounds[i];
    if (round.cuts <= 0) continue;
    const double first = std::log(first_yield_load(sections[i], limit_MPa, depth_mm));
    if (round.look.found == DamageFound::clean) {
      witnesses.push_back({Witness::Kind::below, first});
      ++out.clean;
      continue;
    }
    ++out.damaged;
    if (const auto damaged = damaged_thickness_um(round))
      witnesses.push_back({Witness::Kind::about, std::log(load_to_thickness(sections[i], limit_MPa,
                                                                            depth_mm, *damaged))});
    else
      witnesses.push_back({Witness::Kind::at_least, first});
  }
  if (out.damaged == 0) return std::nullopt;
  // ln load on a grid, the scatter of blocks averaged over.
  constexpr double kStep = 0.01, kFrom = -7, kTo = 9;
  std::vector<double> weight;
  for (double log_load = kFrom; log_load <= kTo; log_load += kStep) {
    double sum = 0;
    for (double s = 0.05; s < 0.51; s += 0.05) {
      double log_chance = 0;
      for (const auto& witness : witnesses) {
        const double apart = witness.log_load - log_load;
        if (witness.kind == Witness::Kind::about) {
          // A thickness read to a tenth: the load goes with about its power of one and a half.
          const double sd = std::hypot(s, 1.5 * kReadError);
          log_chance += -0.5 * apart * apart / (sd * sd) - std::log(sd);
        } else if (witness.kind == Witness::Kind::at_least) {
          log_chance += stats::normal_log_survival(apart / s);
        } else {
          log_chance += stats::normal_log_survival(-apart / s);
        }
      }
      sum += std::exp(log_chance);
    }
    weight.push_back(sum);
  }
  double total = 0;
  for (const double w : weight) total += w;
  if (!(total > 0)) return std::nullopt;
  const auto quantile = [&](double share) {
    double sum = 0;
    for (std::size_t i = 0; i < weight.size(); ++i) {
      sum += weight[i];
      if (sum >= share * total) return std::exp(kFrom + kStep * double(i));
    }
    return std::exp(kTo);
  };
  out.best_N_per_mm = quantile(0.5);
  out.low_N_per_mm = quantile(0.025);
  out.high_N_per_mm = quantile(0.975);
  return out;
}

}  // namespace bq::inline bluntness
