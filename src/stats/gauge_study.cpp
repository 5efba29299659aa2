#include "stats/gauge_study.h"

#include <algorithm>
#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/fisher_f.hpp>
#include <cmath>
#include <map>

#include "quantity/said.h"

namespace bq::stats {

Checked<GaugeStudy> gauge_study(const std::vector<GaugeReading>& readings) {
  std::map<std::string, int> parts, operators;
  std::map<std::pair<std::string, std::string>, std::vector<double>> cells;
  for (const auto& reading : readings) {
    if (!std::isfinite(reading.value)) return Refusal{said("a reading is not a finite number")};
    parts.emplace(reading.part, 0);
    operators.emplace(reading.by_operator, 0);
    cells[{reading.part, reading.by_operator}].push_back(reading.value);
  }
  GaugeStudy out;
  out.parts = int(parts.size());
  out.operators = int(operators.size());
  if (out.parts < 2) return Refusal{said("a gauge study needs at least two parts, better ten")};
  out.repeats = int(cells.begin()->second.size());
  if (out.repeats < 2) return Refusal{said("every operator must read every part at least twice")};
  for (const auto& [part, ignored] : parts)
    for (const auto& [by, also_ignored] : operators) {
      const auto found = cells.find({part, by});
      const int count = found == cells.end() ? 0 : int(found->second.size());
      if (count != out.repeats)
        return Refusal{
            said("operator \"{by}\" read part \"{part}\" {count} times, others {repeats} times: "
                 "every operator must read every part equally often",
                 {{"by", by},
                  {"part", part},
                  {"count", std::to_string(count)},
                  {"repeats", std::to_string(out.repeats)}})};
    }
  const double P = out.parts, O = out.operators, R = out.repeats;
  std::map<std::string, double> part_mean, operator_mean;
  double grand = 0, within = 0, squares_part = 0, squares_operator = 0, squares_cells = 0;
  std::map<std::pair<std::string, std::string>, double> cell_mean;
  for (const auto& [key, values] : cells) {
    double mean = 0;
    for (const double value : values) mean += value / R;
    for (const double value : values) within += (value - mean) * (value - mean);
    cell_mean[key] = mean;
    part_mean[key.first] += mean / O;
    operator_mean[key.second] += mean / P;
    grand += mean / (P * O);
  }
  for (const auto& [part, mean] : part_mean)
    squares_part += O * R * (mean - grand) * (mean - grand);
  for (const auto& [by, mean] : operator_mean)
    squares_operator += P * R * (mean - grand) * (mean - grand);
  for (const auto& [key, mean] : cell_mean) {
    const double rest = mean - part_mean[key.first] - operator_mean[key.second] + grand;
    squares_cells += R * rest * rest;
  }
  const double dof_within = P * O * (R - 1), dof_cells = (P - 1) * (O - 1);
  double ms_within = within / dof_within, dof_error = dof_within;
  const double ms_part = squares_part / (P - 1),
               ms_operator = O > 1 ? squares_operator / (O - 1) : 0;
  double var_interaction = 0, ms_below = ms_within;
  if (O > 1) {
    const double ms_cells = squares_cells / dof_cells;
    out.interaction_p =
        ms_within > 0 ? boost::math::cdf(boost::math::complement(
                            boost::math::fisher_f(dof_cells, dof_within), ms_cells / ms_within))
                      : 0.0;
    out.interaction_kept = *out.interaction_p < 0.25;
    if (out.interaction_kept) {
      var_interaction = std::max(0.0, (ms_cells - ms_within) / R);
      ms_below = ms_cells;
    } else {  // pooled into the error
      ms_within = (within + squares_cells) / (dof_within + dof_cells);
      dof_error = dof_within + dof_cells;
      ms_below = ms_within;
    }
  }
  const double var_operator = O > 1 ? std::max(0.0, (ms_operator - ms_below) / (P * R)) : 0;
  const double var_part = std::max(0.0, (ms_part - ms_below) / (O * R));
  const double var_gauge = ms_within + var_operator + var_interaction;
  out.repeatability_sd = std::sqrt(ms_within);
  out.operator_sd = std::sqrt(var_operator);
  out.interaction_sd = std::sqrt(var_interaction);
  out.reproducibility_sd = std::sqrt(var_operator + var_interaction);
  out.part_sd = std::sqrt(var_part);
  out.gauge_sd = std::sqrt(var_gauge);
  out.total_sd = std::sqrt(var_gauge + var_part);
  out.study_variation_percent = out.total_sd > 0 ? 100 * out.gauge_sd / out.total_sd : 0;
  // A gauge without scatter of its own tells more kinds apart than anybody counts.
  constexpr double kMostCategories = 1e6;
  out.distinct_categories =
      out.gauge_sd > 0 ? int(std::clamp(std::floor(std::sqrt(2.0) * out.part_sd / out.gauge_sd),
                                        1.0, kMostCategories))
                       : 1;
  const boost::math::chi_squared chi(dof_error);
  out.repeatability_low = std::sqrt(ms_within * dof_error / boost::math::quantile(chi, 0.975));
  out.repeatability_high = std::sqrt(ms_within * dof_error / boost::math::quantile(chi, 0.025));
  return out;
}

}  // namespace bq::stats
